import type { Schemas } from "../../api/client";
import { GRAMS_PER_OUNCE } from "../../ui/units";
import { useTyping } from "../../ui/useTyping";
import { useUnits } from "../../ui/useUnits";
import { clock } from "../../ui/words";
import * as table from "./pourTable";
import type { After, Pour, Poured } from "./pourTable";
import { HiddenHead } from "../../ui/parts";

const EVENTS: [NonNullable<Pour["start_when"]>, string][] = [
  ["level-back", "level is back"],
  ["half", "at half"],
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
        <table aria-label="Pours">
          <thead>
            <tr>
              <HiddenHead>pour</HiddenHead>
              <th>start</th>
              <th>to, {units.mass}</th>
              <th>over, s</th>
              <th>how</th>
              <th>where</th>
              <th>then</th>
              <HiddenHead>change</HiddenHead>
            </tr>
          </thead>
          <tbody>
            {t.pours.map((p, i) => (
              <tr key={i}>
                <td className="quiet">{i === 0 && last > 0 && !steeps ? "bloom" : i + 1}</td>
                <td>
                  {i === 0 ? (
                    <span className="figure">0:00</span>
                  ) : (
                    <>
                      {p.start_when ? null : (
                        <Cell
                          label={`Pour ${i + 1} starts at`}
                          value={clock(table.startOf(t, i))}
                          read={table.secondsOf}
                          remedy="Type a time like 1:15."
                          take={(s) => set(table.withStart(t, i, s))}
                        />
                      )}
                      {!steeps && (
                        <select
                          aria-label={`Pour ${i + 1} waits for`}
                          value={p.start_when ?? ""}
                          onChange={(e) =>
                            set(
                              e.target.value
                                ? table.withEvent(t, i, e.target.value as NonNullable<Pour["start_when"]>)
                                : table.withStart(t, i, Math.round(table.startOf(t, i))),
                            )
                          }
                        >
                          <option value="">at this time</option>
                          {EVENTS.map(([event, words]) => (
                            <option key={event} value={event}>
                              when {words}
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
                    <span className="figure" title="All of the water: change it above">
                      {mass(table.totalAt(t.pours, i))}
                    </span>
                  ) : (
                    <Cell
                      label={`Pour ${i + 1} to`}
                      value={mass(table.totalAt(t.pours, i))}
                      read={(text) => numberOf(text)}
                      remedy="Type the total on the scale."
                      take={(total) => set(table.withTotal(t, i, total * grams))}
                    />
                  )}
                </td>
                <td>
                  <Cell
                    label={`Pour ${i + 1} takes`}
                    value={String(Math.round(p.duration_s))}
                    read={(text) => table.secondsOf(text) || null}
                    remedy="Type seconds."
                    take={(s) => set(table.withLength(t, i, s))}
                  />
                </td>
                <td>
                  <select
                    aria-label={`How pour ${i + 1} falls`}
                    value={p.strength}
                    onChange={(e) => set(table.withStrength(t, i, e.target.value as Pour["strength"]))}
                  >
                    <option value="soft">softly</option>
                    <option value="normal">evenly</option>
                    <option value="hard">hard</option>
                  </select>
                </td>
                <td>
                  <select
                    aria-label={`Where pour ${i + 1} falls`}
                    value={p.where ?? "spiral"}
                    onChange={(e) => set(table.withWhere(t, i, e.target.value as Pour["where"]))}
                  >
                    <option value="spiral">in circles</option>
                    <option value="centre">in the middle</option>
                    <option value="edge">along the edge</option>
                  </select>
                </td>
                <td>
                  <select
                    aria-label={`After pour ${i + 1}`}
                    value={table.afterOf(t, i)}
                    onChange={(e) => set(table.withAfter(t, i, e.target.value as After))}
                  >
                    <option value="">nothing</option>
                    <option value="swirl">swirl</option>
                    <option value="stir">stir</option>
                    <option value="stir-back">stir each way</option>
                  </select>
                </td>
                <td>
                  {i > 0 && (
                    <button
                      className="link"
                      aria-label={`Up: pour ${i + 1} before pour ${i}`}
                      title="Change places with the pour above"
                      onClick={() => set(table.movedUp(t, i))}
                    >
                      Up
                    </button>
                  )}
                  <button className="link" aria-label={`Split pour ${i + 1}`} onClick={() => set(table.split(t, i))}>
                    Split
                  </button>
                  {last > 0 && (
                    <button
                      className="link"
                      aria-label={`Remove pour ${i + 1}`}
                      onClick={() => set(table.removed(t, i))}
                    >
                      Remove
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
