import { useActions } from "../../app/actions";
import { api, dataOf, type Schemas } from "../../api/client";
import { useRefresh } from "../../api/hooks";
import { Finding, Setting, settingText, Trouble } from "../../ui/parts";
import { between, capital, halfWidth, whole } from "../../ui/words";

interface Props {
  grinder: Schemas["GrinderView"];
  setting?: string | null;
  size: number;
  sizeWords: string;
  translation?: Schemas["BenchTranslation"];
  error: unknown;
  measured: boolean;
}

/** The reading on the chosen grinder, its neighbours, and what will differ. */
export function GrindersMargin({ grinder, setting, size, sizeWords, translation: t, error, measured }: Props) {
  const mark = grinder.marks.find((m) => m.setting === setting);
  const title = t ? `${capital(t.source)} on the ${grinder.name}` : `${sizeWords} on the ${grinder.name}`;
  return (
    <aside className="margin" aria-label="The reading">
      <h2>{settingText(title)}</h2>
      <div className="number setting" data-testid="reading">{setting ? <Setting value={setting} /> : "–"}</div>
      <p className="said">
        {mark ? `${whole(mark.d50_um)} µm there; 95 of 100 between ${between([mark.low_um, mark.high_um])}` : "no curve yet"}
      </p>
      {t ? <Neighbours t={t} /> : grinder.marks.length > 0 && <Beside grinder={grinder} setting={setting} />}
      <ul className="findings">
        {t && !t.reachable && <Finding kind="watch" title={`The ${grinder.name} does not reach ${whole(t.target_um)} µm`} detail="This is the end of its dial that comes nearest." />}
        {t?.differs && <Finding kind={t.differs.startsWith("Much") ? "good" : "watch"} title={t.differs.split(":")[0] ?? ""} detail={(t.differs.split(":")[1] ?? "").trim()} />}
        {mark && Math.abs(Math.log(mark.d50_um / size)) > 0.12 && <Finding kind="watch" title="That size is off this dial" detail="The nearest position is shown." />}
        {grinder.points.length < 3 && grinder.points.length > 0 && (
          <Finding kind="note" title={`${grinder.name} rests on ${grinder.points.length} measured ${grinder.points.length === 1 ? "setting" : "settings"}`} detail="One photo at another setting narrows every reading on it." />
        )}
        {!measured && <Finding kind="note" title="No grind is on the bench" detail="Measure a photo, or drag the line to a size." />}
      </ul>
      {error != null && <Trouble error={error} />}
      <Points grinder={grinder} />
    </aside>
  );
}

function Neighbours({ t }: { t: Schemas["BenchTranslation"] }) {
  const [a, b] = t.neighbours;
  const rows = [
    ...(a && a.d50_um < t.d50_um ? [{ ...a, held: false }] : []),
    { setting: t.setting, d50_um: t.d50_um, chance_nearest: t.chance_nearest, held: true },
    ...[a, b].filter((n) => n && n.d50_um >= t.d50_um).map((n) => ({ ...n!, held: false })),
  ];
  if (b && b.d50_um < t.d50_um) rows.unshift({ ...b, held: false });
  return (
    <ul className="rows" aria-label="This position and its neighbours">
      {rows.map((r) => (
        <li key={r.setting} className={r.held ? "held" : undefined}>
          <span><Setting value={r.setting} /></span>
          <span className="figure">{whole(r.d50_um)} µm, {Math.round(100 * r.chance_nearest)} in 100</span>
        </li>
      ))}
    </ul>
  );
}

function Beside({ grinder, setting }: { grinder: Schemas["GrinderView"]; setting?: string | null }) {
  const i = grinder.marks.findIndex((m) => m.setting === setting);
  return (
    <ul className="rows">
      {grinder.marks.slice(Math.max(0, i - 1), i + 2).map((m) => (
        <li key={m.setting} className={m.setting === setting ? "held" : undefined}>
          <span><Setting value={m.setting} /></span>
          <span className="figure">{whole(m.d50_um)} µm</span>
        </li>
      ))}
    </ul>
  );
}

function Points({ grinder }: { grinder: Schemas["GrinderView"] }) {
  const refresh = useRefresh();
  const { tell } = useActions();
  async function remove(p: Schemas["PointView"]) {
    const path = { params: { path: { id: p.id } } };
    dataOf(await api.DELETE("/api/points/{id}", path));
    await refresh();
    tell(`${grinder.name} ${settingText(p.setting)} taken off the curve`, async () => {
      dataOf(await api.POST("/api/points/{id}/restore", path));
      await refresh();
    });
  }
  if (grinder.points.length === 0) return null;
  return (
    <section style={{ marginTop: 18 }}>
      <h2>Its curve rests on</h2>
      <ul className="rows">
        {grinder.points.map((p) => (
          <li key={p.id}>
            <span><Setting value={p.setting} /></span>
            <span className="figure">
              {whole(p.d50_um)} µm ±{whole(halfWidth(p.ci95_um))}
              <button className="icon-act" style={{ padding: "0 0 0 8px", fontSize: 14 }} aria-label={`Take ${p.setting} off the curve`} onClick={() => void remove(p)}>×</button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
