import { useRef } from "react";

/** The newest answer there was: what cannot be worked out leaves the last one standing. */
export function useLastGood<T>(data: T | undefined): T | undefined {
  const last = useRef(data);
  if (data !== undefined) last.current = data;
  return last.current;
}
