import type { Schemas } from "../../api/client";
import { DialDrawing } from "../../charts/DialDrawing";
import { Finding, Setting, settingText } from "../../ui/parts";
import { between, whole } from "../../ui/words";
import { MeasuredSettings } from "./MeasuredSettings";
import { Margin } from "../../ui/Margin";
import { WORDS } from "./words";

const TEXT = WORDS.grindersMargin;
const STANDS_OUT = 0.15;

interface Props {
  grinder: Schemas["GrinderView"];
  setting?: string | null;
  size: number;
  /** What is read: "Arlsmoor 22", "700 µm", "between the cone and …". */
  source: string;
  answer?: Schemas["WorkbenchTranslation"];
  silent?: Schemas["NotThere"];
  measured: boolean;
  turn: (place: number) => void;
  edit: () => void;
  putAway: () => void;
}

/** The reading on the chosen grinder, its dial to turn, its neighbours, and what will differ. */
export function GrindersMargin({
  grinder,
  setting,
  size,
  source,
  answer: a,
  silent,
  measured,
  turn,
  edit,
  putAway,
}: Props) {
  const mark = grinder.marks.find((m) => m.setting === setting);
  const place = Math.max(0, grinder.settings.indexOf(setting ?? ""));
  return (
    <Margin label={TEXT.theReading}>
      <h2>{settingText(TEXT.onThe(source, grinder.name))}</h2>
      <div className="side-by-side apart middle near">
        <div className={(setting?.length ?? 0) > 5 ? "number setting long" : "number setting"} data-testid="reading">
          {setting ? <Setting value={setting} /> : <span className="unmeasured">{TEXT.notMeasuredYet}</span>}
        </div>
        <div className="dial">
          <DialDrawing dial={grinder.dial} settings={grinder.settings} place={place} turn={turn} size={118} />
        </div>
      </div>
      <p className="said">
        {mark
          ? TEXT.mThere95Interval(whole(mark.d50_um), between([mark.low_um, mark.high_um]))
          : (grinder.no_curve ?? "")}
        {mark?.fines_below_100 != null && (
          <>
            <br />
            {TEXT.about} {(100 * mark.fines_below_100).toFixed(0)} {TEXT.under100M}
            {mark.span != null && TEXT.span(mark.span.toFixed(2))}
          </>
        )}
        {a?.plan && (
          <>
            <br />
            {TEXT.theSame} {a.match} {TEXT.inWord} {a.plan}
          </>
        )}
      </p>
      {a ? <Neighbours a={a} /> : grinder.marks.length > 0 && <Beside grinder={grinder} setting={setting} />}
      <ul className="findings">
        {silent && !grinder.no_curve && <Finding kind="watch" title={silent.message} detail={silent.remedy} />}
        {a && !a.reachable && (
          <Finding
            kind="watch"
            title={TEXT.theDoesNotReachM(grinder.name, whole(a.target_um))}
            detail={TEXT.thisIsTheSettingOfItsDial}
          />
        )}
        {a?.differences.map((d) => (
          <Finding key={d.title} kind={d.matters ? "watch" : "good"} title={d.title} detail={d.expect} />
        ))}
        {a?.assumptions.map((t) => (
          <Finding key={t} kind="note" title={t.charAt(0).toUpperCase() + t.slice(1)} />
        ))}
        {mark && !a && Math.abs(Math.log(mark.d50_um / size)) > 0.12 && (
          <Finding kind="watch" title={TEXT.thatSizeIsOffThisDial} detail={TEXT.theNearestPositionIsShown} />
        )}
        {mark && !mark.usable && (
          <Finding
            kind="watch"
            title={TEXT.theBurrsTouchThere}
            detail={TEXT.theyTouchAtDoNotRunItSoFine(settingText(grinder.dial.zero ?? ""))}
          />
        )}
        {!measured && <Finding kind="note" title={TEXT.noGrindIsOnTheBench} detail={TEXT.measureAPhotoAskInWordsOr} />}
      </ul>
      <MeasuredSettings grinder={grinder} />
      <p className="side-by-side wrap above-l">
        <button className="link" onClick={edit}>
          {TEXT.changeItsDial}
        </button>
        <a className="link" href={`/api/grinders/${grinder.id}/export`} download={`${grinder.name}.json`}>
          {TEXT.saveAsAFile}
        </a>
        <button className="link" onClick={putAway}>
          {TEXT.deleteTheGrinder}
        </button>
      </p>
    </Margin>
  );
}

function Neighbours({ a }: { a: Schemas["WorkbenchTranslation"] }) {
  const rows = [
    ...a.neighbours.map((n) => ({ ...n, held: false })),
    { setting: a.setting, d50_um: a.d50_um, chance_nearest: a.chance_nearest, held: true },
  ].sort((p, q) => p.d50_um - q.d50_um);
  // Where many settings are likely alike, a few per cent of each say nothing.
  const told = a.chance_nearest >= STANDS_OUT;
  return (
    <ul className="rows" aria-label={TEXT.thisPositionAndItsNeighbours}>
      {rows.map((r) => (
        <li key={r.setting} className={r.held ? "held" : undefined}>
          <span>
            <Setting value={r.setting} />
          </span>
          <span className="figure" title={TEXT.probabilityThatThisSetting}>
            {told ? TEXT.mLikely(whole(r.d50_um), Math.round(100 * r.chance_nearest)) : `${whole(r.d50_um)} µm`}
          </span>
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
          <span>
            <Setting value={m.setting} />
          </span>
          <span className="figure">{whole(m.d50_um)} µm</span>
        </li>
      ))}
    </ul>
  );
}
