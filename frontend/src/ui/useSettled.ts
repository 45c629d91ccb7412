import { useEffect, useState } from "react";

/** Text that follows only when it has rested for a moment, so that the server is not asked at every key. */
export function useSettled(text: string, restMs: number): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), restMs);
    return () => clearTimeout(timer);
  }, [text, restMs]);
  return settled;
}
