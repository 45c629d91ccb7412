// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

const tones: number[] = [];
let output: { state: string; blocked?: Promise<void> | undefined };
const opened = (one: typeof output) => (output = one);
vi.stubGlobal(
  "AudioContext",
  class {
    state = "running";
    currentTime = 0;
    destination = {};
    constructor() {
      opened(this);
    }
    resume = () => (output.blocked ?? Promise.resolve()).then(() => void (this.state = "running"));
    suspend = async () => void (this.state = "suspended");
    createGain = () => ({
      gain: { setValueAtTime: vi.fn(), exponentialRampToValueAtTime: vi.fn() },
      connect: (to: unknown) => to,
    });
    createOscillator = () => {
      const frequency = { value: 0 };
      return { frequency, connect: (to: unknown) => to, start: () => tones.push(frequency.value), stop: vi.fn() };
    };
  },
);
const { useAwake, useCues, useMute, wakeSound } = await import("../src/stations/brew/cues");
const { betterNext, CUE_WORDS, leanWords } = await import("../src/stations/measure/cueWords");
const [SHORT, LONG] = [620, 880];

beforeEach(() => {
  vi.useFakeTimers();
  tones.length = 0;
  localStorage.clear();
  wakeSound();
  output.state = "running";
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

/** The seconds of a running brew, one reading after the other. */
function heard(dueS: number | null, seconds: (number | null)[], mute = false) {
  const at: [number | null, number][] = [];
  const view = renderHook(({ now }) => useCues(dueS, now, mute), {
    initialProps: { now: seconds[0] ?? null },
  });
  for (const now of seconds) {
    const before = tones.length;
    view.rerender({ now });
    tones.slice(before).forEach((hertz) => at.push([now, hertz]));
  }
  return { at, flash: view.result.current };
}

describe("the sounds ahead of a step", () => {
  it("are three short ones and a long one with it, and a flash", () => {
    const { at, flash } = heard(30, [25, 26, 27, 28, 29, 30]);
    expect(at).toEqual([[27, SHORT], [28, SHORT], [29, SHORT], [30, LONG]]); // prettier-ignore
    expect(flash).toBe(true);
  });

  it("come once each, however the readings fall", () => {
    const steps = Array.from({ length: 80 }, (_, i) => 24 + i * 0.13);
    expect(heard(30, steps).at.map(([, hertz]) => hertz)).toEqual([SHORT, SHORT, SHORT, LONG]);
    tones.length = 0;
    // A late reading passes several at once: only what is due now is said.
    expect(heard(30, [25, 31]).at).toEqual([[31, LONG]]);
  });

  it("stay away where nothing is due, nothing runs, the clock was set back, or the page was opened later", () => {
    expect(heard(null, [29, 30, 31]).at).toEqual([]);
    expect(heard(30, [null, null]).at).toEqual([]);
    expect(heard(30, [40, 29.5, 29.6]).at).toEqual([]);
    expect(heard(30, [33, 34]).at).toEqual([]);
  });

  it("are left out where the device is mute; the flash is not, and it ends", () => {
    const view = renderHook(({ now }) => useCues(30, now, true), { initialProps: { now: 26 } });
    for (const now of [27, 28, 29, 30]) view.rerender({ now });
    expect([tones.length, view.result.current]).toEqual([0, true]);
    act(() => vi.advanceTimersByTime(700));
    expect(view.result.current).toBe(false);
  });

  it("hold the output of sound only while they sound", async () => {
    await vi.advanceTimersByTimeAsync(6_000);
    expect(output.state).toBe("suspended");
    const view = renderHook(({ now }) => useCues(30, now, false), { initialProps: { now: 20 } });
    for (const now of [21, 22, 23, 24, 25, 26, 27, 28, 29, 30]) {
      view.rerender({ now });
      await vi.advanceTimersByTimeAsync(1_000);
    }
    expect(tones).toEqual([SHORT, SHORT, SHORT, LONG]);
    expect(output.state).toBe("running");
    await vi.advanceTimersByTimeAsync(5_000);
    expect(output.state).toBe("suspended");
  });

  it("are not made up for later where the browser waits for a touch", async () => {
    await vi.advanceTimersByTimeAsync(6_000);
    let touched = () => {};
    output.blocked = new Promise((done) => (touched = done));
    heard(30, [29.5, 30]);
    await vi.advanceTimersByTimeAsync(2_000);
    touched();
    await vi.advanceTimersByTimeAsync(10);
    output.blocked = undefined;
    expect([output.state, tones]).toEqual(["running", []]);
  });

  it("are mute on this device until it is asked otherwise", () => {
    const first = renderHook(() => useMute());
    expect(first.result.current[0]).toBe(false);
    act(() => first.result.current[1]());
    expect(renderHook(() => useMute()).result.current[0]).toBe(true);
    act(() => first.result.current[1]());
    expect(renderHook(() => useMute()).result.current[0]).toBe(false);
  });
});

describe("the screen", () => {
  const release = vi.fn(async () => undefined);
  const request = vi.fn(async () => ({ release }));

  it("is held on while a brew runs, again after the page was hidden, and let go at the end", async () => {
    vi.stubGlobal("navigator", Object.assign(navigator, { wakeLock: { request } }));
    const view = renderHook(({ on }) => useAwake(on), { initialProps: { on: false } });
    expect(request).not.toHaveBeenCalled();
    view.rerender({ on: true });
    await act(async () => undefined);
    document.dispatchEvent(new Event("visibilitychange"));
    await act(async () => undefined);
    expect([request.mock.calls.length, view.result.current]).toEqual([2, true]);
    view.rerender({ on: false });
    expect(release).toHaveBeenCalled();
    document.dispatchEvent(new Event("visibilitychange"));
    expect(request).toHaveBeenCalledTimes(2);
  });

  it("says where it cannot be held", async () => {
    request.mockRejectedValue(new Error("no battery"));
    const view = renderHook(() => useAwake(true));
    await act(async () => undefined);
    expect(view.result.current).toBe(false);
  });
});

describe("what to do for a better photo", () => {
  const finding = (code: string, severity: string) => ({ code, severity }) as Parameters<typeof betterNext>[0][number];

  it("comes worst first, each once, and nothing where all is well", () => {
    const found = [finding("tilt", "note"), finding("blur", "problem"), finding("crowded", "warning")];
    const [first, second, third] = betterNext(found);
    expect([second, third]).toEqual([CUE_WORDS["spread-thinner"], CUE_WORDS.flatter]);
    expect(betterNext([found[1]!])).toEqual([first]);
    expect(betterNext([finding("dark-room", "warning"), finding("underexposed", "note")])).toEqual(["More light"]);
    expect(betterNext([])).toEqual([]);
    expect(betterNext([finding("not-known-yet", "problem")])).toEqual([]);
  });

  it("names the side of the phone that lies lower, by the larger lean", () => {
    const side = (x: number, y: number) => leanWords([x, y]).toLowerCase();
    expect(side(0.2, 0.1)).toContain("right");
    expect(side(-0.2, 0.1)).toContain("left");
    expect(side(0.1, 0.2)).toContain("bottom");
    expect(side(0.1, -0.2)).toContain("top");
    expect(leanWords(null)).toBe(CUE_WORDS.flatter);
  });
});
