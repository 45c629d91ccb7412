import { useCallback, useState } from "react";

/** The size of an element, followed as it changes. */
export function useSize(): [(node: HTMLElement | null) => void, { width: number; height: number }] {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [observer] = useState(
    () =>
      new ResizeObserver((entries) => {
        const box = entries[0]?.contentRect;
        if (box) setSize({ width: Math.round(box.width), height: Math.round(box.height) });
      }),
  );
  const ref = useCallback(
    (node: HTMLElement | null) => {
      observer.disconnect();
      if (node) observer.observe(node);
    },
    [observer],
  );
  return [ref, size];
}
