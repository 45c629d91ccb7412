import { useActions } from "../../app/actions";
import type { Schemas } from "../../api/client";
import { useLearnAfter, useLearning } from "../../api/cups";
import { capital } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.guessing;

/** How well past changes were guessed, and how large each change's effect is here; the learning can be reset. */
export function Guessing() {
  const learnAfter = useLearnAfter();
  const { notify } = useActions();
  const { data: l } = useLearning();
  if (!l || (!l.drawdown && !l.strength && l.levers.length === 0)) return null;
  async function reset(was: number) {
    await learnAfter(null);
    notify(TEXT.learningReset, () => learnAfter(was));
  }
  return (
    <section className="above-l" aria-label={TEXT.accuracyOfPastPredictions}>
      <h2>{TEXT.accuracyOfPastPredictions}</h2>
      <ul className="rows">
        {l.drawdown && (
          <li>
            <span>{TEXT.time}</span>
            <span className="figure">{said(l.drawdown, 0, "s")}</span>
          </li>
        )}
        {l.strength && (
          <li>
            <span>{TEXT.strength}</span>
            <span className="figure">{said(l.strength, 2, "%")}</span>
          </li>
        )}
        {l.levers.map((lever) => (
          <li key={lever.kind}>
            <span>{capital(lever.kind.replaceAll("-", " "))}</span>
            <span>
              {TEXT.ofTheModelsEffectHelpedOf(Math.round(100 * lever.effect_size), lever.helped, lever.tries)}
            </span>
          </li>
        ))}
      </ul>
      {l.levers.length > 0 && (
        <p className="quiet above-s">
          {TEXT.yourSlipsCorrectHowMuchAChange}{" "}
          <button className="link" onClick={() => void reset(l.learns_after)}>
            {TEXT.reset}
          </button>
        </p>
      )}
    </section>
  );
}

const said = (s: Schemas["ScoreView"], digits: number, unit: string) =>
  `${s.typical_off.toFixed(digits)} ${unit} off, ${s.count} ${s.count === 1 ? "cup" : "cups"}`;
