import { useMemo } from "react";
import { useWorkbench } from "../api/workbench";
import { METRIC, writer } from "./units";

/** Writes quantities in the units chosen here. */
export function useUnits() {
  const units = useWorkbench().data?.units;
  return useMemo(() => writer(units ?? METRIC), [units]);
}
