import { useCallback } from "react";
import { useRephrase } from "../api/touched";
import { useChangeWorkbench, useWorkbench } from "../api/workbench";
import { METRIC, nextChoice, type Units } from "../ui/units";
import { useActions } from "./actions";

/** Goes on to the next choice of units, which stays until it is changed again. */
export function useUnitsChange() {
  const now = useWorkbench().data?.units ?? METRIC;
  const { mutateAsync } = useChangeWorkbench();
  const { notify } = useActions();
  const rephrase = useRephrase();
  return useCallback(() => {
    const [next, words] = nextChoice(now);
    const choose = async (units: Units) => {
      await mutateAsync({ units });
      // The server's sentences name quantities too.
      await rephrase();
    };
    notify(
      words,
      () => choose(now),
      () => choose(next),
    );
    void choose(next);
  }, [now, mutateAsync, notify, rephrase]);
}
