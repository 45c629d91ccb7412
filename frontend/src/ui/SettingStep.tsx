import type { Schemas } from "../api/client";
import type { Action } from "../app/actions";
import { Setting } from "./parts";
import { clock, whole } from "./words";
import { WORDS } from "./words";

const TEXT = WORDS.settingStep;

type Step = Schemas["StepOutcome"];

/** One step finer, one step coarser, each with what it would do, before it is taken. */
export function SettingStep({
  steps,
  take,
  disabled = false,
}: {
  steps: Schemas["SettingSteps"] | undefined;
  take: (setting: string) => void;
  disabled?: boolean;
}) {
  const here = steps?.steps?.find((s) => s.way === "here");
  if (!here) return null;
  return (
    <section className="setting-step" aria-label={TEXT.oneStep(steps!.grinder ?? "")}>
      {(["finer", "coarser"] as const).map((way) => {
        const step = steps!.steps!.find((s) => s.way === way);
        return (
          <button key={way} className="step" disabled={disabled || !step} onClick={() => step && take(step.setting)}>
            <span className="way">
              {TEXT[way]} {step && <Setting value={step.setting} />}
            </span>
            {step ? (
              effectOf(here, step).map((line) => (
                <span key={line} className="quiet figure">
                  {line}
                </span>
              ))
            ) : (
              <span className="quiet">{TEXT.theDialEnds}</span>
            )}
          </button>
        );
      })}
    </section>
  );
}

/** What changes against the setting at hand: size and time, strength, extraction. */
function effectOf(here: Step, step: Step): string[] {
  const by = (n: number, digits: number) => `${n < 0 ? "−" : "+"}${Math.abs(n).toFixed(digits)}`;
  const seconds = Math.round(step.drawdown_s - here.drawdown_s);
  const time = `${seconds < 0 ? "−" : "+"}${clock(Math.abs(seconds))}`;
  return [
    TEXT.sizeAndTime(whole(step.um), step.stalled ? TEXT.stalls : time),
    TEXT.strength(by(step.tds_percent - here.tds_percent, 2)),
    TEXT.extraction(by(step.ey_percent - here.ey_percent, 1)),
  ];
}

/** The same steps by keys: "[" finer, "]" coarser. */
export function stepActions(steps: Schemas["SettingSteps"] | undefined, take: (setting: string) => void): Action[] {
  return (["finer", "coarser"] as const).flatMap((way) => {
    const step = steps?.steps?.find((s) => s.way === way);
    const label = way === "finer" ? TEXT.oneStepFiner : TEXT.oneStepCoarser;
    return step ? [{ key: way === "finer" ? "[" : "]", label, inPage: true, run: () => take(step.setting) }] : [];
  });
}
