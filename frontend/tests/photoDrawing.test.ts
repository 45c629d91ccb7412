// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from "vitest";

/** A path remembers its points, and a canvas what was filled and stroked on it, in order. */
class Path {
  points: [number, number][] = [];
  closed = 0;
  moveTo = (x: number, y: number) => void this.points.push([x, y]);
  lineTo = (x: number, y: number) => void this.points.push([x, y]);
  closePath = () => void this.closed++;
}
vi.stubGlobal("Path2D", Path);
const { drawGrounds, drawMarks, drawTint, TINTS } = await import("../src/stations/measure/photoDrawing");
type Ground = Parameters<typeof drawTint>[1][number];
type Photo = Parameters<typeof drawMarks>[1];

interface Drawn {
  style: string;
  width: number;
  dash: number[];
  path: Path;
}
let filled: Drawn[], stroked: Drawn[], boxes: number[][], texts: [string, number, number][];

function canvas() {
  const ctx = {
    fillStyle: "", strokeStyle: "", lineWidth: 0, lineJoin: "", font: "", textAlign: "", dash: [] as number[], own: new Path(),
    setLineDash: (dash: number[]) => (ctx.dash = dash),
    fill: (path: Path) => filled.push({ style: ctx.fillStyle, width: 0, dash: [], path }),
    stroke: (path?: Path) =>
      stroked.push({ style: ctx.strokeStyle, width: ctx.lineWidth, dash: ctx.dash, path: path ?? ctx.own }),
    strokeRect: (...box: number[]) => boxes.push(box),
    fillRect: vi.fn(),
    beginPath: () => (ctx.own = new Path()),
    moveTo: (x: number, y: number) => ctx.own.moveTo(x, y),
    lineTo: (x: number, y: number) => ctx.own.lineTo(x, y),
    measureText: (words: string) => ({ width: 7 * words.length }),
    fillText: (words: string, x: number, y: number) => texts.push([words, x, y]),
    createPattern: () => null,
  }; // prettier-ignore
  return ctx as unknown as CanvasRenderingContext2D;
}

/** A square ground; 100 µm to the side of ten pixels. */
function square(number: number, x: number, y: number, side = 10, leftOut = ""): Ground {
  return {
    number, leftOut, split: false, diameterUm: 10 * side, minFeretUm: 10 * side, maxFeretUm: 10 * side, circularity: 0.8,
    points: Float32Array.from([x, y, x + side, y, x + side, y + side, x, y + side]), box: [x, y, x + side, y + side],
  }; // prettier-ignore
}
const SEEN: [number, number, number, number] = [0, 0, 100, 100];
const plain = { held: null, picked: new Set<number>(), drawn: [], place: null };
const corners = (drawn: Drawn[]) => drawn.map((d) => d.path.points.length);

beforeEach(() => {
  [filled, stroked, boxes, texts] = [[], [], [], []];
});

describe("the tint of what was counted", () => {
  it("fills every ground that is seen once, by what became of it", () => {
    const grounds = [
      square(0, 10, 10), square(1, 30, 10), square(2, 50, 10, 10, "chaff"), square(3, 70, 10, 10, "shadow"),
      square(4, 10, 50, 10, "too pale"), square(5, 30, 50, 10, "by hand"), square(6, 500, 10), square(7, 95, 95),
    ]; // prettier-ignore
    drawTint(canvas(), grounds, SEEN, 1);
    const byKind = Object.fromEntries(TINTS.map(({ kind }, k) => [kind, filled[k]!.path.points.length / 4]));
    // Two in the middle and one over the edge; what lies outside is not drawn.
    expect(byKind).toEqual({ counted: 3, chaff: 1, shadow: 1, out: 2 });
    expect(filled.map((f) => f.style)).toEqual(TINTS.map((t) => t.fill));
  });
});

describe("outlines", () => {
  const grounds = [
    square(0, 10, 10),
    square(1, 30, 10, 30),
    square(2, 70, 10, 10, "chaff"),
    square(3, 70, 50, 10, "shadow"),
  ];

  it("are closed, in one path for each kind, and of the same width at any zoom", () => {
    drawGrounds(canvas(), grounds, SEEN, 1, plain, 0);
    expect(corners(stroked)).toEqual([8, 4, 0, 0, 0]);
    expect(stroked[0]!.path.closed).toBe(2);
    const near = stroked.map((s) => s.width);
    stroked = [];
    drawGrounds(canvas(), grounds, SEEN, 8, plain, 0);
    expect(stroked.map((s) => 8 * s.width)).toEqual(near.map((width) => expect.closeTo(width, 9)));
  });

  it("of a band of sizes are lit, of picked grounds twice drawn, and left-out ones dashed", () => {
    drawGrounds(canvas(), grounds, SEEN, 2, { ...plain, held: [200, 400], picked: new Set([0]) }, 0);
    const [rest, out, lit, halo, picked] = stroked;
    expect(corners([rest!, out!, lit!, halo!, picked!])).toEqual([0, 4, 4, 4, 4]);
    expect([out!.dash, lit!.dash]).toEqual([[2, 1.5], []]);
    expect(halo!.width).toBeGreaterThan(picked!.width);
    expect(lit!.path.points[0]).toEqual([30, 10]);
  });

  it("of specks are left away, unless they are what is looked for", () => {
    drawGrounds(canvas(), grounds, SEEN, 1, plain, 150);
    expect(corners(stroked)).toEqual([4, 0, 0, 0, 0]);
    stroked = [];
    drawGrounds(canvas(), grounds, SEEN, 1, { ...plain, picked: new Set([0]) }, 150);
    expect(corners(stroked)).toEqual([4, 0, 0, 4, 4]);
  });
});

describe("marks", () => {
  const photo = (more: object) =>
    ({ scale_method: "card", scale_mark_px: [], ten_mm_px: [], ...more }) as unknown as Photo;

  it("outline what the scale was taken from: a card all round, two points by a line", () => {
    const mark = [[0, 0], [40, 0], [40, 30]]; // prettier-ignore
    drawMarks(canvas(), photo({ scale_mark_px: mark }), 1, plain, false);
    drawMarks(canvas(), photo({ scale_mark_px: mark.slice(0, 2), scale_method: "points" }), 1, plain, false);
    drawMarks(canvas(), photo({}), 1, plain, false);
    expect(stroked.map((s) => [s.path.points.length, s.path.closed])).toEqual([
      [3, 1],
      [2, 0],
    ]);
  });

  it("draw ten millimetres from end to end, with strokes square to it and its words above its middle", () => {
    drawMarks(canvas(), photo({ ten_mm_px: [[100, 200], [400, 240]] }), 2, plain, true); // prettier-ignore
    const points = stroked[0]!.path.points;
    expect(points.slice(0, 2)).toEqual([
      [100, 200],
      [400, 240],
    ]);
    for (const k of [2, 4]) {
      const [ax, ay] = points[k]!,
        [bx, by] = points[k + 1]!;
      expect((bx - ax) * 300 + (by - ay) * 40).toBeCloseTo(0, 6);
      expect(Math.hypot(bx - ax, by - ay)).toBeCloseTo(12 / 2, 6);
    }
    const [words, x, y] = texts[0]!;
    expect([words, x]).toEqual(["10 mm", 250]);
    expect(y).toBeLessThan(200);
  });

  it("frame a finding's place and show what is being drawn by hand", () => {
    drawMarks(canvas(), photo({}), 1, { ...plain, place: [10, 20, 60, 90], drawn: [[1, 1], [2, 5]] }, false); // prettier-ignore
    expect(boxes).toEqual([[10, 20, 50, 70]]);
    expect(stroked.at(-1)!.path.points).toEqual([
      [1, 1],
      [2, 5],
    ]);
  });
});
