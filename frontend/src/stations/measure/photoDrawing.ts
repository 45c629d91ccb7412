import type { Schemas } from "../../api/client";
import type { Band } from "../../charts/grainRuler/curve";
import type { Box, Ground } from "./grounds";
import { WORDS } from "./words";

const TEXT = WORDS.photoDrawing;

export interface Marked {
  held: Band;
  picked: ReadonlySet<number>;
  /** What is being drawn by hand, px of the photo. */
  drawn: [number, number][];
  place: number[] | null;
}

/** What was counted and what was not, and how each is drawn; shadow is hatched, so that it does not rest on colour alone. */
export const TINTS = [
  { kind: "counted", label: TEXT.counted, fill: "rgba(63, 156, 127, 0.55)" },
  { kind: "chaff", label: TEXT.chaff, fill: "rgba(224, 160, 30, 0.6)" },
  { kind: "shadow", label: TEXT.shadow, fill: "rgba(42, 47, 94, 0.75)" },
  { kind: "out", label: TEXT.leftOut, fill: "rgba(214, 84, 41, 0.6)" },
] as const;
type Tint = (typeof TINTS)[number]["kind"];

const tintOf = (g: Ground): Tint =>
  g.leftOut === "" ? "counted" : g.leftOut === "chaff" || g.leftOut === "shadow" ? g.leftOut : "out";

/** Fill the grounds that are seen by what became of them. */
export function drawTint(ctx: CanvasRenderingContext2D, grounds: Ground[], seen: Box, zoom: number) {
  const paths: Record<Tint, Path2D> = {
    counted: new Path2D(),
    chaff: new Path2D(),
    shadow: new Path2D(),
    out: new Path2D(),
  };
  for (const g of grounds) if (isSeen(g, seen) && g.points.length >= 6) trace(paths[tintOf(g)], g);
  for (const { kind, fill } of TINTS) {
    ctx.fillStyle = kind === "shadow" ? (hatch(ctx, fill, zoom) ?? fill) : fill;
    ctx.fill(paths[kind]);
  }
}

function hatch(ctx: CanvasRenderingContext2D, stroke: string, zoom: number): CanvasPattern | null {
  const tile = document.createElement("canvas");
  tile.width = tile.height = 6;
  const pen = tile.getContext("2d");
  if (!pen) return null;
  pen.strokeStyle = stroke;
  pen.lineWidth = 1.4;
  for (const x of [-6, 0, 6]) {
    pen.moveTo(x, 6);
    pen.lineTo(x + 6, 0);
  }
  pen.stroke();
  const pattern = ctx.createPattern(tile, "repeat");
  pattern?.setTransform(new DOMMatrix([1 / zoom, 0, 0, 1 / zoom, 0, 0]));
  return pattern;
}

const isSeen = (g: Ground, seen: Box) =>
  g.box[2] >= seen[0] && g.box[0] <= seen[2] && g.box[3] >= seen[1] && g.box[1] <= seen[3];

function trace(path: Path2D, g: Ground) {
  path.moveTo(g.points[0]!, g.points[1]!);
  for (let k = 2; k < g.points.length; k += 2) path.lineTo(g.points[k]!, g.points[k + 1]!);
  path.closePath();
}

const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name);

/** Outlines of the grounds that are seen; all in a few paths, so that twenty thousand stay smooth. */
export function drawGrounds(
  ctx: CanvasRenderingContext2D,
  grounds: Ground[],
  seen: Box,
  zoom: number,
  marked: Marked,
  leastUm: number,
) {
  const plain = new Path2D(),
    lit = new Path2D(),
    out = new Path2D(),
    picked = new Path2D();
  for (const g of grounds) {
    // Shadows are areas of paper: they show in the tint alone.
    if (g.leftOut === "shadow" || !isSeen(g, seen)) continue;
    const isPicked = marked.picked.has(g.number);
    const isLit =
      marked.held !== null && g.leftOut === "" && g.diameterUm >= marked.held[0] && g.diameterUm <= marked.held[1];
    // An outline round a speck would hide it.
    if (g.points.length < 6 || (g.diameterUm < leastUm && !isLit && !isPicked)) continue;
    const path = isPicked ? picked : g.leftOut ? out : isLit ? lit : plain;
    trace(path, g);
  }
  ctx.lineJoin = "round";
  const stroke = (path: Path2D, width: number, style: string, dash: number[] = []) => {
    ctx.lineWidth = width / zoom;
    ctx.strokeStyle = style;
    ctx.setLineDash(dash.map((d) => d / zoom));
    ctx.stroke(path);
  };
  stroke(plain, 1.4, "#3f9c7f");
  stroke(out, 1.6, colour("--ochre"), [4, 3]);
  stroke(lit, 2.4, colour("--persimmon"));
  stroke(picked, 4.4, "#ffffff");
  stroke(picked, 2.4, "#2a2f5e");
  ctx.setLineDash([]);
}

/** What the scale was taken from, a length to check it by, a finding's place, and what is being drawn by hand. */
export function drawMarks(
  ctx: CanvasRenderingContext2D,
  photo: Schemas["PhotoView"],
  zoom: number,
  marked: Marked,
  close: boolean,
) {
  const along = (points: readonly (readonly number[])[], closed: boolean) => {
    const path = new Path2D();
    points.forEach(([x = 0, y = 0], i) => (i ? path.lineTo(x, y) : path.moveTo(x, y)));
    if (closed) path.closePath();
    return path;
  };
  ctx.setLineDash([]);
  ctx.lineWidth = 1.6 / zoom;
  ctx.strokeStyle = "#4b6a80";
  if ((photo.scale_mark_px ?? []).length > 1)
    ctx.stroke(along(photo.scale_mark_px ?? [], photo.scale_method !== "points"));
  if ((photo.ten_mm_px ?? []).length === 2) tenMillimetres(ctx, photo.ten_mm_px ?? [], zoom, close);
  if (marked.place) {
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = marked.place;
    ctx.lineWidth = 3 / zoom;
    ctx.strokeStyle = colour("--ochre");
    ctx.strokeRect(x0, y0, x1 - x0, y1 - y0);
  }
  if (marked.drawn.length > 1) {
    ctx.lineWidth = 2.4 / zoom;
    ctx.strokeStyle = colour("--persimmon");
    ctx.stroke(along(marked.drawn, false));
  }
}

function tenMillimetres(
  ctx: CanvasRenderingContext2D,
  ends: readonly (readonly number[])[],
  zoom: number,
  close: boolean,
) {
  const [[x0 = 0, y0 = 0] = [], [x1 = 0, y1 = 0] = []] = ends;
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  const nx = (-(y1 - y0) / length) * (6 / zoom),
    ny = ((x1 - x0) / length) * (6 / zoom);
  ctx.lineWidth = 2 / zoom;
  ctx.strokeStyle = "#2a2f5e";
  ctx.beginPath();
  ctx.moveTo(x0, y0);
  ctx.lineTo(x1, y1);
  for (const [x, y] of [
    [x0, y0],
    [x1, y1],
  ] as const) {
    ctx.moveTo(x - nx, y - ny);
    ctx.lineTo(x + nx, y + ny);
  }
  ctx.stroke();
  ctx.font = `${13 / zoom}px sans-serif`;
  const words = close ? "10 mm" : TEXT.n10MmByThisScale;
  const width = ctx.measureText(words).width + 10 / zoom;
  ctx.fillStyle = "rgba(255,255,255,0.88)";
  ctx.fillRect((x0 + x1) / 2 - width / 2, y0 - 27 / zoom, width, 18 / zoom);
  ctx.fillStyle = "#2a2f5e";
  ctx.textAlign = "center";
  ctx.fillText(words, (x0 + x1) / 2, y0 - 13 / zoom);
}
