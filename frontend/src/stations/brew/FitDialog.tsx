import { Checkbox, Modal } from "antd";
import { useActions } from "../../app/actions";
import { useCountBrews, useFit } from "../../api/brews";
import { Setting, QueryBoundary } from "../../ui/parts";
import { clock } from "../../ui/words";
import { dayAndTime } from "../../ui/dates";
import { WORDS } from "./words";

const TEXT = WORDS.fitDialog;

/** What predictions for this brewer and filter rest on: the brews, what they say, and which count. */
export function FitDialog({ open, close }: { open: boolean; close: () => void }) {
  const count = useCountBrews();
  const { notify } = useActions();
  const fit = useFit(open);
  async function leaveOut(ids: number[], counts: boolean, words: string) {
    await count(ids, counts);
    notify(words, () => count(ids, !counts));
  }
  const f = fit.data;
  const counted = f?.brews.filter((b) => b.counts).map((b) => b.brew_id) ?? [];
  return (
    <Modal open={open} onCancel={close} footer={null} width={760} title={TEXT.brewsBehindThePrediction} destroyOnHidden>
      <QueryBoundary query={fit}>
        {f && (
          <div className="fit">
            <p className="quiet">
              {f.brewer}, {f.filter.replace("-", " ")}
              {f.lot && TEXT.lot(f.lot)}.{" "}
              {f.counted
                ? TEXT.fittedToTheNextTimeStillVaries(f.counted, f.counted === 1, f.brew_spread_percent.toFixed(0))
                : TEXT.noBrewCountsYetBedPaperAnd}
            </p>
            {f.rows.length > 0 && (
              <ul className="rows around-m">
                {f.rows.map((r) => (
                  <li key={r.name}>
                    <span>{r.name}</span>
                    <span>
                      {r.words} <span className="quiet figure">±{r.half_width_percent.toFixed(0)} %</span>
                    </span>
                  </li>
                ))}
                {f.hand && (
                  <li>
                    <span>{TEXT.noiseOfYourHand}</span>
                    <span>
                      {f.hand.sd_s.toFixed(1)} s{" "}
                      <span className="quiet">
                        {f.hand.repeats === 1
                          ? TEXT.fromOneRepeatWhichSaysLittle
                          : TEXT.fromRepeatsToS(f.hand.repeats, f.hand.low_s.toFixed(0), f.hand.high_s.toFixed(0))}
                      </span>
                    </span>
                  </li>
                )}
              </ul>
            )}
            {f.brews.length === 0 ? (
              <p>{TEXT.brewOnceWithAClockOrTypeThe}</p>
            ) : (
              <table className="guide-table">
                <thead>
                  <tr>
                    <th>{TEXT.counts}</th>
                    <th>{TEXT.brewed}</th>
                    <th>{TEXT.setting}</th>
                    <th>{TEXT.bareBed}</th>
                    <th>{TEXT.theFitSays}</th>
                    <th>{TEXT.weight}</th>
                  </tr>
                </thead>
                <tbody>
                  {f.brews.map((b) => (
                    <tr key={b.brew_id}>
                      <td>
                        <Checkbox
                          aria-label={TEXT.brewOfCounts(dayAndTime(b.brewed_at))}
                          checked={b.counts}
                          disabled={!b.counts && b.why_not !== "left out"}
                          onChange={() =>
                            void leaveOut(
                              [b.brew_id],
                              !b.counts,
                              b.counts ? TEXT.oneBrewLeftOut : TEXT.oneBrewCountsAgain,
                            )
                          }
                        />
                      </td>
                      <td>
                        {dayAndTime(b.brewed_at)}
                        {b.slip_number && <span className="quiet">{TEXT.slip(b.slip_number)}</span>}
                      </td>
                      <td>{b.setting ? <Setting value={b.setting} /> : TEXT.noSetting}</td>
                      <td className="figure">{clock(b.bare_bed_s)}</td>
                      <td className="figure">
                        {b.fitted_s != null ? clock(b.fitted_s) : <span className="quiet">{b.why_not}</span>}
                      </td>
                      <td>
                        {b.weight == null
                          ? ""
                          : b.weight > 0.95
                            ? TEXT.full
                            : TEXT.unlikeTheRest(Math.round(100 * b.weight))}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {counted.length > 0 && (
              <p className="above-m">
                <button className="link" onClick={() => void leaveOut(counted, false, TEXT.fitReset)}>
                  {TEXT.resetTheFitLeaveAllOfThese}
                </button>
              </p>
            )}
          </div>
        )}
      </QueryBoundary>
    </Modal>
  );
}
