import { useQuery } from "@tanstack/react-query";
import { useActions } from "../../app/actions";
import { api, dataOf, type Schemas } from "../../api/client";
import { useRefresh } from "../../api/hooks";
import { capital } from "../../ui/words";

/** How well past changes were guessed, and what the causes learned from them; the learning can be reset. */
export function Guessing() {
  const refresh = useRefresh();
  const { notify } = useActions();
  const { data: l } = useQuery({
    queryKey: ["learning"],
    queryFn: async () => dataOf(await api.GET("/api/cups/learning")),
  });
  if (!l || (!l.drawdown && !l.strength && l.causes.length === 0)) return null;
  async function reset(was: number) {
    const set = async (learns_after: number | null) => {
      dataOf(await api.POST("/api/cups/learning", { body: { learns_after } }));
      await refresh();
    };
    await set(null);
    notify("Learning reset", () => set(was));
  }
  return (
    <section style={{ marginTop: 18 }} aria-label="Accuracy of past predictions">
      <h2>Accuracy of past predictions</h2>
      <ul className="rows">
        {l.drawdown && (
          <li>
            <span>Time</span>
            <span className="figure">{said(l.drawdown, 0, "s")}</span>
          </li>
        )}
        {l.strength && (
          <li>
            <span>Strength</span>
            <span className="figure">{said(l.strength, 2, "%")}</span>
          </li>
        )}
        {l.causes.map((c) => (
          <li key={c.cause}>
            <span>{capital(c.cause.replaceAll("-", " "))}</span>
            <span>
              helped {c.helped} of {c.tries}
            </span>
          </li>
        ))}
      </ul>
      {l.causes.length > 0 && (
        <p className="quiet" style={{ marginTop: 4 }}>
          Causes whose remedies helped weigh more now, within bounds.{" "}
          <button className="link" onClick={() => void reset(l.learns_after)}>
            Reset
          </button>
        </p>
      )}
    </section>
  );
}

const said = (s: Schemas["ScoreView"], digits: number, unit: string) =>
  `${s.typical_off.toFixed(digits)} ${unit} off, ${s.count} ${s.count === 1 ? "prediction" : "predictions"}`;
