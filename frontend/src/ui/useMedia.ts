import { useCallback, useSyncExternalStore } from "react";

/** As wide as a phone; the style sheet speaks of the same width. */
const NARROW = "(max-width: 700px)";
const SMALL = "(max-width: 1000px)";
const TOUCH = "(pointer: coarse)";

/** Whether the window is as narrow as a phone's. */
export const useNarrow = () => useMedia(NARROW);

/** Whether the window is too narrow for two columns. */
export const useSmall = () => useMedia(SMALL);

/** Whether a finger is what points. */
export const useTouch = () => useMedia(TOUCH);

function useMedia(query: string): boolean {
  const watch = useCallback(
    (changed: () => void) => {
      const media = window.matchMedia(query);
      media.addEventListener("change", changed);
      return () => media.removeEventListener("change", changed);
    },
    [query],
  );
  return useSyncExternalStore(watch, () => window.matchMedia(query).matches);
}
