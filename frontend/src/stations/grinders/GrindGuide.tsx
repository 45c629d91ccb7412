import { Checkbox, Form, Modal } from "antd";
import { useState } from "react";
import { type Schemas } from "../../api/client";
import { useGuide, useWindowWrites } from "../../api/grinders";
import { log } from "../../charts/scales";
import { HiddenHead, Trouble, troubleWith, Typed, Waiting } from "../../ui/parts";
import { readNumber, whole } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.grindGuide;

interface Props {
  open: boolean;
  close: () => void;
  shown: string[];
  show: (labels: string[]) => void;
}

/** Which sizes suit which method, where the grind on the bench fits, one's own windows, and what to keep in mind. */
export function GrindGuide({ open, close, shown, show }: Props) {
  const guide = useGuide();
  const [edited, setEdited] = useState<Schemas["WindowRow"] | null>(null);
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.whichGrindSuitsWhat} width={960} destroyOnHidden>
      {guide.error != null && <Trouble error={guide.error} />}
      {!guide.data && !guide.error && <Waiting>{TEXT.fetching}</Waiting>}
      {guide.data && (
        <div className="guide">
          <p className="said">
            {guide.data.size_um
              ? guide.data.fits.length
                ? TEXT.theGrindOnTheBenchMLiesInside(whole(guide.data.size_um), guide.data.fits.length)
                : TEXT.theGrindOnTheBenchMLiesIn(whole(guide.data.size_um))
              : TEXT.noGrindIsOnTheBenchStarting}
          </p>
          {edited && <OwnWindow key={edited.label} row={edited} done={() => setEdited(null)} />}
          <Windows rows={guide.data.windows} size={guide.data.size_um} shown={shown} show={show} edit={setEdited} />
          <div className="guide-notes">
            <section>
              <h3>{TEXT.filterDoseTime}</h3>
              {guide.data.effects.map((e) => (
                <p key={e}>{e}</p>
              ))}
            </section>
            <section>
              <h3>{TEXT.underPressureOrBoiling}</h3>
              {guide.data.pressure.map((e) => (
                <p key={e}>{e}</p>
              ))}
            </section>
            <section>
              <h3>{TEXT.somebodyWantsItGroundStrong}</h3>
              {guide.data.strong.map((e) => (
                <p key={e}>{e}</p>
              ))}
            </section>
          </div>
        </div>
      )}
    </Modal>
  );
}

function Windows({
  rows,
  size,
  shown,
  show,
  edit,
}: {
  rows: Schemas["WindowRow"][];
  size?: number | null;
  shown: string[];
  show: (l: string[]) => void;
  edit: (r: Schemas["WindowRow"]) => void;
}) {
  const x = log([60, 1600], [0, 200]);
  return (
    <table className="guide-table">
      <thead>
        <tr>
          <th title={TEXT.showItOnTheRails}>{TEXT.rails}</th>
          <th>{TEXT.method}</th>
          <th>{TEXT.like}</th>
          <th>{TEXT.contact}</th>
          <th>{TEXT.medianM}</th>
          <HiddenHead>{TEXT.drawn}</HiddenHead>
          <HiddenHead>{TEXT.change}</HiddenHead>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.label} className={r.verdict === "inside" ? "fits" : undefined}>
            <td>
              <Checkbox
                aria-label={TEXT.showOnTheRails(r.label)}
                checked={shown.includes(r.label)}
                onChange={(e) => show(e.target.checked ? [...shown, r.label] : shown.filter((l) => l !== r.label))}
              />
            </td>
            <td>{r.label}</td>
            <td className="quiet">{r.looks_like}</td>
            <td className="quiet">{r.contact}</td>
            <td className="figure">
              {r.low_um <= 40 ? TEXT.under(whole(r.high_um)) : `${whole(r.low_um)}–${whole(r.high_um)}`}
            </td>
            <td>
              <svg width="200" height="18" aria-hidden="true">
                <path d="M0 9H200" stroke="var(--hairline)" />
                <rect
                  x={Math.max(0, x(r.low_um))}
                  width={x(r.high_um) - Math.max(0, x(r.low_um))}
                  y="4"
                  height="10"
                  rx="3"
                  fill={r.own ? "var(--water)" : r.verdict === "inside" ? "var(--celadon)" : "var(--ink-3)"}
                  opacity={r.verdict === "inside" || r.own ? 0.85 : 0.35}
                />
                {size && <path d={`M${x(size)} 0V18`} stroke="var(--persimmon)" strokeWidth="2" />}
              </svg>
            </td>
            <td>
              <button className="link" aria-label={TEXT.changeTheWindowOf(r.label)} onClick={() => edit(r)}>
                {r.own ? TEXT.yours : TEXT.change}
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function OwnWindow({ row, done }: { row: Schemas["WindowRow"]; done: () => void }) {
  const writes = useWindowWrites();
  const [low, setLow] = useState(String(row.low_um)),
    [high, setHigh] = useState(String(row.high_um));
  const [error, setError] = useState<unknown>(null);
  async function run(act: () => Promise<unknown>) {
    try {
      await act();
      done();
    } catch (refusal) {
      setError(refusal);
    }
  }
  const keep = () => writes.keep({ label: row.label, low_um: readNumber(low, "µm"), high_um: readNumber(high, "µm") });
  const reset = () => writes.reset(row.label);
  return (
    <Form onFinish={() => void run(keep)} className="own-window">
      <span>
        {TEXT.yourWindowForThe} <strong>{row.label}</strong>
      </span>
      <Typed
        small
        label={TEXT.from}
        value={low}
        onChange={setLow}
        unit="µm"
        width={100}
        trouble={troubleWith(error, "low_um")}
      />
      <Typed
        small
        label={TEXT.to}
        value={high}
        onChange={setHigh}
        unit="µm"
        width={100}
        trouble={troubleWith(error, "high_um")}
      />
      <button className="chip" type="submit">
        {TEXT.keepMine}
      </button>
      {row.own && (
        <button className="link" type="button" onClick={() => void run(reset)}>
          {TEXT.backTo(whole(row.starting_um[0] ?? 0), whole(row.starting_um[1] ?? 0))}
        </button>
      )}
      <button className="link" type="button" onClick={done}>
        {TEXT.leaveIt}
      </button>
    </Form>
  );
}
