import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { useChangeWorkbench, useWorkbench } from "../api/workbench";
import { METRIC, nextChoice, type Units } from "../ui/units";
import { useActions } from "./actions";

const WITH_SENTENCES = ["plan-preview", "plan-match", "cup-preview"];

/** Goes on to the next choice of units, which stays until it is changed again. */
export function useUnitsChange() {
  const now = useWorkbench().data?.units ?? METRIC;
  const { mutateAsync } = useChangeWorkbench();
  const { notify } = useActions();
  const queries = useQueryClient();
  return useCallback(() => {
    const [next, words] = nextChoice(now);
    const choose = async (units: Units) => {
      await mutateAsync({ units });
      // The server's sentences name quantities too.
      await queries.invalidateQueries({ predicate: (q) => WITH_SENTENCES.includes(String(q.queryKey[0])) });
    };
    notify(
      words,
      () => choose(now),
      () => choose(next),
    );
    void choose(next);
  }, [now, mutateAsync, notify, queries]);
}
