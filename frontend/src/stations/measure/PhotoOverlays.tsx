import { cssVariables } from "../../ui/cssVariables";
import { TINTS } from "./photoDrawing";
import { WORDS } from "./words";

const TEXT = WORDS.photoOverlays;

export function TintLegend() {
  return (
    <ul aria-label={TEXT.whatWasCounted} className="counted-key">
      {TINTS.map(({ kind, label, fill }) => (
        <li key={kind}>
          <span
            aria-hidden="true"
            className="patch"
            data-hatched={kind === "shadow" || undefined}
            style={cssVariables({ "--tint": fill })}
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
