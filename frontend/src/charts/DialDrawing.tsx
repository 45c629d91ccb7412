import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Schemas } from "../api/client";
import { settingText } from "../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.dialDrawing;

type Dial = Schemas["GrinderView"]["dial"];

interface Props {
  dial: Dial;
  /** All settings in rising order, and where the hand is. */
  settings: string[];
  place: number;
  turn: (place: number) => void;
  size?: number;
  /** The reading is not written out, for somebody who is to read it. */
  unread?: boolean;
}

/** A dial as it looks; the hand turns it by mouse, touch or arrow keys. */
export function DialDrawing(props: Props) {
  if (props.dial.kind === "rings") return <Rings {...props} dial={props.dial} />;
  return <Knob {...props} />;
}

const TURN = 2 * Math.PI;
const clicksIn = (dial: Extract<Dial, { kind: "clicks" }>) => dial.clicks_per_turn ?? 36;

/** How far the knob turns in all, and in how many steps one full turn is made. */
function turning(dial: Dial, count: number): { perTurn: number; sweep: boolean } {
  if (dial.kind === "clicks") return { perTurn: clicksIn(dial), sweep: false };
  if (dial.kind === "turns") return { perTurn: dial.numbers_per_turn * dial.clicks_per_number, sweep: false };
  // A scale with ends leaves a gap at the bottom, as bench grinders do.
  return { perTurn: (count - 1) / 0.82, sweep: true };
}

function useTurning(props: Props, perTurn: number, onStep: (steps: number) => void) {
  const ref = useRef<SVGSVGElement>(null);
  const held = useRef<{ angle: number; moved: number } | null>(null);
  function angleOf(e: PointerEvent) {
    const box = ref.current!.getBoundingClientRect();
    return Math.atan2(e.clientY - box.top - box.height / 2, e.clientX - box.left - box.width / 2);
  }
  return {
    ref,
    onPointerDown(e: PointerEvent<SVGSVGElement>) {
      e.currentTarget.setPointerCapture(e.pointerId);
      held.current = { angle: angleOf(e), moved: 0 };
    },
    onPointerMove(e: PointerEvent<SVGSVGElement>) {
      if (!held.current) return;
      const now = angleOf(e);
      const by = ((now - held.current.angle + 3 * Math.PI) % TURN) - Math.PI;
      const moved = held.current.moved + (by / TURN) * perTurn;
      const steps = Math.trunc(moved);
      held.current = { angle: now, moved: moved - steps };
      if (steps) onStep(steps);
    },
    onPointerUp() {
      held.current = null;
    },
    onKeyDown(e: KeyboardEvent<SVGSVGElement>) {
      const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[e.key];
      if (e.key === "Home") onStep(-props.place);
      else if (e.key === "End") onStep(props.settings.length - 1 - props.place);
      else if (by) onStep(by);
      else return;
      e.preventDefault();
      e.stopPropagation();
    },
  };
}

const clamp = (n: number, last: number) => Math.min(last, Math.max(0, n));

function slider(props: Props, label: string) {
  return {
    role: "slider",
    tabIndex: 0,
    "aria-label": label,
    "aria-valuemin": 0,
    "aria-valuemax": props.settings.length - 1,
    "aria-valuenow": props.place,
    "aria-valuetext": props.unread ? TEXT.toBeRead : props.settings[props.place],
  } as const;
}

function polar(r: number, angle: number): [number, number] {
  return [r * Math.sin(angle), -r * Math.cos(angle)];
}

/** Clicks, numbers, turns or a collar: a scale round a knob, its reading under the mark at the top. */
function Knob(props: Props) {
  const { dial, settings, place, turn, size = 150 } = props;
  const { perTurn, sweep } = turning(dial, settings.length);
  const hand = useTurning(props, perTurn, (n) => turn(clamp(place + n, settings.length - 1)));
  const step = TURN / perTurn;
  // A scale with ends stands still and the pointer turns; an endless one turns under a mark.
  const start = sweep ? -0.82 * Math.PI : 0;
  const pointer = sweep ? start + place * step : 0;
  const shift = sweep ? 0 : -((place + turningStart(dial)) % perTurn) * step;
  const ticks = Array.from({ length: sweep ? settings.length : Math.round(perTurn) }, (_, i) => i);
  const thin = Math.max(1, Math.ceil(ticks.length / 120));
  const shown = ticks.filter((i) => i % thin === 0 || major(dial, settings, i));
  const small = size < 140;
  const named = thinNames(
    shown.filter((i) => major(dial, settings, i)),
    small ? 8 : 14,
  );
  return (
    <svg
      ref={hand.ref}
      width={size}
      height={size}
      viewBox="-100 -100 200 200"
      className="dial-drawing"
      {...slider(props, TEXT.turnTheDial)}
      onPointerDown={hand.onPointerDown}
      onPointerMove={hand.onPointerMove}
      onPointerUp={hand.onPointerUp}
      onKeyDown={hand.onKeyDown}
    >
      <circle r="94" fill="var(--slip)" stroke="var(--hairline)" strokeWidth="1.5" />
      {shown.map((i) => {
        const angle = start + i * step + shift;
        const [x0, y0] = polar(90, angle),
          [x1, y1] = polar(named.has(i) ? 78 : 83, angle);
        return (
          <path key={i} d={`M${x0} ${y0}L${x1} ${y1}`} stroke="var(--ink)" strokeWidth={named.has(i) ? 2.2 : 1.1} />
        );
      })}
      {[...named].map((i) => {
        const [x, y] = polar(small ? 64 : 66, start + i * step + shift);
        return (
          <text
            key={i}
            x={x}
            y={y + (small ? 6 : 4.5)}
            textAnchor="middle"
            className={small ? "tick prominent" : "tick"}
          >
            {nameOf(dial, settings, i)}
          </text>
        );
      })}
      <circle r="47" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />
      {Array.from({ length: 24 }, (_, i) => {
        const angle = (i / 24) * TURN + (sweep ? pointer : shift);
        const [x0, y0] = polar(47, angle),
          [x1, y1] = polar(42, angle);
        return <path key={i} d={`M${x0} ${y0}L${x1} ${y1}`} stroke="var(--ink-3)" strokeWidth="1" />;
      })}
      <path
        d={`M0 -99L-6 -88L6 -88Z`}
        transform={sweep ? `rotate(${(pointer * 180) / Math.PI})` : undefined}
        fill="var(--persimmon)"
      />
      {sweep && (
        <path
          d="M0 -47V-60"
          transform={`rotate(${(pointer * 180) / Math.PI})`}
          stroke="var(--persimmon)"
          strokeWidth="4"
          strokeLinecap="round"
        />
      )}
      {!small && !props.unread && (
        <text
          y="8"
          textAnchor="middle"
          className={(settings[place]?.length ?? 0) > 5 ? "dial-value long" : "dial-value"}
        >
          {settingText(settings[place] ?? "")}
        </text>
      )}
    </svg>
  );
}

/** How far into a turn the first setting lies, in steps. */
function turningStart(dial: Dial): number {
  if (dial.kind !== "clicks") return 0;
  return (((dial.minimum ?? 0) % clicksIn(dial)) + clicksIn(dial)) % clicksIn(dial);
}

/** Whether a tick carries a name. On an endless scale ticks are numbered from the top of a turn. */
function major(dial: Dial, settings: string[], i: number): boolean {
  if (dial.kind === "clicks") return i % (clicksIn(dial) > 24 ? 6 : clicksIn(dial) > 12 ? 3 : 1) === 0;
  if (dial.kind === "turns") return i % dial.clicks_per_number === 0;
  const setting = settings[i] ?? "";
  if (dial.kind === "seconds") return /^\d*[05] s$/.test(setting);
  return dial.kind === "numbers" ? !setting.includes("/") : Number.isInteger(Number(setting));
}

function nameOf(dial: Dial, settings: string[], i: number): string {
  if (dial.kind === "clicks") return String(i);
  if (dial.kind === "turns") return String(Math.floor(i / dial.clicks_per_number));
  if (dial.kind === "seconds") return (settings[i] ?? "").replace(" s", "");
  return dial.kind === "stepless" ? String(Number(settings[i])) : (settings[i] ?? "");
}

function thinNames(of: number[], most: number): Set<number> {
  const every = Math.ceil(of.length / most);
  return new Set(of.filter((_, k) => k % every === 0));
}

/** Two rings, each turned by itself: the coarse one outside, the fine one inside, both read at the top. */
function Rings(props: Props & { dial: Extract<Dial, { kind: "rings" }> }) {
  const { dial, settings, place, turn, size = 150 } = props;
  const [coarse, fine] = labelsOf(dial, settings[place] ?? "");
  const grab = useRef<"coarse" | "fine">("coarse");
  function move(ring: "coarse" | "fine", by: number) {
    const c = clamp(coarse + (ring === "coarse" ? by : 0), dial.coarse.length - 1);
    const f = clamp(fine + (ring === "fine" ? by : 0), dial.fine.length - 1);
    const at = settings.findIndex((s) => sameLabels(s, dial.coarse[c]!, dial.fine[f]!));
    if (at >= 0) turn(at);
  }
  const outer = useTurning(props, grab.current === "coarse" ? dial.coarse.length : dial.fine.length, (n) =>
    move(grab.current, n),
  );
  const ring = (labels: string[], chosen: number, r: number, name: "coarse" | "fine") => (
    <g
      role="slider"
      tabIndex={0}
      aria-label={TEXT.turnTheRing(name)}
      aria-valuemin={0}
      aria-valuemax={labels.length - 1}
      aria-valuenow={chosen}
      aria-valuetext={labels[chosen]}
      onKeyDown={(e) => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
        if (!by) return;
        move(name, by);
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <circle
        r={r + 13}
        fill={name === "coarse" ? "var(--slip)" : "var(--paper)"}
        stroke="var(--hairline)"
        strokeWidth="1.5"
      />
      {labels.map((label, i) => {
        const [x, y] = polar(r, ((i - chosen) / labels.length) * TURN);
        return (
          <text key={label} x={x} y={y + 5} textAnchor="middle" className={i === chosen ? "tick chosen" : "tick"}>
            {label}
          </text>
        );
      })}
    </g>
  );
  return (
    <svg
      ref={outer.ref}
      width={size}
      height={size}
      viewBox="-100 -100 200 200"
      className="dial-drawing"
      onPointerDown={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        const reach =
          Math.hypot(e.clientX - box.left - box.width / 2, e.clientY - box.top - box.height / 2) / (box.width / 200);
        grab.current = reach > 63 ? "coarse" : "fine";
        outer.onPointerDown(e);
      }}
      onPointerMove={outer.onPointerMove}
      onPointerUp={outer.onPointerUp}
    >
      {ring(dial.coarse, coarse, 80, "coarse")}
      {ring(dial.fine, fine, 50, "fine")}
      <circle r="33" fill="var(--slip)" stroke="var(--ink)" strokeWidth="1.5" />
      <path d="M0 -99L-6 -110L6 -110Z" transform="translate(0 12)" fill="var(--persimmon)" />
      {!props.unread && (
        <text y="8" textAnchor="middle" className="dial-value">
          {settings[place]}
        </text>
      )}
    </svg>
  );
}

const sameLabels = (setting: string, coarse: string, fine: string) =>
  setting === coarse + fine || setting === `${coarse}-${fine}`;

function labelsOf(dial: Extract<Dial, { kind: "rings" }>, setting: string): [number, number] {
  for (let c = 0; c < dial.coarse.length; c++)
    for (let f = 0; f < dial.fine.length; f++) if (sameLabels(setting, dial.coarse[c]!, dial.fine[f]!)) return [c, f];
  return [0, 0];
}
