import { useRef, type PointerEvent } from "react";

interface At {
  x: number;
  y: number;
}

/** Two fingers: how far they spread zooms about the middle between them, and the middle moves the picture. */
export function usePinch(
  zoomAt: (factor: number, px: number, py: number) => void,
  moveBy: (dx: number, dy: number) => void,
) {
  const fingers = useRef(new Map<number, At>());
  const place = (e: PointerEvent): At => {
    const box = e.currentTarget.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  return {
    /** A finger comes down; whether there are two now. */
    down(e: PointerEvent): boolean {
      fingers.current.set(e.pointerId, place(e));
      return fingers.current.size === 2;
    },
    /** A finger moves; whether it was one of two. */
    move(e: PointerEvent): boolean {
      if (fingers.current.size !== 2 || !fingers.current.has(e.pointerId)) return false;
      const before = [...fingers.current.values()];
      fingers.current.set(e.pointerId, place(e));
      const after = [...fingers.current.values()];
      const [was, is] = [between(before), between(after)];
      if (was.apart > 0) zoomAt(is.apart / was.apart, is.x, is.y);
      moveBy(is.x - was.x, is.y - was.y);
      return true;
    },
    up(e: PointerEvent) {
      fingers.current.delete(e.pointerId);
    },
  };
}

function between(two: At[]): At & { apart: number } {
  const [a, b] = [two[0]!, two[1]!];
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, apart: Math.hypot(a.x - b.x, a.y - b.y) };
}
