import { Form } from "antd";
import { useState } from "react";
import type { Ask } from "../../api/grinders";
import type { Schemas } from "../../api/client";
import { ApiError } from "../../api/client";
import { Choice } from "../../ui/Choice";

export type Match = NonNullable<Ask["match"]>;

const MATCHES: [Match, string, string][] = [
  ["median", "size", "The same median"],
  ["flow", "flow", "The same time to drain, in the plan on the bench"],
  ["yield", "yield", "The same extraction, in the plan on the bench"],
  ["shape", "shape", "The whole size curve as near as it gets"],
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
          aria-label="A grind in words, a size, or a setting"
          placeholder="medium-fine, two clicks finer, 0.7 mm"
          value={text}
          maxLength={120}
          aria-invalid={Boolean(trouble)}
          onChange={(e) => {
            setText(e.target.value);
            if (!e.target.value) setAsk({ match });
          }}
        />
        <button className="link" type="submit">
          Look it up
        </button>
      </Form>
      <Choice
        label="What shall be the same"
        before={<span className="quiet">same</span>}
        options={MATCHES.map(([value, label, hint]) => ({ value, label, hint }))}
        value={match}
        choose={(value) => setAsk({ ...ask, match: value })}
      />
      <button className="link" onClick={openGuide}>
        Which grind suits what?
      </button>
      <button className="link" onClick={openCard}>
        Setting card
      </button>
      {trouble && (
        <p className="trouble" role="alert">
          {trouble.message} {trouble.remedy}
        </p>
      )}
    </div>
  );
}
