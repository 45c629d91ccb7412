import { TINTS } from "./photoDrawing";

export function TintLegend() {
  return (
    <ul
      aria-label="What was counted"
      style={{
        position: "absolute",
        right: 12,
        top: 12,
        margin: 0,
        padding: "6px 10px",
        listStyle: "none",
        display: "flex",
        gap: 14,
        background: "var(--slip)",
        borderRadius: 6,
        fontSize: 13,
      }}
    >
      {TINTS.map(({ kind, label, fill }) => (
        <li key={kind} style={{ display: "flex", gap: 6, alignItems: "center" }}>
          <span
            aria-hidden="true"
            style={{
              width: 13,
              height: 13,
              borderRadius: 3,
              border: "1px solid var(--ink-3)",
              background: `${kind === "shadow" ? `repeating-linear-gradient(135deg, ${fill} 0 2px, transparent 2px 4.5px)` : `linear-gradient(${fill}, ${fill})`}, #eceae2`,
            }}
          />
          {label}
        </li>
      ))}
    </ul>
  );
}

export function ScaleBar({ pxPerMm }: { pxPerMm: number }) {
  const mm = [0.2, 0.5, 1, 2, 5, 10, 20].find((v) => v * pxPerMm > 70) ?? 20;
  const width = mm * pxPerMm;
  return (
    <div className="scale-bar">
      <svg width={width + 2} height="12" stroke="var(--ink)" strokeWidth="1.6" fill="none" aria-hidden="true">
        <path d={`M1 1v10M1 6h${width}M${width + 1} 1v10`} />
      </svg>
      {mm} mm
    </div>
  );
}
