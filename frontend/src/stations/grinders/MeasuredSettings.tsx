import { Checkbox } from "antd";
import type { Schemas } from "../../api/client";
import { useGrinderWrites } from "../../api/grinders";
import { useActions } from "../../app/actions";
import { Finding, Setting, settingText } from "../../ui/parts";
import { halfWidth, whole } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.measuredSettings;

type Grinder = Schemas["GrinderView"];

/** What a grinder's curve rests on: measured settings that can be left out, equals, earlier eras, and what to measure next. */
export function MeasuredSettings({ grinder: g }: { grinder: Grinder }) {
  const writes = useGrinderWrites();
  const { notify } = useActions();
  async function use(p: Schemas["PointView"], used: boolean) {
    const put = (value: boolean) => writes.usePoint(p.id, value);
    await put(used);
    notify(
      used ? TEXT.countsAgain(g.name, settingText(p.setting)) : TEXT.leftOut(g.name, settingText(p.setting)),
      () => put(!used),
      () => put(used),
    );
  }
  async function remove(p: Schemas["PointView"]) {
    const off = () => writes.removePoint(p.id);
    await off();
    notify(TEXT.takenOffTheCurve(g.name, settingText(p.setting)), () => writes.restorePoint(p.id), off);
  }
  async function removeEquivalence(e: Schemas["SettingEquivalenceView"]) {
    const off = () => writes.removeEquivalence(e.id);
    await off();
    notify(
      TEXT.isNoLonger(settingText(e.setting), e.other_name, settingText(e.other_setting)),
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
              title={TEXT.doesNotFitTheOthers(settingText(p.setting))}
              detail={TEXT.itLiesStandardDeviationsOff(Math.abs(p.odd_sigmas ?? 0).toFixed(0))}
              act={
                <button className="link" onClick={() => void use(p, false)}>
                  {TEXT.leaveItOut}
                </button>
              }
            />
          ))}
        {g.next && <Finding kind="note" title={TEXT.measureNext(settingText(g.next.setting))} detail={g.next.words} />}
        {g.roasts.map((r) => (
          <Finding
            key={r.roast}
            kind="note"
            title={TEXT.atOneSetting(r.roast, Math.abs(r.percent).toFixed(0), r.percent < 0)}
            detail={TEXT.n95IntervalToFromWhatWas(r.low_percent.toFixed(0), r.high_percent.toFixed(0))}
          />
        ))}
      </ul>
      {(g.points.length > 0 || g.equivalences.length > 0) && (
        <section className="above-l">
          <h2>{TEXT.pointsOfTheCurve}</h2>
          <ul className="rows points">
            {g.points.map((p) => (
              <li key={p.id} className={p.used ? undefined : "unused"}>
                <Checkbox
                  title={p.used ? TEXT.countsForTheCurve : TEXT.leftOut2}
                  checked={p.used}
                  onChange={(e) => void use(p, e.target.checked)}
                  aria-label={TEXT.counts(p.setting)}
                >
                  <Setting value={p.setting} />
                </Checkbox>
                <span className="figure">
                  {whole(p.d50_um)} µm ±{whole(halfWidth(p.ci95_um))}
                  <span className="quiet after-figure">{p.basis === "typed" ? TEXT.typed : p.basis}</span>
                  <button
                    className="icon-act small"
                    aria-label={TEXT.takeOffTheCurve(p.setting)}
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
                    aria-label={TEXT.isNoEqual(e.setting)}
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
      <h2>{TEXT.since(g.era)}</h2>
      <p className="said">
        {g.shifted
          ? g.points.length
            ? TEXT.theOldCurveMovedToFitMeasured(g.points.length === 1)
            : TEXT.notMeasuredSinceTheOldCurve
          : TEXT.itsOwnCurve}
      </p>
      <ul className="rows">
        {g.earlier.map((e, i) => (
          <li key={e.id}>
            <span>{i === 0 ? TEXT.before : e.label}</span>
            <span className="figure">{TEXT.measuredGreyOnTheRail(e.points)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
