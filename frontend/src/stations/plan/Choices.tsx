import { Select } from "antd";
import { useState, type ReactNode } from "react";
import { type Schemas } from "../../api/client";
import { useMethods } from "../../api/plans";
import { troubleWith } from "../../ui/parts";
import { OwnBrewer } from "./OwnBrewer";
import { OptionChoice } from "./StyleOptions";
import { Warmth } from "./Warmth";
import type { Fields } from "./recipe";
import { WORDS } from "./words";

const TEXT = WORDS.choices;

const WAYS: [string, string][] = [
  ["drip", TEXT.pouredThrough],
  ["valve", TEXT.steepedThenDrained],
  ["steep", "steeped"],
  ["tower", TEXT.byDrops],
];

/** Brewer, filter, style and the few choices that a style really has. */
export function Choices({
  fields: f,
  set,
  backToStyle,
  bedMm,
  offBoilMin,
  trouble,
  children,
}: {
  fields: Fields;
  set: (change: Partial<Fields>) => void;
  /** Pours, stirs and steep as the style makes them. */
  backToStyle: () => void;
  bedMm: number;
  offBoilMin: number | null | undefined;
  trouble: unknown;
  children?: ReactNode;
}) {
  const { data } = useMethods();
  const [shaping, setShaping] = useState(false);
  const [opened, setOpened] = useState(false);
  if (!data) return <div className="choices-waiting" />;
  const mine = f.shape ? data.own.find((o) => o.name === f.brewerName) : undefined;
  const styles = data.styles.filter((s) => s.brewers.includes(f.brewer));
  const style = data.styles.find((s) => s.name === f.school);
  const brewer = data.brewers.find((b) => b.name === f.brewer);
  const options = style?.options ?? [];
  // What was changed stays in view.
  const chosen =
    f.lid || options.some((o) => o.minor && (f.options[o.name] ?? o.values[0]!.value) !== o.values[0]!.value);
  const more = opened || chosen;
  function brewIn(chosen: string) {
    const mine = data!.own.find((o) => `own:${o.id}` === chosen);
    const name = mine?.base ?? chosen;
    const next = data!.brewers.find((b) => b.name === name);
    const fits = data!.styles.filter((s) => s.brewers.includes(name));
    const kept = fits.find((s) => s.name === f.school) ?? fits[0];
    set({
      brewer: name,
      shape: mine?.shape ?? null,
      brewerName: mine?.name ?? null,
      filter: null,
      material: (next?.material ?? "plastic") as Fields["material"],
      ...startOf(kept, next, f),
    });
  }
  return (
    <div className="plan-choices">
      <div className="chips">
        <span className="quiet">{TEXT.inThe}</span>
        <Select
          aria-label={TEXT.brewer}
          value={mine ? `own:${mine.id}` : f.brewer}
          onChange={brewIn}
          popupMatchSelectWidth={false}
          className="brewer-choice"
          options={[
            ...WAYS.map(([way, label]) => ({
              label,
              options: data.brewers.filter((b) => b.way === way).map((b) => ({ value: b.name, label: b.label })),
            })),
            ...(data.own.length
              ? [{ label: TEXT.mine, options: data.own.map((o) => ({ value: `own:${o.id}`, label: o.name })) }]
              : []),
          ]}
        />
        <button className="link" onClick={() => setShaping(true)}>
          {TEXT.itsShape}
        </button>
        <span className="quiet">{TEXT.through}</span>
        <Select
          aria-label={TEXT.filter}
          value={f.filter ?? brewer?.filter}
          onChange={(filter) => set({ filter })}
          popupMatchSelectWidth={false}
          className="field-s"
          options={data.filters.map((x) => ({ value: x.name, label: x.label }))}
        />
        <input
          className="lot"
          aria-label={TEXT.lotOfTheFilter}
          placeholder={TEXT.lot}
          title={TEXT.papersOfOneNameDifferByTheir}
          value={f.lot}
          maxLength={40}
          onChange={(e) => set({ lot: e.target.value })}
        />
        <span className="quiet">{TEXT.inTheStyle}</span>
        <Select
          aria-label={TEXT.style}
          value={f.school}
          onChange={(name) =>
            set(
              startOf(
                data.styles.find((s) => s.name === name),
                brewer,
                f,
              ),
            )
          }
          popupMatchSelectWidth={false}
          className="field-m"
          options={styles.map((s) => ({ value: s.name, label: s.label }))}
        />
        {(f.pours || f.changed.actions || f.changed.steep) && (
          <button className="link" onClick={backToStyle}>
            {TEXT.backToTheStylesPours}
          </button>
        )}
      </div>
      {brewer && (
        <OwnBrewer
          open={shaping}
          close={() => setShaping(false)}
          base={brewer}
          shape={f.shape}
          name={f.brewerName}
          mine={mine}
          bedMm={bedMm}
          take={(shape, brewerName) => set({ shape, brewerName, pours: null })}
        />
      )}
      <div className="plan-styles">
        {options
          .filter((o) => !o.minor || more)
          .map((o) => (
            <OptionChoice
              key={o.name}
              option={o}
              value={f.options[o.name]}
              trouble={troubleWith(trouble, `options.${o.name}`)}
              take={(value) => set({ options: { ...f.options, [o.name]: value }, pours: null, changed: {} })}
            />
          ))}
        {more && brewer && brewer.way !== "tower" && <Warmth fields={f} set={set} offBoilMin={offBoilMin} />}
        {(brewer?.way !== "tower" || options.some((o) => o.minor)) && (
          <button className="link" aria-expanded={more} onClick={() => setOpened(!opened)} disabled={chosen}>
            {more ? TEXT.fewerChoices : options.some((o) => o.minor) ? TEXT.pressAndHeat : TEXT.heat}
          </button>
        )}
        {children}
      </div>
    </div>
  );
}

/** A style begins with its own ratio and heat where the last ones are not for it. */
function startOf(
  style: Schemas["RecipeStyleView"] | undefined,
  brewer: Schemas["BrewerView"] | undefined,
  f: Fields,
): Partial<Fields> {
  if (!style) return {};
  const dose = Number(f.dose.replace(",", "."));
  const [low, high] = [
    Math.max(style.dose_g[0]!, brewer?.dose_g[0] ?? 0),
    Math.min(style.dose_g[1]!, brewer?.dose_g[1] ?? Infinity),
  ];
  const outside = !(dose >= low && dose <= high);
  // Between what is small and large for style and brewer, by ratio: 8 to 80 g mean about 25.
  const usual = Math.round(Math.sqrt(low * high));
  return {
    school: style.name,
    options: {},
    pours: null,
    changed: {},
    given: ["dose", "ratio"],
    ratio: String(style.ratio),
    heat: String(style.water_c),
    ...(outside ? { dose: String(usual) } : {}),
    preheated: style.water_c > 50,
  };
}
