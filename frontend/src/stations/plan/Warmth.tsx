import { Checkbox, Select } from "antd";
import type { Fields } from "./recipe";
import { WORDS } from "./words";

const TEXT = WORDS.warmth;

const MATERIALS: Fields["material"][] = ["plastic", "glass", "ceramic", "metal"];

/** What takes heat from the water: the brewer's material, whether it is warmed, whether a lid is on. */
export function Warmth({
  fields: f,
  set,
  offBoilMin,
}: {
  fields: Fields;
  set: (change: Partial<Fields>) => void;
  offBoilMin: number | null | undefined;
}) {
  return (
    <div className="chips warmth">
      <span className="quiet">{TEXT.madeOf}</span>
      <Select
        aria-label={TEXT.madeOf2}
        size="small"
        value={f.material}
        onChange={(material) => set({ material })}
        popupMatchSelectWidth={false}
        options={MATERIALS.map((m) => ({ value: m, label: m }))}
      />
      <Checkbox checked={f.preheated} onChange={(e) => set({ preheated: e.target.checked })}>
        {TEXT.warmed}
      </Checkbox>
      <Checkbox checked={f.lid} onChange={(e) => set({ lid: e.target.checked })}>
        {TEXT.lidOn}
      </Checkbox>
      {offBoilMin != null && offBoilMin >= 1 && (
        <span className="quiet">{TEXT.theKettleAboutMinOffTheBoil(Math.round(offBoilMin))}</span>
      )}
    </div>
  );
}
