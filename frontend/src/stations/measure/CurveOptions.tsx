import { Checkbox, Popover } from "antd";
import type { Schemas } from "../../api/client";
import { distanceFrom } from "../../charts/windows";
import type { CurveChoice } from "../../api/samples";

export interface CurveLook {
  cumulative: boolean;
  modes: boolean;
  choice: CurveChoice;
  /** Other samples laid over this one. */
  over: number[];
}

interface Props {
  look: CurveLook;
  set: (look: CurveLook) => void;
  samples: Schemas["SampleView"][];
  sample: Schemas["SampleDetail"];
  modes: number;
}

const MOST_OVER = 3;

/** How the curve is drawn. */
export function CurveOptions({ look, set, samples, sample, modes }: Props) {
  const choose = (choice: Partial<CurveChoice>) => set({ ...look, choice: { ...look.choice, ...choice } });
  const classes = sample.source !== "photo";
  return (
    <div className="curve-options">
      <Choice
        label="Curve"
        value={look.cumulative ? "sum" : "density"}
        options={[
          ["density", "density"],
          ["sum", "cumulative"],
        ]}
        set={(v) => set({ ...look, cumulative: v === "sum" })}
      />
      {!classes && (
        <>
          <Choice
            label="Weighting"
            value={look.choice.weighting ?? "volume"}
            options={[
              ["volume", "by volume"],
              ["surface", "by surface"],
              ["number", "by number"],
            ]}
            set={(v) => choose({ weighting: v as "volume" })}
          />
          <Choice
            label="Diameter"
            value={look.choice.diameter ?? "area"}
            options={[
              ["area", "equal area"],
              ["sieve", "as a sieve"],
            ]}
            set={(v) => choose({ diameter: v as "area" })}
          />
          <button
            className="chip"
            aria-pressed={look.modes}
            onClick={() => set({ ...look, modes: !look.modes })}
            title={
              modes > 1
                ? "Two modes explain the curve clearly better than one"
                : "One mode is enough to explain the curve"
            }
          >
            {modes > 1 ? "two modes" : "one mode"}
          </button>
        </>
      )}
      <Popover
        trigger="click"
        placement="topLeft"
        title="Lay other samples over this one"
        content={<Others look={look} set={set} samples={samples.filter((s) => s.id !== sample.id)} />}
      >
        <button className="chip" aria-pressed={look.over.length > 0}>
          {look.over.length ? `with ${look.over.length} more` : "compare"}
        </button>
      </Popover>
      <Popover
        trigger="click"
        placement="topLeft"
        title="Which sizes suit which method"
        content={<Methods sample={sample} />}
      >
        <button className="chip">methods</button>
      </Popover>
    </div>
  );
}

/** All methods' windows, the ones that hold this grind first. */
function Methods({ sample }: Pick<Props, "sample">) {
  const d50 = sample.measurement.d50_um;
  const windows = [...sample.windows].sort((a, b) => distanceFrom(a, d50) - distanceFrom(b, d50));
  return (
    <ul className="rows window-list">
      {windows.map((w) => (
        <li key={w.label}>
          <span className={distanceFrom(w, d50) <= 1 ? "half-bold" : undefined}>{w.label}</span>
          <span className="figure">
            {Math.round(w.low_um)}–{Math.round(w.high_um)} µm
          </span>
        </li>
      ))}
    </ul>
  );
}

function Choice({
  label,
  value,
  options,
  set,
}: {
  label: string;
  value: string;
  options: [string, string][];
  set: (value: string) => void;
}) {
  return (
    <select aria-label={label} value={value} onChange={(e) => set(e.target.value)} className="plain-select">
      {options.map(([v, words]) => (
        <option key={v} value={v}>
          {words}
        </option>
      ))}
    </select>
  );
}

function Others({ look, set, samples }: Pick<Props, "look" | "set" | "samples">) {
  if (!samples.length) return <p className="quiet">There is no other sample yet.</p>;
  return (
    <ul className="rows window-list">
      {samples.slice(0, 20).map((s) => {
        const on = look.over.includes(s.id);
        const next = on ? look.over.filter((k) => k !== s.id) : [...look.over, s.id];
        return (
          <li key={s.id}>
            <Checkbox
              checked={on}
              disabled={!on && look.over.length >= MOST_OVER}
              onChange={() => set({ ...look, over: next })}
            >
              {s.grinder_name
                ? `${s.grinder_name} at ${s.setting}`
                : (s.photos[0]?.file_name ?? (s.source === "sieve" ? "sieves" : "table"))}
            </Checkbox>
            <span className="figure">{Math.round(s.d50_um)} µm</span>
          </li>
        );
      })}
    </ul>
  );
}
