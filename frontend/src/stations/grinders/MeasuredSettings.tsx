import { Checkbox } from "antd";
import type { Schemas } from "../../api/client";
import { useGrinderWrites } from "../../api/grinders";
import { useActions } from "../../app/actions";
import { Finding, Setting, settingText } from "../../ui/parts";
import { halfWidth, whole } from "../../ui/words";

type Grinder = Schemas["GrinderView"];

/** What a grinder's curve rests on: measured settings that can be left out, equals, earlier eras, and what to measure next. */
export function MeasuredSettings({ grinder: g }: { grinder: Grinder }) {
  const writes = useGrinderWrites();
  const { notify } = useActions();
  async function use(p: Schemas["PointView"], used: boolean) {
    const put = (value: boolean) => writes.usePoint(p.id, value);
    await put(used);
    notify(
      used ? `${g.name} ${settingText(p.setting)} counts again` : `${g.name} ${settingText(p.setting)} left out`,
      () => put(!used),
      () => put(used),
    );
  }
  async function remove(p: Schemas["PointView"]) {
    const off = () => writes.removePoint(p.id);
    await off();
    notify(`${g.name} ${settingText(p.setting)} taken off the curve`, () => writes.restorePoint(p.id), off);
  }
  async function removeEquivalence(e: Schemas["SettingEquivalenceView"]) {
    const off = () => writes.removeEquivalence(e.id);
    await off();
    notify(
      `${settingText(e.setting)} is no longer ${e.other_name} ${settingText(e.other_setting)}`,
      () => writes.restoreEquivalence(e.id),
      off,
    );
  }
  return (
    <>
      <ul className="findings">
        {g.points
          .filter((p) => p.odd)
          .map((p) => (
            <Finding
              key={p.id}
              kind="watch"
              title={`${settingText(p.setting)} does not fit the others`}
              detail={`It lies ${Math.abs(p.odd_sigmas ?? 0).toFixed(0)} standard deviations off their curve: another setting, or another roast?`}
              act={
                <button className="link" onClick={() => void use(p, false)}>
                  Leave it out
                </button>
              }
            />
          ))}
        {g.next && <Finding kind="note" title={`Measure ${settingText(g.next.setting)} next`} detail={g.next.words} />}
        {g.roasts.map((r) => (
          <Finding
            key={r.roast}
            kind="note"
            title={`${r.roast}: ${Math.abs(r.percent).toFixed(0)} % ${r.percent < 0 ? "finer" : "coarser"} at one setting`}
            detail={`95 % interval ${r.low_percent.toFixed(0)} to ${r.high_percent.toFixed(0)} %, from what was measured of both roasts.`}
          />
        ))}
      </ul>
      {(g.points.length > 0 || g.equivalences.length > 0) && (
        <section className="above-l">
          <h2>Points of the curve</h2>
          <ul className="rows points">
            {g.points.map((p) => (
              <li key={p.id} className={p.used ? undefined : "unused"}>
                <Checkbox
                  title={p.used ? "Counts for the curve" : "Left out"}
                  checked={p.used}
                  onChange={(e) => void use(p, e.target.checked)}
                  aria-label={`${p.setting} counts`}
                >
                  <Setting value={p.setting} />
                </Checkbox>
                <span className="figure">
                  {whole(p.d50_um)} µm ±{whole(halfWidth(p.ci95_um))}
                  <span className="quiet after-figure">{p.basis === "typed" ? "typed" : p.basis}</span>
                  <button
                    className="icon-act small"
                    aria-label={`Take ${p.setting} off the curve`}
                    onClick={() => void remove(p)}
                  >
                    ×
                  </button>
                </span>
              </li>
            ))}
            {g.equivalences.map((e) => (
              <li key={`equal${e.id}`}>
                <span>
                  <Setting value={e.setting} />
                </span>
                <span className="figure">
                  = {e.other_name} <Setting value={e.other_setting} />
                  <button
                    className="icon-act small"
                    aria-label={`${e.setting} is no equal`}
                    onClick={() => void removeEquivalence(e)}
                  >
                    ×
                  </button>
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Eras grinder={g} />
    </>
  );
}

function Eras({ grinder: g }: { grinder: Grinder }) {
  if (g.earlier.length === 0) return null;
  return (
    <section className="above-l">
      <h2>Since: {g.era}</h2>
      <p className="said">
        {g.shifted
          ? g.points.length
            ? `The old curve, moved to fit ${g.points.length === 1 ? "the setting" : "the settings"} measured since. Four make a new one.`
            : "Not measured since: the old curve, less sure. One photo places it again."
          : "Its own curve."}
      </p>
      <ul className="rows">
        {g.earlier.map((e, i) => (
          <li key={e.id}>
            <span>{i === 0 ? "before" : e.label}</span>
            <span className="figure">{e.points} measured, grey on the rail</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
