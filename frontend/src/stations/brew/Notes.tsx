import type { Schemas } from "../../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.notes;

type Name = Schemas["BrewNote"]["what"];

const DURING: [Name, string][] = [
  ["lively-bloom", TEXT.livelyBloom],
  ["dead-bloom", TEXT.deadBloom],
  ["stalled", "stalled"],
  ["channelled", "channelled"],
  ["overflowed", "overflowed"],
  ["spilt", "spilt"],
];
const AFTER: [Name, string][] = [
  ["flat", TEXT.flatBed],
  ["mound", "mound"],
  ["mud", TEXT.mudOnTop],
  ["stranded", TEXT.groundsOnTheWall],
];

// A steep has no bed to look at, and nothing in it stalls.
const OF_A_STEEP = new Set<Name>(["lively-bloom", "dead-bloom", "overflowed", "spilt"]);
// Cold water drives out no gas.
const OF_HOT_WATER = new Set<Name>(["lively-bloom", "dead-bloom"]);

/** What was seen, each in one tap; again takes it back. */
export function Notes({
  notes,
  note,
  over,
  steeps,
  hot,
}: {
  steeps: boolean;
  hot: boolean;
  notes: Schemas["BrewNote"][];
  note: (what: Name, on: boolean) => void;
  over: boolean;
}) {
  const shown = (over ? [...AFTER, ...DURING] : DURING).filter(
    ([what]) => (!steeps || OF_A_STEEP.has(what)) && (hot || !OF_HOT_WATER.has(what)),
  );
  return (
    <section aria-label={TEXT.whatWasSeen} className="brew-notes">
      <h2>{!over ? TEXT.seen : steeps ? TEXT.whatHappened : TEXT.theBedAndWhatHappened}</h2>
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
