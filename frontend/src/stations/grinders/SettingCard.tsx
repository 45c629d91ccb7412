import { Modal } from "antd";
import { useState } from "react";
import { useSettingCard } from "../../api/grinders";
import { HiddenHead, Setting, Trouble, Waiting } from "../../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.settingCard;

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
      title={TEXT.settingCardForTheWall}
      width={Math.min(1200, 340 + 165 * (card.data?.grinders.length ?? 4))}
      destroyOnHidden
    >
      {card.error != null && <Trouble error={card.error} />}
      {!card.data && !card.error && <Waiting>{TEXT.readingTheCurves}</Waiting>}
      {card.data && (
        <>
          <div className="scrolls">
            <table className="setting-card">
              <thead>
                <tr>
                  <HiddenHead>{TEXT.method}</HiddenHead>
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
                      <span className="quiet">{TEXT.like(r.window, r.looks_like)}</span>
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
                              <Setting value={c.fine ?? ""} /> {TEXT.to} <Setting value={c.coarse ?? ""} />; {c.sure}
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
            <summary className="quiet opens">{TEXT.whichMethods}</summary>
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
              {TEXT.printItPdf}
            </a>
            <a className="link" href={address("png")} download>
              {TEXT.picture}
            </a>
            <a className="link" href={address("csv")} download>
              {TEXT.table}
            </a>
            <span className="quiet">{TEXT.madeFromMeasuredCurvesThe(card.data.made_on)}</span>
          </div>
        </>
      )}
    </Modal>
  );
}
