import { line, log } from "./scales";

/** A size curve small enough for a slip. */
export function MiniCurve({
  size,
  density,
  width = 194,
  height = 52,
}: {
  size: number[];
  density: number[];
  width?: number;
  height?: number;
}) {
  if (size.length === 0)
    return (
      <svg width={width} height={height} aria-hidden="true">
        <path className="hair" d={`M0 ${height - 1}H${width}`} />
      </svg>
    );
  const x = log([60, 2200], [0, width]);
  const peak = Math.max(...density, 0.01);
  const points = size
    .map((s, i) => [x(s), height - 2 - ((density[i] ?? 0) / peak) * (height - 6)] as [number, number])
    .filter(([px]) => px >= 0 && px <= width);
  return (
    <svg width={width} height={height} className="mini-curve" aria-hidden="true">
      <path className="hair" d={`M0 ${height - 1}H${width}`} stroke="var(--ink-3)" />
      <path d={line(points)} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
    </svg>
  );
}
