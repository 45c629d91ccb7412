import { Checkbox } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.checklist;

const KEY = "hakari.forgotten";

function forgotten(): Record<string, number> {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? "{}");
    return kept && typeof kept === "object" ? (kept as Record<string, number>) : {};
  } catch {
    return {};
  }
}

/** What to see to before the first pour; what is forgotten most often comes first. Nothing waits for it. */
export function Checklist({ checks }: { checks: Schemas["CheckView"][] }) {
  const [missed, setMissed] = useState(forgotten);
  const [done, setDone] = useState<string[]>([]);
  const order = [...checks].sort((a, b) => (missed[b.key] ?? 0) - (missed[a.key] ?? 0));
  function forgot(key: string) {
    const next = { ...missed, [key]: (missed[key] ?? 0) + 1 };
    setMissed(next);
    localStorage.setItem(KEY, JSON.stringify(next));
  }
  return (
    <section aria-label={TEXT.beforeTheFirstPour}>
      <h2>{TEXT.beforeTheFirstPour}</h2>
      <ul className="rows points">
        {order.map((c) => (
          <li key={c.key} title={c.why}>
            <Checkbox
              className={done.includes(c.key) ? "over" : undefined}
              checked={done.includes(c.key)}
              onChange={(e) => setDone(e.target.checked ? [...done, c.key] : done.filter((k) => k !== c.key))}
            >
              {c.words}
            </Checkbox>
            <button className="link" title={TEXT.itThenComesFirst} onClick={() => forgot(c.key)}>
              {missed[c.key] ? TEXT.forgot(missed[c.key]) : TEXT.forgot2}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
