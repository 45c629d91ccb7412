import { useCallback, useEffect, useRef, useState } from "react";

const MUTE = "hakari.mute";
const AHEAD_S = [3, 2, 1];

// An open sound output takes power and, on a phone, the music of other apps: it is held only around the sounds.
const HELD_MS = 5_000;
const LATE_MS = 500;

let audio: AudioContext | null = null;
let rest: ReturnType<typeof setTimeout> | undefined;

function hold(): Promise<void> {
  clearTimeout(rest);
  rest = setTimeout(() => void audio?.suspend(), HELD_MS);
  return audio?.resume() ?? Promise.resolve();
}

/** Browsers let a page sound only after a touch: called when the brew is started. */
export function wakeSound() {
  try {
    audio ??= new AudioContext();
    void hold();
  } catch {
    audio = null;
  }
}

function play(on: AudioContext, hertz: number, seconds: number) {
  const tone = on.createOscillator(),
    loudness = on.createGain();
  tone.frequency.value = hertz;
  loudness.gain.setValueAtTime(0.25, on.currentTime);
  loudness.gain.exponentialRampToValueAtTime(0.001, on.currentTime + seconds);
  tone.connect(loudness).connect(on.destination);
  tone.start();
  tone.stop(on.currentTime + seconds);
}

function beep(hertz: number, seconds: number) {
  if (!audio) return;
  const on = audio,
    asked = performance.now(),
    held = hold();
  if (on.state === "running") play(on, hertz, seconds);
  // A browser that waits for a touch answers late; what was due then is no longer to be heard.
  else void held.then(() => performance.now() - asked < LATE_MS && play(on, hertz, seconds)).catch(() => undefined);
}

/** Whether this device is mute; kept per device. */
export function useMute(): [boolean, () => void] {
  const [mute, setMute] = useState(() => localStorage.getItem(MUTE) === "yes");
  const toggle = useCallback(() => {
    setMute((m) => {
      localStorage.setItem(MUTE, m ? "no" : "yes");
      return !m;
    });
  }, []);
  return [mute, toggle];
}

/** Three short sounds ahead of what is due and a long one with it, and a flash; true while the flash is on. */
export function useCues(dueS: number | null, elapsed: number | null, mute: boolean): boolean {
  const before = useRef<number | null>(null);
  const [flash, setFlash] = useState(false);
  useEffect(() => {
    const last = before.current;
    before.current = elapsed;
    if (dueS === null || elapsed === null || last === null || elapsed < last) return;
    const passed = (s: number) => last < s && elapsed >= s;
    if (passed(dueS)) {
      if (!mute) beep(880, 0.5);
      setFlash(true);
      setTimeout(() => setFlash(false), 600);
    } else if (!mute && AHEAD_S.some((s) => passed(dueS - s))) beep(620, 0.12);
  }, [dueS, elapsed, mute]);
  return flash;
}

/** Keep the screen on while `on`; false where this browser cannot. */
export function useAwake(on: boolean): boolean {
  const [able, setAble] = useState(true);
  useEffect(() => {
    if (!on) return;
    let lock: WakeLockSentinel | null = null;
    let gone = false;
    async function hold() {
      try {
        lock = await navigator.wakeLock.request("screen");
        if (gone) void lock.release();
        setAble(true);
      } catch {
        setAble(false);
      }
    }
    // The lock is lost when the page is hidden.
    const again = () => document.visibilityState === "visible" && void hold();
    void hold();
    document.addEventListener("visibilitychange", again);
    return () => {
      gone = true;
      document.removeEventListener("visibilitychange", again);
      void lock?.release();
    };
  }, [on]);
  return able;
}

export function toggleFullScreen() {
  if (document.fullscreenElement) void document.exitFullscreen();
  else void document.documentElement.requestFullscreen().catch(() => undefined);
}
