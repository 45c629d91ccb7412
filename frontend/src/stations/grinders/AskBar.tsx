import { Form } from "antd";
import { useState } from "react";
import type { Ask } from "../../api/grinders";
import type { Schemas } from "../../api/client";
import { ApiError } from "../../api/client";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.askBar;

export type Match = NonNullable<Ask["match"]>;

const MATCHES: [Match, string, string][] = [
  ["median", "size", TEXT.theSameMedian],
  ["flow", "flow", TEXT.theSameTimeToDrainInThePlan],
  ["yield", "yield", TEXT.theSameExtractionInThePlan],
  ["shape", "shape", TEXT.theWholeSizeCurveAsNearAs],
];

interface Props {
  ask: Ask;
  setAsk: (ask: Ask) => void;
  grinders: Schemas["GrinderView"][];
  error: unknown;
  openGuide: () => void;
  openCard: () => void;
}

/** What to look for, in words, a size or a setting, and what shall be the same on the other dial. */
export function AskBar({ ask, setAsk, grinders, error, openGuide, openCard }: Props) {
  const [text, setText] = useState("");
  const match = ask.match ?? "median";
  const trouble = error instanceof ApiError ? error : null;
  function look() {
    const words = text.trim();
    if (!words) return setAsk({ match });
    const named = grinders.find((g) => words.toLowerCase().startsWith(`${g.name.toLowerCase()} `));
    setAsk(
      named ? { match, grinder_id: named.id, setting: words.slice(named.name.length + 1).trim() } : { match, words },
    );
  }
  return (
    <div className="ask-bar">
      <Form
        onFinish={() => {
          look();
          (document.activeElement as HTMLElement | null)?.blur();
        }}
      >
        <input
          aria-label={TEXT.aGrindInWordsASizeOrASetting}
          placeholder={TEXT.mediumFineTwoClicksFiner0}
          value={text}
          maxLength={120}
          aria-invalid={Boolean(trouble)}
          onChange={(e) => {
            setText(e.target.value);
            if (!e.target.value) setAsk({ match });
          }}
        />
        <button className="link" type="submit">
          {TEXT.lookItUp}
        </button>
      </Form>
      <Choice
        label={TEXT.whatShallBeTheSame}
        before={<span className="quiet">{TEXT.same}</span>}
        options={MATCHES.map(([value, label, hint]) => ({ value, label, hint }))}
        value={match}
        choose={(value) => setAsk({ ...ask, match: value })}
      />
      <button className="link" onClick={openGuide}>
        {TEXT.whichGrindSuitsWhat}
      </button>
      <button className="link" onClick={openCard}>
        {TEXT.settingCard}
      </button>
      {trouble && (
        <p className="trouble" role="alert">
          {trouble.message} {trouble.remedy}
        </p>
      )}
    </div>
  );
}
