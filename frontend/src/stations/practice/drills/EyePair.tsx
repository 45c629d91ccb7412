import { Key } from "../../../ui/parts";
import { useDrillActions, type Asked } from "./drillParts";

const SIDES = [
  { side: "left", key: "L", label: "Left" },
  { side: "right", key: "R", label: "Right" },
] as const;

/** Two pinches side by side, the difference known to the server alone. */
export function EyePair({ question, verdict, answer, next }: Asked) {
  const finer = question.drill === "finer";
  useDrillActions(
    question.drill,
    verdict,
    next,
    SIDES.map(({ side, key, label }) => ({ key, label: `${label} is it`, inPage: true, run: () => answer(side) })),
  );
  return (
    <div className="thing eye-pair">
      <h1>{finer ? "Which of the two is finer?" : "Which of the two has more small grounds?"}</h1>
      <div className="pair">
        {SIDES.map(({ side, key, label }, i) => (
          <button
            key={side}
            onClick={() => answer(side)}
            disabled={verdict !== null}
            data-right={verdict ? verdict.right === side : undefined}
          >
            <img src={`/api/drill-questions/${question.id}/pictures/${i}`} alt={`Grounds on the ${side}`} />
            <span>
              <Key>{key}</Key>{" "}
              {verdict ? (verdict.right === side ? (finer ? "finer" : "more small ones") : " ") : label}
            </span>
          </button>
        ))}
      </div>
      <p className="drill-say">
        {verdict
          ? `They were ${(verdict.off_percent ?? 0).toFixed(0)} % apart${finer ? " in size" : " in the share of the covered area"}.`
          : finer
            ? "One is shown a little larger than it is, so that the difference is known. The pairs come closer as you get them right."
            : "Small ones are below a third of the median; both are shown so that their medians look alike."}
      </p>
    </div>
  );
}
