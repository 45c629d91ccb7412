import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { useOutlines } from "../../api/hooks";
import type { Band } from "../../charts/GrainRuler";
import { useSize } from "../../charts/scales";

interface View {
  /** Screen px per picture px. */
  zoom: number;
  /** Picture px in the middle of the screen. */
  x: number;
  y: number;
}

const TYPICAL_GROUND_PX = 34;
const OUTLINED_FROM_PX = 9;

interface Props {
  sample: Schemas["SampleDetail"];
  index: number;
  held: Band;
  /** A fixed scale at first; else typical grounds are shown at a comfortable size. */
  pxPerMm?: number;
}

/** The photo with the outlines of its grounds; drag to move, wheel or + and − to zoom. */
export function PhotoView({ sample, index, held, pxPerMm }: Props) {
  const photo = sample.photos[index]!;
  const outlines = useOutlines(sample.id, index).data;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [ref, size] = useSize();
  const picture = usePicture(`/api/photos/${photo.content_hash}`);
  const close = pxPerMm ? (pxPerMm * photo.um_per_px) / 1000 : TYPICAL_GROUND_PX / (sample.d50_um / photo.um_per_px);
  const [view, setView] = useState<View>({ zoom: close, x: photo.width_px * 0.45, y: photo.height_px * 0.45 });
  useEffect(() => {
    setView({ zoom: close, x: photo.width_px * 0.45, y: photo.height_px * 0.45 });
  }, [photo.content_hash, close, photo.width_px, photo.height_px]);

  const boxes = useMemo(() => (outlines ? boxesOf(outlines) : null), [outlines]);
  const least = Math.max(size.width / photo.width_px, size.height / photo.height_px) || 0.1;
  const limited = useCallback(
    (v: View): View => {
      const zoom = Math.min(6, Math.max(Math.min(least, close), v.zoom));
      const halfW = size.width / 2 / zoom, halfH = size.height / 2 / zoom;
      const within = (p: number, half: number, full: number) => (half * 2 >= full ? full / 2 : Math.min(full - half, Math.max(half, p)));
      return { zoom, x: within(v.x, halfW, photo.width_px), y: within(v.y, halfH, photo.height_px) };
    },
    [least, close, size, photo],
  );

  useEffect(() => {
    const ctx = canvas.current?.getContext("2d");
    if (!ctx || !size.width) return;
    const ratio = window.devicePixelRatio || 1;
    ctx.canvas.width = size.width * ratio;
    ctx.canvas.height = size.height * ratio;
    const v = limited(view);
    const left = v.x - size.width / 2 / v.zoom, top = v.y - size.height / 2 / v.zoom;
    ctx.setTransform(ratio * v.zoom, 0, 0, ratio * v.zoom, -left * v.zoom * ratio, -top * v.zoom * ratio);
    // The picture may be sent smaller than it is; outlines are in its full pixels, whose centres lie at whole numbers.
    if (picture) ctx.drawImage(picture, -0.5, -0.5, photo.width_px, photo.height_px);
    if (outlines && boxes) {
      const seen: [number, number, number, number] = [left, top, left + size.width / v.zoom, top + size.height / v.zoom];
      draw(ctx, outlines, boxes, seen, v.zoom, held, (OUTLINED_FROM_PX / v.zoom) * photo.um_per_px);
    }
  }, [picture, outlines, boxes, view, size, held, limited, photo]);

  function onWheel(e: React.WheelEvent) {
    const box = e.currentTarget.getBoundingClientRect();
    zoomAt(Math.exp(-e.deltaY * 0.0016), e.clientX - box.left, e.clientY - box.top);
  }
  function zoomAt(factor: number, px = size.width / 2, py = size.height / 2) {
    setView((old) => {
      const v = limited(old);
      const zoom = limited({ ...v, zoom: v.zoom * factor }).zoom;
      const ox = px - size.width / 2, oy = py - size.height / 2;
      return limited({ zoom, x: v.x + ox / v.zoom - ox / zoom, y: v.y + oy / v.zoom - oy / zoom });
    });
  }
  function onMove(e: React.PointerEvent) {
    if (e.buttons !== 1) return;
    setView((old) => {
      const v = limited(old);
      return limited({ ...v, x: v.x - e.movementX / v.zoom, y: v.y - e.movementY / v.zoom });
    });
  }
  function onKey(e: React.KeyboardEvent) {
    const v = limited(view);
    const step = 60 / v.zoom;
    const moves: Record<string, View> = {
      ArrowLeft: { ...v, x: v.x - step }, ArrowRight: { ...v, x: v.x + step },
      ArrowUp: { ...v, y: v.y - step }, ArrowDown: { ...v, y: v.y + step },
    };
    if (e.key === "+" || e.key === "=") zoomAt(1.3);
    else if (e.key === "-") zoomAt(1 / 1.3);
    else if (e.key === "0") setView(limited({ ...v, zoom: 0 }));
    else if (moves[e.key]) setView(limited(moves[e.key]!));
    else return;
    e.preventDefault();
  }

  return (
    <div ref={ref} style={{ position: "relative", height: "100%", background: "var(--hairline)", overflow: "hidden" }}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={`Photo ${photo.file_name} with ${outlines?.diameter_um.length ?? 0} outlined grounds; arrows move, plus and minus zoom, 0 shows all`}
        style={{ width: "100%", height: "100%", display: "block", cursor: "grab", touchAction: "none" }}
        onWheel={onWheel}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={onMove}
        onKeyDown={onKey}
        onDoubleClick={() => setView(limited({ ...view, zoom: 0 }))}
      />
      {size.width > 0 && <ScaleBar pxPerMm={(1000 / photo.um_per_px) * limited(view).zoom} />}
      <div style={{ position: "absolute", right: 12, bottom: 12, display: "flex", gap: 4, background: "var(--slip)", borderRadius: 6, padding: "0 4px" }}>
        <button className="icon-act" aria-label="Zoom out" onClick={() => zoomAt(1 / 1.4)}>−</button>
        <button className="icon-act" aria-label="Show all" onClick={() => setView(limited({ ...view, zoom: 0 }))} style={{ fontSize: 13 }}>all</button>
        <button className="icon-act" aria-label="Zoom in" onClick={() => zoomAt(1.4)}>+</button>
      </div>
      {!picture && <div style={{ position: "absolute", inset: 0, display: "grid", placeContent: "center" }} className="quiet">Fetching the photo</div>}
    </div>
  );
}

function ScaleBar({ pxPerMm }: { pxPerMm: number }) {
  const mm = [0.2, 0.5, 1, 2, 5, 10, 20].find((v) => v * pxPerMm > 70) ?? 20;
  const width = mm * pxPerMm;
  return (
    <div style={{ position: "absolute", left: 12, bottom: 12, background: "var(--slip)", opacity: 0.94, borderRadius: 6, padding: "7px 10px", display: "flex", gap: 8, alignItems: "center", fontSize: 13 }}>
      <svg width={width + 2} height="12" stroke="var(--ink)" strokeWidth="1.6" fill="none" aria-hidden="true">
        <path d={`M1 1v10M1 6h${width}M${width + 1} 1v10`} />
      </svg>
      {mm} mm
    </div>
  );
}

function usePicture(src: string): HTMLImageElement | null {
  const [loaded, setLoaded] = useState<{ src: string; image: HTMLImageElement } | null>(null);
  useEffect(() => {
    const image = new Image();
    image.onload = () => setLoaded({ src, image });
    image.src = src;
    return () => { image.onload = null; };
  }, [src]);
  return loaded?.src === src ? loaded.image : null;
}

function boxesOf(o: Schemas["Outlines"]): Float32Array {
  const boxes = new Float32Array(o.diameter_um.length * 4);
  for (let i = 0; i < o.diameter_um.length; i++) {
    let x0 = Infinity, y0 = Infinity, x1 = -Infinity, y1 = -Infinity;
    for (let k = o.start[i]!; k < o.start[i + 1]!; k++) {
      x0 = Math.min(x0, o.x_px[k]!); x1 = Math.max(x1, o.x_px[k]!);
      y0 = Math.min(y0, o.y_px[k]!); y1 = Math.max(y1, o.y_px[k]!);
    }
    boxes.set([x0, y0, x1, y1], i * 4);
  }
  return boxes;
}

function draw(ctx: CanvasRenderingContext2D, o: Schemas["Outlines"], boxes: Float32Array, seen: [number, number, number, number], zoom: number, held: Band, leastUm: number) {
  const style = getComputedStyle(document.documentElement);
  const plain = new Path2D(), lit = new Path2D();
  for (let i = 0; i < o.diameter_um.length; i++) {
    const b = i * 4;
    if (boxes[b + 2]! < seen[0] || boxes[b]! > seen[2] || boxes[b + 3]! < seen[1] || boxes[b + 1]! > seen[3]) continue;
    const d = o.diameter_um[i]!;
    const isLit = held !== null && d >= held[0] && d <= held[1];
    // An outline round a speck would hide it.
    if (d < leastUm && !isLit) continue;
    const path = isLit ? lit : plain;
    const start = o.start[i]!, end = o.start[i + 1]!;
    if (end - start < 3) continue;
    path.moveTo(o.x_px[start]!, o.y_px[start]!);
    for (let k = start + 1; k < end; k++) path.lineTo(o.x_px[k]!, o.y_px[k]!);
    path.closePath();
  }
  ctx.lineJoin = "round";
  ctx.lineWidth = 1.4 / zoom;
  ctx.strokeStyle = "#3f9c7f";
  ctx.stroke(plain);
  ctx.lineWidth = 2.4 / zoom;
  ctx.strokeStyle = style.getPropertyValue("--persimmon");
  ctx.stroke(lit);
}
