import type { Schemas } from "../api/client";
import { useUnits } from "./useUnits";
import { WORDS } from "./words";

const TEXT = WORDS.pourAccuracy;

/** Each pour against what was wanted: seconds late, grams over, and its rate; the same after a brew and in a drill. */
export function PourAccuracy({ accuracy: a, from }: { accuracy: Schemas["AccuracyView"]; from: string }) {
  const { mass, rateFigure, rateUnit } = useUnits();
  const signedMass = (g: number) => `${g >= 0 ? "+" : "−"}${mass(Math.abs(g), 1)}`;
  return (
    <section aria-label={TEXT.yourHand} className="above-l">
      <h2>{TEXT.yourPoursByThe(from === "scale")}</h2>
      <ul className="rows">
        {a.pours.map((e, i) => (
          <li key={i}>
            <span>{i + 1}</span>
            <span className="figure">
              {signed(e.late_s)} s&ensp;{from === "scale" ? signedMass(e.over_g) : ""}&ensp;{rateFigure(e.rate_g_s)}{" "}
              {rateUnit}
            </span>
          </li>
        ))}
      </ul>
      <p className="quiet above-s">
        {TEXT.typically} {a.typical_late_s.toFixed(1)} {TEXT.sOff}
        {from === "scale" && <> {TEXT.andOffInTheTotal(mass(a.typical_over_g, 1))}</>}.
      </p>
    </section>
  );
}

const signed = (n: number) => `${n >= 0 ? "+" : "−"}${Math.abs(n).toFixed(1)}`;
