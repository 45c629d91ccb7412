import { useState } from "react";
import type { Schemas } from "../../api/client";
import { SettingStep } from "../../ui/SettingStep";
import { troubleWith, Typed } from "../../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.grindAtHand;

interface Props {
  grinder: Schemas["WorkbenchGrinder"];
  steps: Schemas["SettingSteps"] | undefined;
  /** Set the grinder; words like "two clicks finer" will do. */
  turn: (setting: string) => Promise<void>;
}

/** The setting of the grinder at hand: typed, or a step at a time. */
export function GrindAtHand({ grinder, steps, turn }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [error, setError] = useState<unknown>(null);
  async function take(setting: string) {
    try {
      await turn(setting);
      setTyped(null);
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  const done = () => {
    if (typed === null) return;
    if (!typed.trim() || typed.trim() === grinder.setting) {
      setTyped(null);
      setError(null);
    } else void take(typed.trim());
  };
  return (
    <div className="grind-at-hand">
      <Typed
        small
        words
        label={TEXT.settingOfThe(grinder.name)}
        value={typed ?? grinder.setting ?? ""}
        placeholder={TEXT.asOnItsDial}
        onChange={setTyped}
        onBlur={done}
        trouble={troubleWith(error, "setting") ?? troubleWith(error, "words")}
      />
      <SettingStep steps={steps} take={(setting) => void take(setting)} />
    </div>
  );
}
