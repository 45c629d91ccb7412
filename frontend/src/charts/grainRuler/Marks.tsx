import { whole } from "../../ui/words";
import type { Scale } from "../scales";
import { heightOf, LETTER_PX, type Drawn } from "./curve";

export function Marks({
  figures,
  drawn,
  x,
  base,
  takenTo,
}: {
  figures: { d10_um: number; d50_um: number; d90_um: number };
  drawn: Drawn;
  x: Scale;
  base: number;
  /** Right end of the words over the sizes that are not seen. */
  takenTo: number;
}) {
  const heightAt = (d: number) =>
    heightOf(
      drawn.value[
        Math.max(
          drawn.size.findIndex((s) => s >= d),
          0,
        )
      ] ?? 0,
      drawn.peak,
      base,
    );
  const tail = (name: string, d: number, side: 1 | -1) => {
    const label = `${name} ${whole(d)}`;
    const beside = side === 1 || x(d) - 10 - LETTER_PX * label.length > takenTo;
    const y = Math.min(heightAt(d) - 16, base - (beside ? 46 : 64));
    return (
      <g>
        <path d={`M${x(d)} ${y + 6}V${base}`} stroke="var(--ink)" strokeDasharray="3 3" fill="none" />
        <text x={x(d) + 6 * side} y={y + 4} textAnchor={side === 1 ? "start" : "end"} className="figure" fontSize="13">
          {label}
        </text>
      </g>
    );
  };
  return (
    <g>
      {tail("D10", figures.d10_um, -1)}
      {tail("D90", figures.d90_um, 1)}
      <path d={`M${x(figures.d50_um)} 66V${base}`} stroke="var(--ink)" strokeWidth="2" fill="none" />
      <text x={x(figures.d50_um) + 7} y={72} fontSize="14" fontWeight="600" className="figure">
        D50 {whole(figures.d50_um)}
      </text>
    </g>
  );
}
