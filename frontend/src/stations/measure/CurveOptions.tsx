import { Checkbox, Popover } from "antd";
import type { Schemas } from "../../api/client";
import { distanceFrom } from "../../charts/windows";
import type { CurveChoice } from "../../api/samples";
import { WORDS } from "./words";

const TEXT = WORDS.curveOptions;

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
        label={TEXT.curve}
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
            label={TEXT.weighting}
            value={look.choice.weighting ?? "volume"}
            options={[
              ["volume", TEXT.byVolume],
              ["surface", TEXT.bySurface],
              ["number", TEXT.byNumber],
            ]}
            set={(v) => choose({ weighting: v as "volume" })}
          />
          <Choice
            label={TEXT.diameter}
            value={look.choice.diameter ?? "area"}
            options={[
              ["area", TEXT.equalArea],
              ["sieve", TEXT.asASieve],
            ]}
            set={(v) => choose({ diameter: v as "area" })}
          />
          <button
            className="chip"
            aria-pressed={look.modes}
            onClick={() => set({ ...look, modes: !look.modes })}
            title={modes > 1 ? TEXT.twoModesExplainTheCurveClearly : TEXT.oneModeIsEnoughToExplainThe}
          >
            {modes > 1 ? TEXT.twoModes : TEXT.oneMode}
          </button>
        </>
      )}
      <Popover
        trigger="click"
        placement="topLeft"
        title={TEXT.layOtherSamplesOverThisOne}
        content={<Others look={look} set={set} samples={samples.filter((s) => s.id !== sample.id)} />}
      >
        <button className="chip" aria-pressed={look.over.length > 0}>
          {look.over.length ? TEXT.withMore(look.over.length) : TEXT.compare}
        </button>
      </Popover>
      <Popover
        trigger="click"
        placement="topLeft"
        title={TEXT.whichSizesSuitWhichMethod}
        content={<Methods sample={sample} />}
      >
        <button className="chip">{TEXT.methods}</button>
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
  if (!samples.length) return <p className="quiet">{TEXT.thereIsNoOtherSampleYet}</p>;
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
                ? TEXT.at(s.grinder_name, s.setting)
                : (s.photo_name ?? (s.source === "sieve" ? TEXT.sieves : TEXT.table))}
            </Checkbox>
            <span className="figure">{Math.round(s.d50_um)} µm</span>
          </li>
        );
      })}
    </ul>
  );
}
