import type { Schemas } from "../../api/client";
import { useUnits } from "../../ui/useUnits";
import { WORDS } from "./words";

const TEXT = WORDS.tasteAndAdd;

interface Props {
  /** The cup after each step of water, by the prediction. */
  steps: Schemas["DilutionStepView"][];
  /** How many steps were added; null before any is counted. */
  added: number | null;
  set: (added: number) => void;
}

/** Water into a concentrate, a step at a time, with the cup that it makes. */
export function TasteAndAdd({ steps, added, set }: Props) {
  const { mass } = useUnits();
  const at = steps[added ?? 0];
  const step = steps[1]?.added_g ?? 0;
  if (!at) return null;
  return (
    <div className="taste-add" data-testid="taste-add">
      <button className="chip" disabled={!added} onClick={() => set((added ?? 0) - 1)} aria-label={TEXT.takeAStepBack}>
        −{mass(step)}
      </button>
      <span>
        <b className="figure">{mass(at.added_g)}</b> {TEXT.added} <b className="figure">{mass(at.cup_g)}</b> {TEXT.at}{" "}
        <b className="figure">{at.tds_percent.toFixed(2)} %</b> {TEXT.byThePrediction}
      </span>
      <button
        className="chip"
        disabled={(added ?? 0) + 1 >= steps.length}
        onClick={() => set((added ?? 0) + 1)}
        aria-label={TEXT.addAStepOfWater}
      >
        +{mass(step)}
      </button>
    </div>
  );
}
