// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { METRIC, writer, type Units } from "../src/ui/units";

const [WIDTH, HEIGHT] = [800, 400];
let units: Units = METRIC;
vi.mock("../src/ui/useUnits", () => ({ useUnits: () => writer(units) }));
vi.mock("../src/charts/useSize", () => ({ useSize: () => [() => undefined, { width: WIDTH, height: HEIGHT }] }));
Element.prototype.setPointerCapture = () => undefined;
Element.prototype.hasPointerCapture = () => true;
const { DialDrawing } = await import("../src/charts/DialDrawing");
const { LevelChart } = await import("../src/charts/LevelChart");
const { MiniCurve } = await import("../src/charts/MiniCurve");
const { Rails } = await import("../src/charts/Rails");
const { StrengthChart } = await import("../src/charts/StrengthChart");

const numbers = (path: string | null) => (path ?? "").match(/-?\d+(\.\d+)?/g)!.map(Number);
const at = (element: Element, ...names: string[]) => names.map((name) => Number(element.getAttribute(name)));
const byText = (text: string) => screen.getByText(text) as unknown as SVGTextElement;

beforeEach(() => {
  units = METRIC;
});
afterEach(cleanup);

describe("a dial", () => {
  const clicks = { kind: "clicks", clicks_per_turn: 36, minimum: 0, maximum: 90 } as never;
  const settings = Array.from({ length: 91 }, (_, i) => String(i));
  const turn = vi.fn();
  const dial = (place: number, more: object = {}) =>
    render(<DialDrawing dial={clicks} settings={settings} place={place} turn={turn} {...more} />);

  beforeEach(() => turn.mockReset());

  it.each([
    ["ArrowRight", 21], ["ArrowUp", 21], ["ArrowLeft", 19], ["ArrowDown", 19], ["PageUp", 30], ["PageDown", 10], ["Home", 0],
    ["End", 90],
  ])("is turned by %s", (key, place) => {
    dial(20);
    fireEvent.keyDown(screen.getByRole("slider"), { key });
    expect(turn).toHaveBeenCalledWith(place);
  }); // prettier-ignore

  it("does not turn beyond its ends", () => {
    dial(88);
    fireEvent.keyDown(screen.getByRole("slider"), { key: "PageUp" });
    cleanup();
    dial(3);
    fireEvent.keyDown(screen.getByRole("slider"), { key: "PageDown" });
    expect(turn.mock.calls).toEqual([[90], [0]]);
  });

  it("follows the hand round: a quarter of a turn is a quarter of its clicks", () => {
    dial(20, { size: 200 });
    const knob = screen.getByRole("slider");
    knob.getBoundingClientRect = () => ({ left: 0, top: 0, width: 200, height: 200 }) as DOMRect;
    const hold = (angle: number) => ({
      clientX: 100 + 80 * Math.sin(angle),
      clientY: 100 - 80 * Math.cos(angle),
      pointerId: 1,
    });
    fireEvent.pointerDown(knob, hold(0));
    // The place is not followed here, so the steps of each move add up.
    for (let k = 1; k <= 45; k++) fireEvent.pointerMove(knob, hold((k / 45) * (Math.PI / 2)));
    fireEvent.pointerUp(knob);
    fireEvent.pointerMove(knob, hold(3));
    const steps = turn.mock.calls.reduce((sum, [place]) => sum + place - 20, 0);
    expect(Math.abs(steps - 9)).toBeLessThanOrEqual(1);
  });

  it("with turns without end shows its reading under the mark at the top", () => {
    for (const place of [0, 12, 30, 48]) {
      dial(place);
      const [x, y] = at(screen.getByText(String(place % 36), { selector: ".tick" }), "x", "y");
      expect(Math.abs(x!)).toBeLessThan(0.01);
      expect(y).toBeLessThan(-50);
      cleanup();
    }
  });

  it("says its setting to whoever hears it, but not where it is to be read", () => {
    dial(20);
    expect(screen.getByRole("slider").getAttribute("aria-valuetext")).toBe("20");
    cleanup();
    dial(20, { unread: true });
    expect(screen.getByRole("slider").getAttribute("aria-valuetext")).not.toContain("20");
  });

  it("of two rings turns each by itself and reads both at the top", () => {
    const rings = { kind: "rings", coarse: ["1", "2", "3"], fine: ["A", "B", "C"] } as never;
    const all = ["1", "2", "3"].flatMap((c) => ["A", "B", "C"].map((f) => c + f));
    render(<DialDrawing dial={rings} settings={all} place={4} turn={turn} />);
    const [coarse, fine] = screen.getAllByRole("slider");
    for (const [ring, label] of [[coarse!, "2"], [fine!, "B"]] as const) {
      const [x, y] = at(within(ring as unknown as HTMLElement).getByText(label), "x", "y");
      expect([Math.abs(x!) < 0.01, y! < 0]).toEqual([true, true]);
    } // prettier-ignore
    fireEvent.keyDown(coarse!, { key: "ArrowRight" });
    fireEvent.keyDown(fine!, { key: "ArrowLeft" });
    fireEvent.keyDown(coarse!, { key: "Tab" });
    expect(turn.mock.calls.map(([place]) => all[place])).toEqual(["3B", "2A"]);
  });
});

describe("the plan's chart", () => {
  const t_s = [0, 10, 40, 60, 100, 140, 180, 220];
  const poured_g = [0, 50, 50, 150, 150, 300, 300, 300];
  const plan = {
    pours: [{ water_g: 50, duration_s: 10 }, { water_g: 100, duration_s: 20 }, { water_g: 150, duration_s: 40 }],
    steep: null,
  } as never; // prettier-ignore
  const prediction = (more: object = {}) =>
    ({
      drawdown_s: 190, last_drip_s: 220, half_width95: { drawdown_s: 20 }, pour_starts_s: [0, 40, 100], stalled: false,
      series: {
        t_s, poured_g, drink_g: [0, 0, 20, 60, 110, 170, 240, 260], level_mm: [0, 8, 0, 20, 0, 30, 12, 0],
        level_low_mm: [0, 6, 0, 16, 0, 25, 6, 0], level_high_mm: [0, 9, 1, 24, 2, 35, 18, 1],
      },
      ...more,
    }) as never; // prettier-ignore
  const move = vi.fn();
  const chart = (more: object = {}) =>
    render(<LevelChart document={plan} prediction={prediction()} move={move} {...more} />);
  const handle = (n: number) => screen.getByRole("slider", { name: `Pour ${n}` });
  const spot = (n: number) =>
    at(handle(n).querySelector("circle:not([fill=transparent])")!, "cx", "cy") as [number, number];

  beforeEach(() => move.mockReset());

  it("has a handle at the end of each pour, with its time and total", () => {
    chart();
    expect([1, 2, 3].map((n) => handle(n).getAttribute("aria-valuetext"))).toEqual([
      "50 g at 0:10",
      "150 g at 1:00",
      "300 g at 2:20",
    ]);
    const [a, b, c] = [spot(1), spot(2), spot(3)];
    // Equal times and weights are equal distances.
    expect((c[0] - b[0]) / (b[0] - a[0])).toBeCloseTo(80 / 50, 6);
    expect((c[1] - b[1]) / (b[1] - a[1])).toBeCloseTo(150 / 100, 6);
    expect(c[1]).toBeLessThan(a[1]);
  });

  it("hands on where a handle was dragged to, in seconds and grams", () => {
    chart();
    const [a, b] = [spot(1), spot(2)];
    fireEvent.pointerMove(handle(2), { clientX: 5, clientY: 5 });
    expect(move).not.toHaveBeenCalled();
    fireEvent.pointerDown(handle(2), { pointerId: 1 });
    // Halfway between the first end and the second.
    fireEvent.pointerMove(handle(2), { clientX: (a[0] + b[0]) / 2, clientY: (a[1] + b[1]) / 2 });
    fireEvent.pointerUp(handle(2));
    fireEvent.pointerMove(handle(2), { clientX: 5, clientY: 5 });
    expect(move.mock.calls).toEqual([[1, expect.closeTo(35, 3), expect.closeTo(100, 3)]]);
  });

  it("moves a pour by the arrow keys, five seconds or five grams", () => {
    chart();
    for (const key of ["ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown", "a"]) fireEvent.keyDown(handle(3), { key });
    expect(move.mock.calls).toEqual([
      [2, 145, 300],
      [2, 135, 300],
      [2, 140, 305],
      [2, 140, 295],
    ]);
  });

  it("is a picture where it cannot be changed, said in words", () => {
    chart({ move: undefined });
    const words = screen.getByRole("img").getAttribute("aria-label");
    for (const said of ["300 g", "3 pours", "3:10", "3:40"]) expect(words).toContain(said);
    expect(screen.queryByRole("slider")).toBeNull();
  });

  it("bands the end by its interval, draws what happened over it, and says a stall", () => {
    const actual = { t_s: [0, 60, 120], poured_g: [0, null, 150], drink_g: [0, 40, 90], bare_bed_s: 203 };
    const { container } = chart({ actual, prediction: prediction({ stalled: true }) });
    const [first, third] = [spot(1), spot(3)];
    const perSecond = (third[0] - first[0]) / 130;
    const [left, width] = at(container.querySelector("rect[fill='var(--celadon-wash)']")!, "x", "width");
    expect(width! / perSecond).toBeCloseTo(40, 3);
    expect((left! - first[0]) / perSecond + 10).toBeCloseTo(170, 3);
    const happened = screen.getByTestId("what-happened");
    // A reading that is missing is left out, not drawn as zero.
    expect(numbers(happened.querySelector("path")!.getAttribute("d")).length).toBe(4);
    expect(happened.textContent).toContain("3:23");
    expect(container.textContent).toMatch(/stall/i);
    cleanup();
    expect(chart().container.textContent).not.toMatch(/stall/i);
  });

  it("writes its figures in the units that were chosen", () => {
    units = { mass: "oz", temperature: "F" };
    chart();
    expect(handle(3).getAttribute("aria-valuetext")).toBe("10.6 oz at 2:20");
  });
});

describe("strength against extraction", () => {
  const state = (ey_percent: number, tds_percent: number) => ({ ey_percent, tds_percent, drawdown_s: 200 });
  const offered = (ey: number, tds: number, kind = "grind") =>
    ({ kind, direction: "finer", words: `${kind} finer`, after: state(ey, tds) }) as never;
  const cup = (moves: never[] = [], more: object = {}) =>
    ({
      advice: { now: state(18, 1.2), measured: ["tds_percent"], moves, ...more },
      targets: [{ name: "classical", ey_percent: [18, 22], tds_percent: [1.15, 1.35] }],
      ratio_drink: 15, path: [],
    }) as never; // prettier-ignore
  const dots = (container: HTMLElement, selector: string) =>
    [...container.querySelectorAll(selector)].map((c) => at(c, "cx", "cy") as [number, number]);

  it("puts the cup on the line of its own ratio, for strength is extraction by dose over drink", () => {
    const { container } = render(<StrengthChart cup={cup()} target="classical" />);
    const [[x, y]] = dots(container, "circle[fill='var(--ink)']") as [[number, number]];
    const [x0, y0, x1, y1] = numbers(container.querySelector("path[stroke='var(--ink)']")!.getAttribute("d"));
    const beside = (x - x0!) * (y1! - y0!) - (y - y0!) * (x1! - x0!);
    expect(Math.abs(beside) / Math.hypot(x1! - x0!, y1! - y0!)).toBeLessThan(0.15);
    expect(container.textContent).toContain("1 : 15.0");
    expect(screen.getByRole("img").getAttribute("aria-label")).toMatch(/1\.20.*18\.0/);
  });

  it("lands the change where it is predicted, stronger above and more extracted to the right", () => {
    const move = offered(20, 1.33);
    const { container } = render(<StrengthChart cup={cup([move])} target="classical" move={move} />);
    const [[x, y]] = dots(container, "circle[fill='var(--ink)']") as [[number, number]];
    const [[mx, my]] = dots(container, "circle[stroke='var(--persimmon)']") as [[number, number]];
    expect([mx > x, my < y]).toEqual([true, true]);
    const box = container.querySelector("rect[fill='var(--celadon-wash)']")!;
    const [left, top, width, height] = at(box, "x", "y", "width", "height");
    // 20 % and 1.33 % lie inside the target of 18 to 22 and 1.15 to 1.35.
    expect((mx - left!) / width!).toBeCloseTo(0.5, 2);
    expect((my - top!) / height!).toBeCloseTo(0.1, 2);
  });

  it("draws no landing for a change that moves nothing here, and other changes only where they differ", () => {
    const same = offered(18.01, 1.201, "rinse");
    const others = [offered(21, 1.4, "ratio"), offered(18.1, 1.21, "water")];
    const { container } = render(<StrengthChart cup={cup([same, ...others])} target="classical" move={same} />);
    expect(dots(container, "circle[stroke='var(--persimmon)']")).toEqual([]);
    expect([...container.querySelectorAll("title")].map((t) => t.textContent)).toEqual(["ratio finer"]);
  });

  it("keeps what lies far off in the picture, and says where strength is only estimated", () => {
    render(<StrengthChart cup={cup([], { now: state(9, 2.4), measured: [] })} target="not known" />);
    const [x, y] = at(document.querySelector("circle[fill='var(--ink)']")!, "cx", "cy");
    expect([x! > 0, x! < WIDTH, y! > 0, y! < HEIGHT]).toEqual([true, true, true, true]);
    expect(document.body.textContent).toContain("estimated");
  });
});

describe("rails", () => {
  const marks = Array.from({ length: 31 }, (_, i) => ({
    setting: String(i), d50_um: 300 * 1.05 ** i, low_um: 290 * 1.05 ** i, high_um: 310 * 1.05 ** i,
  })); // prettier-ignore
  const grinder = (more: object = {}) =>
    ({
      id: 1, name: "Arlsmoor", note: "", burrs: "48 mm conical", dial: { kind: "clicks" }, marks, points: [], earlier: [],
      no_curve: null, ...more,
    }) as never; // prettier-ignore
  const setSize = vi.fn();
  const choose = vi.fn();
  const rails = (size: number, more: object = {}) =>
    render(
      <Rails
        grinders={[grinder()]}
        size={size}
        setSize={setSize}
        windows={[]}
        choose={choose}
        answers={[]}
        turned={null}
        {...more}
      />,
    );
  const reading = () => screen.getByTestId("rail-Arlsmoor").textContent;

  beforeEach(() => {
    setSize.mockReset();
    choose.mockReset();
  });

  it("read the mark that is nearest by ratio, unless the server or the hand says another", () => {
    rails(300 * 1.05 ** 12.4);
    expect(reading()).toBe("12");
    cleanup();
    const answer = { grinder_id: 1, setting: "14", reachable: true, match: "flow" };
    rails(300 * 1.05 ** 12.4, { answers: [answer] });
    expect(reading()).toBe("14");
    cleanup();
    rails(300 * 1.05 ** 12.4, { answers: [answer], turned: { id: 1, setting: "9" } });
    expect(reading()).toBe("9");
  });

  it("say what is out of reach, and why a grinder has no rail", () => {
    rails(2400);
    expect(reading()).toContain("not reached");
    cleanup();
    rails(500, { grinders: [grinder({ no_curve: "Measure two settings." })] });
    expect(byText("Measure two settings.")).toBeTruthy();
    expect(screen.queryByTestId("rail-Arlsmoor")).toBeNull();
  });

  it("take the size under the finger, by the scale that is drawn, and stop at its ends", () => {
    const { container } = rails(600);
    const svg = container.querySelector("svg")!;
    const tick = (um: number) => at(screen.getByText(um.toLocaleString("en"), { selector: ".tick[y]" }), "x")[0]!;
    const [a, b] = [tick(500), tick(1000)];
    fireEvent.pointerDown(svg, { clientX: (a + b) / 2, pointerId: 1 });
    // Halfway on a logarithmic axis is the geometric mean.
    expect(setSize.mock.calls[0]![0]).toBeCloseTo(Math.sqrt(500 * 1000), 0);
    fireEvent.pointerMove(svg, { clientX: WIDTH + 500, buttons: 1, pointerId: 1 });
    fireEvent.pointerMove(svg, { clientX: a, buttons: 0, pointerId: 1 });
    expect(setSize).toHaveBeenCalledTimes(2);
    expect(setSize.mock.calls[1]![0]).toBeLessThanOrEqual(2600);
    // On the names a press chooses a grinder and moves nothing.
    fireEvent.pointerDown(svg, { clientX: 20, pointerId: 1 });
    expect(setSize).toHaveBeenCalledTimes(2);
    const name = screen.getByRole("button");
    fireEvent.click(name);
    fireEvent.keyDown(name, { key: "Enter" });
    expect(choose.mock.calls).toEqual([[1], [1]]);
  });

  it("label marks so that no two labels meet", () => {
    rails(600);
    const labels = screen
      .getAllByText(/^\d+$/, { selector: ".tick" })
      .filter((t) => marks.some((m) => m.setting === t.textContent))
      .map((t) => at(t, "x")[0]!)
      .sort((p, q) => p - q);
    expect(labels.length).toBeGreaterThan(3);
    labels.slice(1).forEach((x, i) => expect(x - labels[i]!).toBeGreaterThan(12));
  });
});

describe("a slip's small curve", () => {
  it("keeps the shape, its peak at the top, and nothing beyond its frame", () => {
    const size = [30, 100, 300, 600, 1200, 3000];
    const { container } = render(
      <MiniCurve size={size} density={[0.9, 0.1, 0.4, 0.8, 0.2, 0.1]} width={200} height={60} />,
    );
    const points = numbers(container.querySelector("path:not(.hair)")!.getAttribute("d"));
    const [x, y] = [points.filter((_, i) => i % 2 === 0), points.filter((_, i) => i % 2)];
    expect(x.length).toBe(4);
    expect([Math.min(...x) >= 0, Math.max(...x) <= 200]).toEqual([true, true]);
    expect(y.indexOf(Math.min(...y))).toBe(2);
    cleanup();
    expect(render(<MiniCurve size={[]} density={[]} />).container.querySelectorAll("path").length).toBe(1);
  });
});
