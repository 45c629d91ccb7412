import type { Schemas } from "../../api/client";
import { GRAMS_PER_OUNCE } from "../../ui/units";
import { useTyping } from "../../ui/useTyping";
import { useUnits } from "../../ui/useUnits";
import { clock } from "../../ui/words";
import * as table from "./pourTable";
import type { After, Pour, Poured } from "./pourTable";
import { HiddenHead } from "../../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.pourTable;

const EVENTS: [NonNullable<Pour["start_when"]>, string][] = [
  ["level-back", TEXT.levelIsBack],
  ["half", TEXT.atHalf],
  ["drained", "drained"],
];

interface Props {
  plan: Schemas["PlanView"];
  /** Pours and actions set by hand, where there are any. */
  pours: Pour[] | null;
  actions: Schemas["ActionDocument"][] | null | undefined;
  set: (poured: Pick<Poured, "pours" | "actions">) => void;
}

const inView = (table: HTMLElement | null) => table?.scrollIntoView?.({ block: "nearest" });

/** Every pour typed: when, up to how much, over how long, how hard, and what follows it. */
export function PourTable({ plan, pours, actions, set }: Props) {
  const { units } = useUnits();
  const grams = units.mass === "oz" ? GRAMS_PER_OUNCE : 1;
  const t: Poured = {
    pours: pours ?? plan.document.pours!,
    actions: actions ?? plan.document.actions!,
    starts: plan.prediction.pour_starts_s,
  };
  const steeps = Boolean(plan.document.steep);
  const last = t.pours.length - 1;
  const mass = (g: number) => String(Number((g / grams).toFixed(grams === 1 ? 0 : 2)));
  return (
    <div className="pour-table" ref={inView}>
      <div>
        <table aria-label={TEXT.pours}>
          <thead>
            <tr>
              <HiddenHead>{TEXT.pour}</HiddenHead>
              <th>{TEXT.start}</th>
              <th>{TEXT.to(units.mass)}</th>
              <th>{TEXT.overS}</th>
              <th>{TEXT.how}</th>
              <th>{TEXT.where}</th>
              <th>{TEXT.then}</th>
              <HiddenHead>{TEXT.change}</HiddenHead>
            </tr>
          </thead>
          <tbody>
            {t.pours.map((p, i) => (
              <tr key={i}>
                <td className="quiet">{i === 0 && last > 0 && !steeps ? TEXT.bloom : i + 1}</td>
                <td>
                  {i === 0 ? (
                    <span className="figure">0:00</span>
                  ) : (
                    <>
                      {p.start_when ? null : (
                        <Cell
                          label={TEXT.pourStartsAt(i + 1)}
                          value={clock(table.startOf(t, i))}
                          read={table.secondsOf}
                          remedy="Type a time like 1:15."
                          take={(s) => set(table.withStart(t, i, s))}
                        />
                      )}
                      {!steeps && (
                        <select
                          aria-label={TEXT.pourWaitsFor(i + 1)}
                          value={p.start_when ?? ""}
                          onChange={(e) =>
                            set(
                              e.target.value
                                ? table.withEvent(t, i, e.target.value as NonNullable<Pour["start_when"]>)
                                : table.withStart(t, i, Math.round(table.startOf(t, i))),
                            )
                          }
                        >
                          <option value="">{TEXT.atThisTime}</option>
                          {EVENTS.map(([event, words]) => (
                            <option key={event} value={event}>
                              {TEXT.when(words)}
                            </option>
                          ))}
                        </select>
                      )}
                      {p.start_when && <span className="quiet figure"> ≈ {clock(table.startOf(t, i))}</span>}
                    </>
                  )}
                </td>
                <td>
                  {i === last ? (
                    <span className="figure" title={TEXT.allOfTheWaterChangeItAbove}>
                      {mass(table.totalAt(t.pours, i))}
                    </span>
                  ) : (
                    <Cell
                      label={TEXT.pourTo(i + 1)}
                      value={mass(table.totalAt(t.pours, i))}
                      read={(text) => numberOf(text)}
                      remedy="Type the total on the scale."
                      take={(total) => set(table.withTotal(t, i, total * grams))}
                    />
                  )}
                </td>
                <td>
                  <Cell
                    label={TEXT.pourTakes(i + 1)}
                    value={String(Math.round(p.duration_s))}
                    read={(text) => table.secondsOf(text) || null}
                    remedy="Type seconds."
                    take={(s) => set(table.withLength(t, i, s))}
                  />
                </td>
                <td>
                  <select
                    aria-label={TEXT.howPourFalls(i + 1)}
                    value={p.strength}
                    onChange={(e) => set(table.withStrength(t, i, e.target.value as Pour["strength"]))}
                  >
                    <option value="soft">{TEXT.softly}</option>
                    <option value="normal">{TEXT.evenly}</option>
                    <option value="hard">{TEXT.hard}</option>
                  </select>
                </td>
                <td>
                  <select
                    aria-label={TEXT.wherePourFalls(i + 1)}
                    value={p.where ?? "spiral"}
                    onChange={(e) => set(table.withWhere(t, i, e.target.value as Pour["where"]))}
                  >
                    <option value="spiral">{TEXT.inCircles}</option>
                    <option value="centre">{TEXT.inTheMiddle}</option>
                    <option value="edge">{TEXT.alongTheEdge}</option>
                  </select>
                </td>
                <td>
                  <select
                    aria-label={TEXT.afterPour(i + 1)}
                    value={table.afterOf(t, i)}
                    onChange={(e) => set(table.withAfter(t, i, e.target.value as After))}
                  >
                    <option value="">{TEXT.nothing}</option>
                    <option value="swirl">{TEXT.swirl}</option>
                    <option value="stir">{TEXT.stir}</option>
                    <option value="stir-back">{TEXT.stirEachWay}</option>
                  </select>
                </td>
                <td>
                  {i > 0 && (
                    <button
                      className="link"
                      aria-label={TEXT.upPourBeforePour(i + 1, i)}
                      title={TEXT.changePlacesWithThePourAbove}
                      onClick={() => set(table.movedUp(t, i))}
                    >
                      {TEXT.up}
                    </button>
                  )}
                  <button className="link" aria-label={TEXT.splitPour(i + 1)} onClick={() => set(table.split(t, i))}>
                    {TEXT.split}
                  </button>
                  {last > 0 && (
                    <button
                      className="link"
                      aria-label={TEXT.removePour(i + 1)}
                      onClick={() => set(table.removed(t, i))}
                    >
                      {TEXT.remove}
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function numberOf(text: string): number | null {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() && Number.isFinite(value) && value > 0 ? value : null;
}

/** A typed figure of the table; what cannot be read stays as typed, with what to type beside it. */
function Cell(props: {
  label: string;
  value: string;
  read: (text: string) => number | null;
  remedy: string;
  take: (value: number) => void;
}) {
  const { field, typing, wrong } = useTyping(
    props.value,
    (typed) => props.take(props.read(typed)!),
    (typed) => props.read(typed) == null,
  );
  return (
    <>
      <input
        aria-label={props.label}
        className="figure"
        inputMode="decimal"
        autoComplete="off"
        {...field}
        aria-invalid={wrong}
      />
      {wrong && typing !== "" && (
        <span className="trouble" role="alert">
          {props.remedy}
        </span>
      )}
    </>
  );
}
