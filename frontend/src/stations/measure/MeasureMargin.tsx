import { Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { useGrinders, useRefresh } from "../../api/hooks";
import { Finding, Setting, Trouble } from "../../ui/parts";
import { between, halfWidth, percent, whole } from "../../ui/words";

type Sample = Schemas["SampleDetail"];

/** Numbers, findings and remedies of one sample. */
export function MeasureMargin({ sample }: { sample: Sample }) {
  const m = sample.measurement;
  const below = m.mass_below_um["200"];
  return (
    <aside className="margin" aria-label="What was measured">
      <div className="number" data-testid="d50">
        {Math.round(m.d50_um)}
        <span className="unit">µm</span>
      </div>
      <p className="said">
        median by volume of grounds from {whole(m.cut_um)}&nbsp;µm up, {between(m.ci95.d50_um)} nineteen times in twenty
      </p>
      <ul className="rows">
        <li><span>Spread</span><span className="figure">{m.span.toFixed(2)}</span></li>
        <li><span>Under 200 µm</span><span className="figure">{below == null ? "not seen" : percent(below)}</span></li>
        <li title={m.extrapolated.method}>
          <span>Under 100 µm, extrapolated</span>
          <span className="figure">{percent(m.extrapolated.mass_below_um["100"] ?? 0)}</span>
        </li>
        <li><span>Boulders over {whole(m.boulder_um)} µm</span><span className="figure">{percent(m.boulder_share)}</span></li>
        <li><span>Grounds counted</span><span className="figure">{whole(m.particles)}</span></li>
      </ul>
      <ul className="findings">
        <Fits sample={sample} />
        {m.findings.map((f) => (
          <Finding key={f.code + f.message} kind={f.severity === "note" ? "note" : "watch"} title={f.message} detail={f.remedy} />
        ))}
        <MorePhotos sample={sample} />
      </ul>
      <Place sample={sample} />
      <p style={{ marginTop: 12 }}>
        <a className="link" href={`/api/samples/${sample.id}/particles.csv`}>All grounds as CSV</a>
      </p>
    </aside>
  );
}

function Fits({ sample }: { sample: Sample }) {
  const cone = sample.windows.find((w) => w.method === "ribbed-cone");
  const flat = sample.windows.find((w) => w.method === "flat-bottom");
  if (!cone) return null;
  const said = (w: Schemas["WindowView"]) => (w.verdict === "inside" ? "Suits" : w.verdict === "fine" ? "Fine for" : "Coarse for");
  const other = flat && `${said(flat)} the ${flat.label} (${flat.low_um}–${flat.high_um} µm).`;
  return <Finding kind={cone.verdict === "inside" ? "good" : "watch"} title={`${said(cone)} the ${cone.label}`} detail={other} />;
}

function MorePhotos({ sample }: { sample: Sample }) {
  const half = halfWidth(sample.measurement.ci95.d50_um);
  const n = sample.photos.length;
  const then = half * Math.sqrt(n / (n + 3));
  return <Finding kind="note" title={`Three more photos make it ±${whole(then)}\u00a0µm`} detail={`Now ±${whole(half)}: few large grounds carry most of the mass.`} />;
}

/** Say at which setting the sample was ground, so that it becomes a point of that grinder's curve. */
function Place({ sample }: { sample: Sample }) {
  const grinders = useGrinders().data ?? [];
  const refresh = useRefresh();
  const [open, setOpen] = useState(false);
  const [grinder, setGrinder] = useState<number | null>(sample.grinder_id ?? null);
  const [setting, setSetting] = useState(sample.setting ?? "");
  const [error, setError] = useState<unknown>(null);
  if (grinders.length === 0) return null;
  async function save() {
    if (!grinder) return;
    try {
      dataOf(await api.PUT("/api/samples/{id}/place", { params: { path: { id: sample.id } }, body: { grinder_id: grinder, setting } }));
      setError(null);
      setOpen(false);
      await refresh();
    } catch (refusal) {
      setError(refusal);
    }
  }
  if (!open)
    return (
      <p style={{ borderTop: "1px solid var(--hairline)", paddingTop: 12, fontSize: 14 }}>
        {sample.grinder_name ? (
          <>Ground on the {sample.grinder_name} at <Setting value={sample.setting ?? ""} />. </>
        ) : (
          <>Where was it ground? </>
        )}
        <button className="link" onClick={() => setOpen(true)}>{sample.grinder_name ? "Change" : "Say grinder and setting"}</button>
      </p>
    );
  return (
    <form style={{ borderTop: "1px solid var(--hairline)", paddingTop: 12, display: "grid", gap: 8 }} onSubmit={(e) => { e.preventDefault(); void save(); }}>
      <Select aria-label="Grinder" placeholder="Grinder" value={grinder} onChange={setGrinder} options={grinders.map((g) => ({ value: g.id, label: g.name }))} />
      <input aria-label="Setting" placeholder="Setting, as you would write it" value={setting} onChange={(e) => setSetting(e.target.value)} style={{ border: "1px solid var(--hairline)", borderRadius: 6, padding: "7px 10px", background: "none" }} />
      {error != null && <Trouble error={error} />}
      <div style={{ display: "flex", gap: 14 }}>
        <button className="link" type="submit" disabled={!grinder || !setting.trim()}>Keep on its curve</button>
        <button className="link" type="button" onClick={() => setOpen(false)}>Leave</button>
      </div>
    </form>
  );
}
