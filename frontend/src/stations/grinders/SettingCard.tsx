import { Modal } from "antd";
import { useState } from "react";
import { useSettingCard } from "../../api/grinders";
import { HiddenHead, Setting, Trouble, Waiting } from "../../ui/parts";

/** The table for the wall: methods by grinders, made from the curves; to print or to keep. */
export function SettingCard({ open, close }: { open: boolean; close: () => void }) {
  const [methods, setMethods] = useState<string[] | null>(null);
  const card = useSettingCard(methods, open);
  const chosen = methods ?? card.data?.rows.map((r) => r.method) ?? [];
  const address = (form: string) =>
    `/api/setting-cards/${form}${methods ? `?methods=${encodeURIComponent(methods.join("|"))}` : ""}`;
  function toggle(method: string) {
    const next = chosen.includes(method) ? chosen.filter((m) => m !== method) : [...chosen, method];
    if (next.length) setMethods(next);
  }
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      title="Setting card for the wall"
      width={Math.min(1200, 340 + 165 * (card.data?.grinders.length ?? 4))}
      destroyOnHidden
    >
      {card.error != null && <Trouble error={card.error} />}
      {!card.data && !card.error && <Waiting>Reading the curves</Waiting>}
      {card.data && (
        <>
          <div className="scrolls">
            <table className="setting-card">
              <thead>
                <tr>
                  <HiddenHead>method</HiddenHead>
                  {card.data.grinders.map((g) => (
                    <th key={g}>{g}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {card.data.rows.map((r) => (
                  <tr key={r.method}>
                    <td>
                      <strong>{r.method}</strong>
                      <br />
                      <span className="quiet">
                        {r.window}, like {r.looks_like}
                      </span>
                    </td>
                    {r.cells.map((c, i) => (
                      <td key={i}>
                        {c.setting ? (
                          <>
                            <span className="set">
                              <Setting value={c.setting} />
                            </span>
                            <br />
                            <span className="quiet">
                              <Setting value={c.fine ?? ""} /> to <Setting value={c.coarse ?? ""} />; {c.sure}
                            </span>
                          </>
                        ) : (
                          <span className="quiet">{c.sure}</span>
                        )}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <details className="around-m">
            <summary className="quiet opens">Which methods</summary>
            <div className="chips above-s">
              {card.data.all_methods.map((m) => (
                <button key={m} className="chip" aria-pressed={chosen.includes(m)} onClick={() => toggle(m)}>
                  {m}
                </button>
              ))}
            </div>
          </details>
          <div className="chips wide">
            <a className="main-act plain" href={address("pdf")} download>
              Print it (PDF)
            </a>
            <a className="link" href={address("png")} download>
              Picture
            </a>
            <a className="link" href={address("csv")} download>
              Table
            </a>
            <span className="quiet">
              Made {card.data.made_on} from measured curves: the middle of each window, its ends, and how sure the
              middle is.
            </span>
          </div>
        </>
      )}
    </Modal>
  );
}
