import { Key } from "../../../ui/parts";
import { useDrillActions, type Asked } from "./drillParts";
import { WORDS } from "../words";

const TEXT = WORDS.eyePair;

const SIDES = [
  { side: "left", key: "L", label: TEXT.left },
  { side: "right", key: "R", label: TEXT.right },
] as const;

/** Two pinches side by side, the difference known to the server alone. */
export function EyePair({ question, verdict, answer, next }: Asked) {
  const finer = question.drill === "finer";
  useDrillActions(
    question.drill,
    verdict,
    next,
    SIDES.map(({ side, key, label }) => ({ key, label: TEXT.isIt(label), inPage: true, run: () => answer(side) })),
  );
  return (
    <div className="thing eye-pair">
      <h1>{finer ? TEXT.whichOfTheTwoIsFiner : TEXT.whichOfTheTwoHasMoreSmall}</h1>
      <div className="pair">
        {SIDES.map(({ side, key, label }, i) => (
          <button
            key={side}
            onClick={() => answer(side)}
            disabled={verdict !== null}
            data-right={verdict ? verdict.right === side : undefined}
          >
            <img src={`/api/drill-questions/${question.id}/pictures/${i}`} alt={TEXT.groundsOnThe(side)} />
            <span>
              <Key>{key}</Key>{" "}
              {verdict ? (verdict.right === side ? (finer ? TEXT.finer : TEXT.moreSmallOnes) : " ") : label}
            </span>
          </button>
        ))}
      </div>
      <p className="drill-say">
        {verdict
          ? TEXT.theyWereApart((verdict.off_percent ?? 0).toFixed(0), finer)
          : finer
            ? TEXT.oneIsShownALittleLargerThan
            : TEXT.smallOnesAreBelowAThirdOf}
      </p>
    </div>
  );
}
