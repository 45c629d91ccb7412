import type { Schemas } from "../../api/client";

type Name = Schemas["BrewNote"]["what"];

const DURING: [Name, string][] = [
  ["lively-bloom", "lively bloom"],
  ["dead-bloom", "dead bloom"],
  ["stalled", "stalled"],
  ["channelled", "channelled"],
  ["overflowed", "overflowed"],
  ["spilt", "spilt"],
];
const AFTER: [Name, string][] = [
  ["flat", "flat bed"],
  ["mound", "mound"],
  ["mud", "mud on top"],
  ["stranded", "grounds on the wall"],
];

/** What was seen, each in one tap; again takes it back. */
export function Notes({
  notes,
  note,
  over,
}: {
  notes: Schemas["BrewNote"][];
  note: (what: Name, on: boolean) => void;
  over: boolean;
}) {
  return (
    <section aria-label="What was seen" className="brew-notes">
      <h2>{over ? "The bed, and what happened" : "Seen?"}</h2>
      <div className="chips">
        {(over ? [...AFTER, ...DURING] : DURING).map(([what, words]) => {
          const on = notes.some((n) => n.what === what);
          return (
            <button key={what} className="chip" aria-pressed={on} onClick={() => note(what, !on)}>
              {words}
            </button>
          );
        })}
      </div>
    </section>
  );
}
