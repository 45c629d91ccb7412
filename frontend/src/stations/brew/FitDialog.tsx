import { Checkbox, Modal } from "antd";
import { useActions } from "../../app/actions";
import { useCountBrews, useFit } from "../../api/brews";
import { Setting, QueryBoundary } from "../../ui/parts";
import { clock, when } from "../../ui/words";

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
    <Modal open={open} onCancel={close} footer={null} width={760} title="Brews behind the prediction" destroyOnHidden>
      <QueryBoundary query={fit}>
        {f && (
          <div className="fit">
            <p className="quiet">
              {f.brewer}, {f.filter.replace("-", " ")}
              {f.lot && `, lot ${f.lot}`}.{" "}
              {f.counted
                ? `Fitted to ${f.counted} ${f.counted === 1 ? "brew" : "brews"}; the next time still varies by about ${f.brew_spread_percent.toFixed(0)} % from brew to brew.`
                : "No brew counts yet: bed, paper and fines are starting points."}
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
                    <span>Noise of your hand</span>
                    <span>
                      {f.hand.sd_s.toFixed(1)} s{" "}
                      <span className="quiet">
                        {f.hand.repeats === 1
                          ? "from one repeat, which says little"
                          : `from ${f.hand.repeats} repeats; ${f.hand.low_s.toFixed(0)} to ${f.hand.high_s.toFixed(0)} s`}
                      </span>
                    </span>
                  </li>
                )}
              </ul>
            )}
            {f.brews.length === 0 ? (
              <p>
                Brew once with a clock or type the bare bed in the cup; each brew through this kind of brewer and filter
                is listed here.
              </p>
            ) : (
              <table className="guide-table">
                <thead>
                  <tr>
                    <th>counts</th>
                    <th>brewed</th>
                    <th>setting</th>
                    <th>bare bed</th>
                    <th>the fit says</th>
                    <th>weight</th>
                  </tr>
                </thead>
                <tbody>
                  {f.brews.map((b) => (
                    <tr key={b.brew_id}>
                      <td>
                        <Checkbox
                          aria-label={`Brew of ${when(b.brewed_at)} counts`}
                          checked={b.counts}
                          disabled={!b.counts && b.why_not !== "left out"}
                          onChange={() =>
                            void leaveOut(
                              [b.brew_id],
                              !b.counts,
                              b.counts ? "One brew left out" : "One brew counts again",
                            )
                          }
                        />
                      </td>
                      <td>
                        {when(b.brewed_at)}
                        {b.slip_number && <span className="quiet">, slip {b.slip_number}</span>}
                      </td>
                      <td>{b.setting ? <Setting value={b.setting} /> : "by photo"}</td>
                      <td className="figure">{clock(b.bare_bed_s)}</td>
                      <td className="figure">
                        {b.fitted_s != null ? clock(b.fitted_s) : <span className="quiet">{b.why_not}</span>}
                      </td>
                      <td>
                        {b.weight == null
                          ? ""
                          : b.weight > 0.95
                            ? "full"
                            : `${Math.round(100 * b.weight)} %, unlike the rest`}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {counted.length > 0 && (
              <p className="above-m">
                <button className="link" onClick={() => void leaveOut(counted, false, "Fit reset")}>
                  Reset the fit: leave all of these left out
                </button>
              </p>
            )}
          </div>
        )}
      </QueryBoundary>
    </Modal>
  );
}
