import { useState, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { troubleWith, Typed } from "../../ui/parts";
import { endingWords, type Ending } from "../../ui/steeps";
import { TypedQuantity } from "../../ui/TypedQuantity";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.evidence;

/** What a person says of a brew, as typed and tapped. */
export interface Told {
  bare: string;
  drip: string;
  stalled: boolean;
  tds: string;
  drink: string;
  taste: Record<string, number>;
  /** A second tasting, when it has cooled. */
  cooled: Record<string, number>;
  bed: string[];
  stuck: boolean;
  /** How hard the plunger was pressed. */
  force: NonNullable<Schemas["OutcomeDocument"]["press_force"]> | null;
  water: Schemas["CupEntry"]["water"];
  dirty: boolean;
  /** Spent grounds, dried, as typed. */
  spent: string;
  /** How it was liked, 1 to 5. */
  liked: number | null;
  /** Water added to the finished drink. */
  added: string;
  /** Concentrate that was held back, as typed. */
  back: string;
  /** Free words, to be found again. */
  note: string;
  /** Hours since it was ground, as typed. */
  ground: string;
}

const GROUPS: { title: string; words: string[] }[] = [
  { title: TEXT.under, words: ["sour", "sharp", "thin", "salty"] },
  { title: TEXT.over, words: ["bitter", "drying", "harsh", "heavy", "muddled"] },
  { title: TEXT.overall, words: ["weak", "strong", "hollow", "flat", "papery", "silty", "sweet", "balanced"] },
];
type Asked = Schemas["CupView"]["asked"][number];
const FORCES: [NonNullable<Told["force"]>, string][] = [
  ["gentle", TEXT.wentEasily],
  ["firm", TEXT.tookAFirmPush],
  ["hard", TEXT.pushedHard],
];
const LIKING = [TEXT.notAtAll, TEXT.aLittle, TEXT.soSo, TEXT.much, TEXT.veryMuch];
const STRENGTHS = ["", "a little", "clearly", "strongly"];

function Row({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="told-row">
      <span className="quiet">{title}</span>
      <div className="chips">{children}</div>
    </div>
  );
}

/** Taste by taps (again for stronger), then times, strength and the bed. */
export function Evidence({
  told,
  setTold,
  cup,
  ending,
  trouble,
}: {
  told: Told;
  setTold: (t: Told) => void;
  cup?: Schemas["CupView"];
  ending: Ending | null;
  trouble: unknown;
}) {
  const [ruling, setRuling] = useState(Boolean(told.water || told.dirty || told.ground || told.spent));
  // Before the first answer of the server, what all brews of this ending have.
  const asked: string[] = cup?.asked ?? (ending ? ["ended"] : ["bare-bed", "last-drip", "spent-bed"]);
  const asks = (what: Asked) => asked.includes(what);
  // Silt is asked where something lets it through; what was tapped stays in sight.
  const named = (word: string) => word !== "silty" || asks("silt") || Boolean(told.taste.silty || told.cooled.silty);
  const [cooling, setCooling] = useState(Object.values(told.cooled).some(Boolean));
  const tasting = cooling ? told.cooled : told.taste;
  const tap = (word: string) =>
    setTold({ ...told, [cooling ? "cooled" : "taste"]: { ...tasting, [word]: ((tasting[word] ?? 0) + 1) % 4 } });
  // What was read of the strength leads the tongue: taste first.
  const [untasted, setUntasted] = useState(Boolean(told.tds));
  const ready = untasted || Object.values({ ...told.taste, ...told.cooled }).some(Boolean);
  const sign = (name: string) =>
    setTold({ ...told, bed: told.bed.includes(name) ? told.bed.filter((b) => b !== name) : [...told.bed, name] });
  return (
    <div className="evidence">
      <section aria-label={TEXT.taste} className="stack near">
        {GROUPS.map((g) => (
          <Row key={g.title} title={g.title}>
            {g.words.filter(named).map((w) => (
              <button
                key={w}
                className="chip"
                aria-pressed={Boolean(tasting[w])}
                aria-label={`${w}${tasting[w] ? `, ${STRENGTHS[tasting[w]!]}` : ""}`}
                title={TEXT.tapAgainForStronger}
                onClick={() => tap(w)}
              >
                {w}
                {Boolean(tasting[w]) && (
                  <span className="dots" aria-hidden="true">
                    {"●".repeat(tasting[w]!)}
                  </span>
                )}
              </button>
            ))}
            {g === GROUPS[0] && (
              <Choice
                label={TEXT.whenItWasTasted}
                className="when"
                options={[
                  { value: false, label: TEXT.hot },
                  {
                    value: true,
                    label: Object.values(told.cooled).some(Boolean) ? TEXT.cooled : TEXT.cooled2,
                    hint: TEXT.aCupSaysMoreAsItCoolsItCounts,
                  },
                ]}
                value={cooling}
                choose={setCooling}
              />
            )}
          </Row>
        ))}
        <Row title={TEXT.iLikedIt}>
          {LIKING.map((words, k) => (
            <button
              key={words}
              className="chip"
              aria-pressed={told.liked === k + 1}
              title={words}
              aria-label={TEXT.likingOfFive(k + 1, words)}
              onClick={() => setTold({ ...told, liked: told.liked === k + 1 ? null : k + 1 })}
            >
              {k === 0 || k === 4 ? words : k + 1}
            </button>
          ))}
        </Row>
        {asks("press-force") && (
          <Row title={TEXT.plunger}>
            {FORCES.map(([force, words]) => (
              <button
                key={force}
                className="chip"
                aria-pressed={told.force === force}
                onClick={() => setTold({ ...told, force: told.force === force ? null : force })}
              >
                {words}
              </button>
            ))}
            <button className="chip" aria-pressed={told.stuck} onClick={() => setTold({ ...told, stuck: !told.stuck })}>
              {TEXT.gotStuck}
            </button>
          </Row>
        )}
        {asks("spent-bed") && (
          <Row title={TEXT.spentBed}>
            {cup?.bed_signs.map((b) => (
              <button key={b} className="chip" aria-pressed={told.bed.includes(b)} onClick={() => sign(b)}>
                {b}
              </button>
            ))}
            <button
              className="chip"
              aria-pressed={told.stalled}
              onClick={() => setTold({ ...told, stalled: !told.stalled })}
            >
              {TEXT.itStalled}
            </button>
          </Row>
        )}
        <Row title={TEXT.note}>
          <input
            className="note-field"
            aria-label={TEXT.note2}
            placeholder={TEXT.anythingToFindAgain}
            maxLength={600}
            value={told.note}
            onChange={(e) => setTold({ ...told, note: e.target.value })}
          />
        </Row>
        {!ruling && (
          <button className="chip more" onClick={() => setRuling(true)}>
            {TEXT.moreEvidence}
          </button>
        )}
        {ruling && (
          <Row title={TEXT.otherCauses}>
            {(["hard", "alkaline", "soft"] as const).map((w) => (
              <button
                key={w}
                className="chip"
                aria-pressed={told.water === w}
                onClick={() => setTold({ ...told, water: told.water === w ? null : w })}
              >
                {TEXT.water(w)}
              </button>
            ))}
            <button className="chip" aria-pressed={told.dirty} onClick={() => setTold({ ...told, dirty: !told.dirty })}>
              {TEXT.gearNotCleaned}
            </button>
            <button
              className="chip"
              aria-pressed={told.ground !== ""}
              onClick={() => setTold({ ...told, ground: told.ground ? "" : "36" })}
            >
              {TEXT.groundTheDayBefore}
            </button>
          </Row>
        )}
      </section>
      <section aria-label={TEXT.timesAndStrength} className="measured-fields">
        <Typed
          small
          label={ending ? endingWords(ending).field : TEXT.bareBedAt}
          placeholder={ending ? "4:30" : "2:45"}
          value={told.bare}
          onChange={(bare) => setTold({ ...told, bare })}
          trouble={troubleWith(trouble, "drawdown_s")}
        />
        {asks("last-drip") && (
          <Typed
            small
            label={TEXT.lastDripAt}
            placeholder="3:20"
            value={told.drip}
            onChange={(drip) => setTold({ ...told, drip })}
            trouble={troubleWith(trouble, "last_drip_s")}
          />
        )}
        {ready ? (
          <Typed
            small
            label={TEXT.strengthIfRead}
            placeholder="1.35"
            unit="%"
            value={told.tds}
            onChange={(tds) => setTold({ ...told, tds })}
            trouble={troubleWith(trouble, "tds_percent")}
          />
        ) : (
          <div className="typed small">
            <span className="label">{TEXT.strengthIfRead}</span>
            <button className="link not-tasted" onClick={() => setUntasted(true)}>
              {TEXT.tasteFirstOrSkipThat}
            </button>
          </div>
        )}
        <TypedQuantity
          small
          what="mass"
          label={TEXT.inTheCup}
          placeholder={cup ? Math.round(cup.drink_g).toString() : ""}
          value={told.drink}
          onChange={(drink) => setTold({ ...told, drink })}
          trouble={troubleWith(trouble, "drink_g")}
        />
        {asks("added-water") && (
          <TypedQuantity
            small
            what="mass"
            label={TEXT.waterAdded}
            placeholder={cup ? Math.round(cup.dilution_g).toString() : ""}
            value={told.added}
            onChange={(added) => setTold({ ...told, added })}
            trouble={troubleWith(trouble, "added_water_g")}
          />
        )}
        {asks("held-back") && (
          <TypedQuantity
            small
            what="mass"
            label={TEXT.heldBack}
            placeholder={cup ? Math.round(cup.held_back_g).toString() : ""}
            value={told.back}
            onChange={(back) => setTold({ ...told, back })}
            trouble={troubleWith(trouble, "held_back_g")}
          />
        )}
        {ready && <p className="quiet all-columns small">{TEXT.refractometerZeroedWithWater}</p>}
        {ruling && (
          <TypedQuantity
            small
            what="mass"
            label={TEXT.spentGroundsDried}
            value={told.spent}
            onChange={(spent) => setTold({ ...told, spent })}
            trouble={troubleWith(trouble, "spent_dry_g")}
          />
        )}
      </section>
    </div>
  );
}
