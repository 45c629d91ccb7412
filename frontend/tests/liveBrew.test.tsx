// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { KeptBrew } from "../src/api/brews";
import { useCues } from "../src/stations/brew/cues";
import { useElapsed, useLiveBrew } from "../src/stations/brew/useLiveBrew";

/** The server's end of a stream. */
class Stream extends EventTarget {
  static open: Stream[] = [];
  onerror: (() => void) | null = null;
  closed = false;
  constructor(readonly address: string) {
    super();
    Stream.open.push(this);
  }
  close() {
    this.closed = true;
  }
  says(what: string, data: object = {}) {
    act(() => void this.dispatchEvent(new MessageEvent(what, { data: JSON.stringify(data) })));
  }
}
const reading = (index: number, t_s: number[]) => ({
  index,
  t_s,
  weight_g: t_s.map((t) => 2 * t),
  elapsed_s: t_s.at(-1),
});

beforeEach(() => {
  vi.useFakeTimers();
  Stream.open = [];
  vi.stubGlobal("EventSource", Stream);
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

describe("a running brew", () => {
  it("has every reading once, however the line broke", () => {
    const heard = renderHook(() => useLiveBrew(4, true, () => undefined)).result;
    const stream = Stream.open[0]!;
    expect(stream.address).toBe("/api/brews/4/stream");
    stream.says("reading", reading(0, [0, 1, 2]));
    act(() => stream.onerror?.());
    expect(heard.current.lost).toBe(true);
    // It is taken up from a reading that was known already.
    stream.says("reading", reading(2, [2, 3]));
    stream.says("reading", reading(4, [4]));
    expect(heard.current.t_s).toEqual([0, 1, 2, 3, 4]);
    expect(heard.current.weight_g).toEqual([0, 2, 4, 6, 8]);
    expect(heard.current.lost).toBe(false);
  });

  it("is let go of when it is over, when another is shown, and when the page is left", () => {
    const over = vi.fn();
    const hook = renderHook(({ id }: { id: number }) => useLiveBrew(id, true, over), { initialProps: { id: 4 } });
    Stream.open[0]!.says("over");
    expect(over).toHaveBeenCalledOnce();
    expect(Stream.open[0]!.closed).toBe(true);
    hook.rerender({ id: 5 });
    hook.unmount();
    expect(Stream.open.map((s) => [s.address, s.closed])).toEqual([
      ["/api/brews/4/stream", true],
      ["/api/brews/5/stream", true],
    ]);
  });

  it("runs on by the page's own clock at the brew's own pace", () => {
    const kept = { elapsed_s: 20, speed: 10, heard_at: Date.now() } as KeptBrew;
    const clock = renderHook(() => {
      const heard = useLiveBrew(4, true, () => undefined);
      return useElapsed(heard, kept);
    }).result;
    expect(clock.current).toBeCloseTo(20);
    act(() => vi.advanceTimersByTime(500));
    expect(clock.current).toBeCloseTo(25, 1);
    Stream.open[0]!.says("reading", reading(0, [30]));
    act(() => vi.advanceTimersByTime(1000));
    expect(clock.current).toBeCloseTo(40, 0);
  });

  it("flashes once as the time that is due passes, and not for one that was missed by a jump back", () => {
    const cue = renderHook(({ at }: { at: number | null }) => useCues(45, at, true), {
      initialProps: { at: 44 as number | null },
    });
    expect(cue.result.current).toBe(false);
    cue.rerender({ at: 45.1 });
    expect(cue.result.current).toBe(true);
    act(() => vi.advanceTimersByTime(700));
    expect(cue.result.current).toBe(false);
    cue.rerender({ at: 46 });
    cue.rerender({ at: 30 });
    cue.rerender({ at: null });
    cue.rerender({ at: 50 });
    expect(cue.result.current).toBe(false);
  });
});
