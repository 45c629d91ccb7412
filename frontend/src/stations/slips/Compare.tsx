import { Modal } from "antd";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { HiddenHead, Setting } from "../../ui/parts";
import { howGround, clock } from "../../ui/words";
import type { Writer } from "../../ui/units";
import { useUnits } from "../../ui/useUnits";
import { WORDS } from "./words";

const TEXT = WORDS.compare;

type Slip = Schemas["SlipView"];
export const MOST_COMPARED = 4;

const ROWS: [string, (s: Slip, w: Writer) => string, ((s: Slip) => ReactNode)?][] = [
  ["Coffee", (s) => s.coffee],
  ["Brewer", (s) => s.brewer],
  [
    "Grind",
    (s) => `${s.grinder ?? ""} ${s.setting ?? howGround(s)}`,
    (s) => (
      <>
        {s.grinder} {s.setting ? <Setting value={s.setting} /> : howGround(s)}
      </>
    ),
  ],
  ["Dose", (s, { mass }) => mass(s.dose_g, 1)],
  ["Water", (s, { mass }) => mass(s.water_g)],
  ["Heat", (s, { heat }) => heat(s.water_c)],
  ["Time", (s) => `${s.drawdown_measured ? "" : "~"}${clock(s.drawdown_s)}`],
  ["Strength", (s) => `${s.tds_measured ? "" : "~"}${s.tds_percent.toFixed(2)} %`],
  ["Extraction", (s) => `${s.tds_measured ? "" : "~"}${s.ey_percent.toFixed(1)} %`],
  [
    "Taste",
    (s) =>
      Object.entries(s.taste)
        .map(([w, n]) => `${w} ${n}`)
        .join(", ") || TEXT.notTasted,
  ],
  ["Seen", (s) => s.bed.join(", ") || "–"],
  ["Target", (s) => (s.in_target ? "inside" : "outside")],
];

/** Two to four slips side by side; where they differ is lit. */
export function Compare({ slips, close }: { slips: Slip[]; close: () => void }) {
  const units = useUnits();
  return (
    <Modal
      open={slips.length > 1}
      onCancel={close}
      footer={null}
      width={220 + 190 * slips.length}
      title={TEXT.sideBySide}
      destroyOnHidden
    >
      <table className="compare">
        <thead>
          <tr>
            <HiddenHead>{TEXT.figure}</HiddenHead>
            {slips.map((s) => (
              <th key={s.id}>{TEXT.slip(s.number)}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map(([name, text, drawn]) => {
            const differs = new Set(slips.map((s) => text(s, units))).size > 1;
            return (
              <tr key={name} className={differs ? "differs" : undefined}>
                <th scope="row">
                  {name}
                  {differs && <span className="unseen">{TEXT.differs}</span>}
                </th>
                {slips.map((s) => (
                  <td key={s.id}>{drawn ? drawn(s) : text(s, units)}</td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="quiet above-m">{TEXT.whatDiffersIsInPersimmonWith}</p>
    </Modal>
  );
}
