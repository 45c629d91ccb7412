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

// A steep has no bed to look at, and nothing in it stalls.
const OF_A_STEEP = new Set<Name>(["lively-bloom", "dead-bloom", "overflowed", "spilt"]);

/** What was seen, each in one tap; again takes it back. */
export function Notes({
  notes,
  note,
  over,
  steeps,
}: {
  steeps: boolean;
  notes: Schemas["BrewNote"][];
  note: (what: Name, on: boolean) => void;
  over: boolean;
}) {
  const shown = (over ? [...AFTER, ...DURING] : DURING).filter(([what]) => !steeps || OF_A_STEEP.has(what));
  return (
    <section aria-label="What was seen" className="brew-notes">
      <h2>{!over ? "Seen?" : steeps ? "What happened" : "The bed, and what happened"}</h2>
      <div className="chips">
        {shown.map(([what, words]) => {
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
