import { createContext, useContext, useMemo } from "react";
import { useWorkbench } from "../api/workbench";
import { METRIC, writer, type Units } from "./units";

/** Units that were told otherwise than by the workbench, which a display may not see. */
export const GivenUnits = createContext<Units | null>(null);

/** Writes quantities in the units chosen here. */
export function useUnits() {
  const given = useContext(GivenUnits);
  const units = useWorkbench(given === null).data?.units;
  return useMemo(() => writer(given ?? units ?? METRIC), [given, units]);
}
