import { Checkbox, Select } from "antd";
import type { Fields } from "./recipe";

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
      <span className="quiet">made of</span>
      <Select
        aria-label="Made of"
        size="small"
        value={f.material}
        onChange={(material) => set({ material })}
        popupMatchSelectWidth={false}
        options={MATERIALS.map((m) => ({ value: m, label: m }))}
      />
      <Checkbox checked={f.preheated} onChange={(e) => set({ preheated: e.target.checked })}>
        warmed
      </Checkbox>
      <Checkbox checked={f.lid} onChange={(e) => set({ lid: e.target.checked })}>
        lid on
      </Checkbox>
      {offBoilMin != null && offBoilMin >= 1 && (
        <span className="quiet">the kettle about {Math.round(offBoilMin)} min off the boil, open</span>
      )}
    </div>
  );
}
