import type { Schemas } from "../../api/client";
import { LETTER_PX } from "./curve";
import { whole } from "../../ui/words";
import type { Scale } from "../scales";
import { WORDS } from "../words";

const TEXT = WORDS.cuts;

/** The fines' and the boulders' cut: small flags on the axis, to drag or to move with the arrow keys. */
export function Cuts({
  of,
  x,
  base,
  cut,
  width,
}: {
  of: Schemas["DistributionView"];
  x: Scale;
  base: number;
  cut: (which: "fines" | "boulders", um: number) => void;
  width: number;
}) {
  const flag = (which: "fines" | "boulders", um: number, share: number | null | undefined, side: 1 | -1) => {
    const words = share == null ? TEXT.notSeen : `${(100 * share).toFixed(1)} %`;
    const label = TEXT[which](whole(um), words);
    // Where a label would run out of the chart it stands as far inside as it must.
    const room = side === 1 ? width - x(um) : x(um);
    const back = Math.max(0, 18 + LETTER_PX * label.length - room);
    const to = (e: React.PointerEvent<SVGGElement>) => {
      const box = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
      cut(which, Math.round(x.invert(e.clientX - box.left)));
    };
    return (
      <g
        transform={`translate(${x(um)} ${base})`}
        tabIndex={0}
        role="slider"
        data-testid={`cut-${which}`}
        aria-label={which === "fines" ? TEXT.finesAreBelow : TEXT.bouldersAreAbove}
        aria-valuenow={Math.round(um)}
        aria-valuetext={TEXT.atM(whole(um), words)}
        className="slides"
        onPointerDown={(e) => {
          e.stopPropagation();
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          if (e.buttons === 1) {
            e.stopPropagation();
            to(e);
          }
        }}
        onKeyDown={(e) => {
          const step = e.key === "ArrowRight" ? 1.02 : e.key === "ArrowLeft" ? 1 / 1.02 : 0;
          if (!step) return;
          e.stopPropagation();
          e.preventDefault();
          cut(which, Math.round(um * step));
        }}
      >
        <rect x={-22} y={-32} width={44} height={44} fill="transparent" />
        <path d="M0 0V-26" stroke="var(--ochre-text)" strokeWidth="1.6" />
        <path d={`M0-26h${14 * side}l${-4 * side} 5 ${4 * side} 5H0Z`} fill="var(--ochre-text)" />
        <text
          x={(18 - back) * side}
          y={-16}
          textAnchor={side === 1 ? "start" : "end"}
          fontSize="12.5"
          className="cut-label"
        >
          {label}
        </text>
      </g>
    );
  };
  return (
    <g>
      {flag("fines", of.fines_um, of.fines_share, -1)}
      {flag("boulders", of.boulders_um, of.boulder_share, 1)}
    </g>
  );
}
