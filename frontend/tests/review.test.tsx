// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { PointerEvent, ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Ground } from "../src/stations/measure/grounds";

const writes = { correct: vi.fn(), undo: vi.fn(), redo: vi.fn() };
vi.mock("../src/api/samples", () => ({ useSampleWrites: () => writes }));
const { ApiError } = await import("../src/api/client");
const { ActionsProvider, useActions, useTold } = await import("../src/app/actions");
const { useReview } = await import("../src/stations/measure/useReview");
const { usePinch } = await import("../src/stations/measure/usePinch");
const { keepBar, readBar } = await import("../src/stations/measure/checkBar");

const sample = { id: 5 } as Parameters<typeof useReview>[0];
const ground = (number: number) => ({ number, points: new Float32Array(), leftOut: "" }) as unknown as Ground;
const edit = (id: number, undone = false) => ({ id, kind: "exclude", words: `Edit ${id}.`, undone });
const Within = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={new QueryClient()}>
    <ActionsProvider>{children}</ActionsProvider>
  </QueryClientProvider>
);
const begun = () =>
  renderHook(() => ({ review: useReview(sample, 1), actions: useActions(), told: useTold() }), { wrapper: Within })
    .result;
const settle = () => act(async () => undefined);

beforeEach(() => {
  Object.values(writes).forEach((f) => f.mockReset());
  writes.correct.mockResolvedValue({ id: 5, review: { edits: [edit(1), edit(2)] } });
  localStorage.clear();
});
afterEach(cleanup);

describe("picking grounds", () => {
  it("takes one for another, several with the key held, and lets go by a second click or beside them", () => {
    const result = begun();
    const pick = (g: Ground | null, more = false) => act(() => result.current.review.pick(g, more));
    const picked = () => [...result.current.review.picked.keys()];
    pick(ground(3));
    pick(ground(7));
    expect(picked()).toEqual([7]);
    pick(ground(3), true);
    pick(ground(9), true);
    expect(picked()).toEqual([7, 3, 9]);
    pick(ground(3), true);
    expect(picked()).toEqual([7, 9]);
    pick(null);
    expect(picked()).toEqual([]);
  });
});

describe("a correction by hand", () => {
  it("goes out for the picked grounds of the photo that is shown, and lets them go when it is done", async () => {
    const result = begun();
    act(() => result.current.review.pick(ground(3), false));
    act(() => result.current.review.pick(ground(8), true));
    act(() => result.current.review.join());
    await settle();
    expect(writes.correct.mock.calls).toEqual([[5, { kind: "join", photo: 1, grounds: [3, 8], drawn_px: [] }]]);
    expect(result.current.review.picked.size).toBe(0);
    expect(result.current.told?.words).toBe("Edit 2.");
  });

  it("is taken back and done again by its own number", async () => {
    const result = begun();
    act(() => result.current.review.leavePhotoOut());
    await settle();
    act(() => result.current.actions.undo());
    await settle();
    act(() => result.current.actions.redo());
    await settle();
    expect([writes.undo.mock.calls, writes.redo.mock.calls]).toEqual([[[5, 2]], [[5, 2]]]);
  });

  it("that is refused says why, with its remedy, and keeps what was picked", async () => {
    const result = begun();
    act(() => result.current.review.pick(ground(3), false));
    writes.correct.mockRejectedValue(new ApiError(422, "apart", "They do not touch.", "Pick two that touch.", null));
    act(() => result.current.review.join());
    await settle();
    expect(result.current.review.trouble).toBe("They do not touch. Pick two that touch.");
    expect([...result.current.review.picked.keys()]).toEqual([3]);
    act(() => result.current.review.setTool("lasso"));
    expect(result.current.review.trouble).toBeNull();
  });

  it("by a stroke cuts the one picked ground, else the one under it, from the first point to the last", async () => {
    const result = begun();
    const stroke: [number, number][] = [[1, 2], [3, 3], [9, 8]]; // prettier-ignore
    act(() => result.current.review.drawn("split", stroke, ground(4)));
    act(() => result.current.review.pick(ground(6), false));
    act(() => result.current.review.drawn("split", stroke, ground(4)));
    act(() => result.current.review.drawn("split", stroke, null));
    await settle();
    const ends = [[1, 2], [9, 8]]; // prettier-ignore
    expect(writes.correct.mock.calls.map(([, c]) => [c.grounds, c.drawn_px])).toEqual([
      [[4], ends],
      [[6], ends],
      [[6], ends],
    ]);
    expect(result.current.review.tool).toBe("move");
  });

  it("by a lasso sends no more points than are taken, all round it", async () => {
    const result = begun();
    const circle = Array.from({ length: 1850 }, (_, i): [number, number] => [
      Math.cos((2 * Math.PI * i) / 1850),
      Math.sin((2 * Math.PI * i) / 1850),
    ]);
    act(() => result.current.review.drawn("lasso", circle, null));
    await settle();
    const sent: [number, number][] = writes.correct.mock.calls[0]![1].drawn_px;
    expect(sent.length).toBeLessThanOrEqual(400);
    const area = sent.reduce((sum, [x, y], i) => {
      const [nx, ny] = sent[(i + 1) % sent.length]!;
      return sum + (x * ny - nx * y) / 2;
    }, 0);
    expect(area).toBeCloseTo(Math.PI, 2);
  });

  it("in the list is switched off when it stands and on when it does not", () => {
    const result = begun();
    act(() => result.current.review.toggle(edit(1)));
    act(() => result.current.review.toggle(edit(2, true)));
    expect([writes.undo.mock.calls, writes.redo.mock.calls]).toEqual([[[5, 1]], [[5, 2]]]);
  });
});

describe("two fingers on the photo", () => {
  const box = { left: 10, top: 20 };
  const touch = (pointerId: number, x: number, y: number) =>
    ({
      pointerId,
      clientX: x + box.left,
      clientY: y + box.top,
      currentTarget: { getBoundingClientRect: () => box },
    }) as unknown as PointerEvent;

  it("keep the places under them: the picture follows as if it were held", () => {
    // A picture is seen at zoom · place + shift.
    let [zoom, dx, dy] = [1, 0, 0];
    const { result } = renderHook(() =>
      usePinch(
        (factor, px, py) => ([zoom, dx, dy] = [zoom * factor, px - factor * (px - dx), py - factor * (py - dy)]),
        (x, y) => ([dx, dy] = [dx + x, dy + y]),
      ),
    );
    const pinch = result.current;
    expect(pinch.down(touch(1, 100, 100))).toBe(false);
    expect(pinch.move(touch(1, 110, 100))).toBe(false);
    expect(pinch.down(touch(2, 210, 100))).toBe(true);
    for (let k = 1; k <= 50; k++) {
      pinch.move(touch(1, 110 - k, 100));
      pinch.move(touch(2, 210 + k, 100));
    }
    expect(zoom).toBeCloseTo(200 / 110, 6);
    // The middle of the two stayed where it was, so it still holds the same place.
    const middle = (160 - dx) / zoom;
    expect(middle).toBeGreaterThan(150);
    expect(middle).toBeLessThan(170);
    pinch.up(touch(2, 0, 0));
    expect(pinch.move(touch(1, 0, 0))).toBe(false);
  });

  it("side by side move it and leave its size", () => {
    const seen = { factor: 1, x: 0, y: 0 };
    const { result } = renderHook(() =>
      usePinch(
        (factor) => (seen.factor *= factor),
        (x, y) => ((seen.x += x), (seen.y += y)),
      ),
    );
    result.current.down(touch(1, 0, 0));
    result.current.down(touch(2, 60, 80));
    result.current.move(touch(1, 30, -12));
    result.current.move(touch(2, 90, 68));
    expect([seen.factor, seen.x, seen.y]).toEqual([expect.closeTo(1, 9), 30, -12]);
  });
});

describe("the check bar of a printed card", () => {
  it("is kept where it is a little long or short, and as it was drawn needs no correction", () => {
    expect([keepBar("39.2 mm"), readBar()]).toEqual([true, 39.2]);
    expect([keepBar("40"), readBar()]).toEqual([true, null]);
    keepBar("41,5");
    expect(readBar()).toBe(41.5);
    expect([keepBar(""), readBar()]).toEqual([true, null]);
  });

  it("far from 40 mm is a slip of the ruler, and what was kept stays", () => {
    keepBar("39");
    for (const typed of ["4", "36.7", "43.3", "long"]) expect(keepBar(typed)).toBe(false);
    expect(readBar()).toBe(39);
    localStorage.setItem("hakari.bar_mm", "no number");
    expect(readBar()).toBeNull();
  });
});
