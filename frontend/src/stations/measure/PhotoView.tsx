import { useRef, useState, useEffect, useCallback } from "react";
import type { Schemas } from "../../api/client";
import type { Band } from "../../charts/grainRuler/curve";
import { useSize } from "../../charts/useSize";
import { Key } from "../../ui/parts";
import { ScaleBar, TintLegend } from "./PhotoOverlays";
import { useGrounds, groundAt, type Ground } from "./grounds";
import { drawTint, drawGrounds, drawMarks } from "./photoDrawing";
import { usePicture } from "./usePicture";
import { usePinch } from "./usePinch";
import type { Tool } from "./useReview";
import { WORDS } from "./words";

const TEXT = WORDS.photoView;

interface View {
  /** Screen px per picture px. */
  zoom: number;
  /** Picture px in the middle of the screen. */
  x: number;
  y: number;
}

const TYPICAL_GROUND_PX = 34;

const OUTLINED_FROM_PX = 9;

const CLICK_PX = 4;

const NONE: ReadonlySet<number> = new Set();

interface Props {
  sample: Schemas["SampleDetail"];
  index: number;
  held: Band;
  /** A fixed scale at first; else typical grounds are shown at a comfortable size. */
  pxPerMm?: number;
  picked?: ReadonlySet<number>;
  tool?: Tool;
  /** Where a finding shows, px of the photo. */
  place?: number[] | null;
  /** Whether grounds, chaff, shadows and what was left out are tinted; without a setter there is no switch. */
  tinted?: boolean;
  setTinted?: (on: boolean) => void;
  onPick?: (ground: Ground | null, more: boolean) => void;
  onDrawn?: (tool: Tool, points: [number, number][], under: Ground | null) => void;
}

/** The photo with the outlines of its grounds; drag to move, wheel or + and − to zoom, click a ground to pick it. */
export function PhotoView({
  sample,
  index,
  held,
  pxPerMm,
  picked = NONE,
  tool = "move",
  place = null,
  tinted = false,
  setTinted,
  onPick,
  onDrawn,
}: Props) {
  const photo = sample.photos[index]!;
  const grounds = useGrounds(sample, index);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [ref, size] = useSize();
  const picture = usePicture(`/api/photos/${photo.content_hash}`);
  const close = pxPerMm ? (pxPerMm * photo.um_per_px) / 1000 : TYPICAL_GROUND_PX / (sample.d50_um / photo.um_per_px);
  const start = useRef(close);
  const [view, setView] = useState<View>({ zoom: close, x: photo.width_px * 0.45, y: photo.height_px * 0.45 });
  const [drawn, setDrawn] = useState<[number, number][]>([]);
  const pressed = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  useEffect(() => {
    setView({ zoom: start.current, x: photo.width_px * 0.45, y: photo.height_px * 0.45 });
  }, [photo.content_hash, photo.width_px, photo.height_px]);

  const least = Math.max(size.width / photo.width_px, size.height / photo.height_px) || 0.1;
  const limited = useCallback(
    (v: View): View => {
      const zoom = Math.min(6, Math.max(Math.min(least, start.current), v.zoom));
      const halfW = size.width / 2 / zoom,
        halfH = size.height / 2 / zoom;
      const within = (p: number, half: number, full: number) =>
        half * 2 >= full ? full / 2 : Math.min(full - half, Math.max(half, p));
      return { zoom, x: within(v.x, halfW, photo.width_px), y: within(v.y, halfH, photo.height_px) };
    },
    [least, size, photo],
  );
  useEffect(() => {
    if (!place || !size.width) return;
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = place;
    setView({
      zoom: Math.min(2, (0.6 * size.width) / Math.max(x1 - x0, 1), (0.6 * size.height) / Math.max(y1 - y0, 1)),
      x: (x0 + x1) / 2,
      y: (y0 + y1) / 2,
    });
  }, [place, size.width, size.height]);

  useEffect(() => {
    const ctx = canvas.current?.getContext("2d");
    if (!ctx || !size.width) return;
    const ratio = window.devicePixelRatio || 1;
    ctx.canvas.width = size.width * ratio;
    ctx.canvas.height = size.height * ratio;
    const v = limited(view);
    const left = v.x - size.width / 2 / v.zoom,
      top = v.y - size.height / 2 / v.zoom;
    ctx.setTransform(ratio * v.zoom, 0, 0, ratio * v.zoom, -left * v.zoom * ratio, -top * v.zoom * ratio);
    // The picture may be sent smaller than it is; outlines are in its full pixels, whose centres lie at whole numbers.
    if (picture) ctx.drawImage(picture, -0.5, -0.5, photo.width_px, photo.height_px);
    const marked = { held, picked, drawn, place };
    if (grounds && tinted)
      drawTint(ctx, grounds, [left, top, left + size.width / v.zoom, top + size.height / v.zoom], v.zoom);
    if (grounds)
      drawGrounds(
        ctx,
        grounds,
        [left, top, left + size.width / v.zoom, top + size.height / v.zoom],
        v.zoom,
        marked,
        (OUTLINED_FROM_PX / v.zoom) * photo.um_per_px,
      );
    drawMarks(ctx, photo, v.zoom, marked, v.zoom > 0.5);
  }, [picture, grounds, view, size, held, picked, drawn, place, tinted, limited, photo]);

  function toPhoto(e: { clientX: number; clientY: number }): [number, number] {
    const box = canvas.current!.getBoundingClientRect();
    const v = limited(view);
    return [
      v.x + (e.clientX - box.left - size.width / 2) / v.zoom,
      v.y + (e.clientY - box.top - size.height / 2) / v.zoom,
    ];
  }
  function onWheel(e: React.WheelEvent) {
    const box = e.currentTarget.getBoundingClientRect();
    zoomAt(Math.exp(-e.deltaY * 0.0016), e.clientX - box.left, e.clientY - box.top);
  }
  function zoomAt(factor: number, px = size.width / 2, py = size.height / 2) {
    setView((old) => {
      const v = limited(old);
      const zoom = limited({ ...v, zoom: v.zoom * factor }).zoom;
      const ox = px - size.width / 2,
        oy = py - size.height / 2;
      return limited({ zoom, x: v.x + ox / v.zoom - ox / zoom, y: v.y + oy / v.zoom - oy / zoom });
    });
  }
  function moveBy(dx: number, dy: number) {
    setView((old) => {
      const v = limited(old);
      return limited({ ...v, x: v.x - dx / v.zoom, y: v.y - dy / v.zoom });
    });
  }
  const pinch = usePinch(zoomAt, moveBy);
  function onDown(e: React.PointerEvent) {
    e.currentTarget.setPointerCapture(e.pointerId);
    if (pinch.down(e)) {
      // The first finger was no tap and drew nothing.
      pressed.current = null;
      setDrawn([]);
      return;
    }
    pressed.current = { x: e.clientX, y: e.clientY, moved: false };
    if (tool !== "move") setDrawn([toPhoto(e)]);
  }
  function onMove(e: React.PointerEvent) {
    if (pinch.move(e)) return;
    const from = pressed.current;
    if (e.buttons !== 1 || !from) return;
    if (Math.hypot(e.clientX - from.x, e.clientY - from.y) > CLICK_PX) from.moved = true;
    if (tool === "split") setDrawn((line) => [line[0] ?? toPhoto(e), toPhoto(e)]);
    else if (tool === "lasso") setDrawn((line) => [...line, toPhoto(e)]);
    else if (from.moved) moveBy(e.movementX, e.movementY);
  }
  function onUp(e: React.PointerEvent) {
    pinch.up(e);
    const from = pressed.current;
    pressed.current = null;
    if (!from) return;
    const reach = 6 / limited(view).zoom;
    if (tool !== "move" && from.moved) {
      const end = toPhoto(e);
      const points = tool === "split" ? [drawn[0] ?? end, end] : [...drawn, end];
      const [a, b] = [points[0]!, points.at(-1)!];
      onDrawn?.(tool, points, groundAt(grounds ?? [], (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, reach));
    } else if (!from.moved) onPick?.(groundAt(grounds ?? [], ...toPhoto(e), reach), e.shiftKey);
    setDrawn([]);
  }
  function onKey(e: React.KeyboardEvent) {
    const v = limited(view);
    const step = 60 / v.zoom;
    const moves: Record<string, View> = {
      ArrowLeft: { ...v, x: v.x - step },
      ArrowRight: { ...v, x: v.x + step },
      ArrowUp: { ...v, y: v.y - step },
      ArrowDown: { ...v, y: v.y + step },
    };
    if (e.key === "+" || e.key === "=") zoomAt(1.3);
    else if (e.key === "-") zoomAt(1 / 1.3);
    else if (e.key === "0") setView(limited({ ...v, zoom: 0 }));
    else if (e.key === "Escape") onPick?.(null, false);
    else if (moves[e.key]) setView(limited(moves[e.key]!));
    else return;
    e.preventDefault();
  }

  const shown = limited(view);
  return (
    <div ref={ref} className="photo-view">
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        data-testid="photo"
        data-view={`${shown.zoom},${shown.x},${shown.y}`}
        aria-label={TEXT.photoWithOutlinedGroundsArrows(
          photo.file_name,
          grounds?.filter((g) => g.leftOut !== "shadow").length ?? 0,
        )}
        data-tool={tool}
        onWheel={onWheel}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={pinch.up}
        onKeyDown={onKey}
        onDoubleClick={() => tool === "move" && setView(limited({ ...view, zoom: 0 }))}
      />
      {size.width > 0 && <ScaleBar pxPerMm={(1000 / photo.um_per_px) * shown.zoom} />}
      <div className="photo-tools">
        {setTinted && (
          <button className="icon-act" aria-pressed={tinted} onClick={() => setTinted(!tinted)}>
            {TEXT.whatWasCounted} <Key>T</Key>
          </button>
        )}
        <button className="icon-act" aria-label={TEXT.zoomOut} onClick={() => zoomAt(1 / 1.4)}>
          −
        </button>
        <button className="icon-act" aria-label={TEXT.showAll} onClick={() => setView(limited({ ...view, zoom: 0 }))}>
          {TEXT.all}
        </button>
        <button className="icon-act" aria-label={TEXT.zoomIn} onClick={() => zoomAt(1.4)}>
          +
        </button>
      </div>
      {tinted && <TintLegend />}
      {!picture && <div className="quiet photo-loading">{TEXT.fetchingThePhoto}</div>}
    </div>
  );
}
