import { Form } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useSize } from "../../charts/useSize";
import { Key, Typed } from "../../ui/parts";
import { readNumber } from "../../ui/words";
import { cssVariables } from "../../ui/cssVariables";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.scaleByHand;

type Point = { x: number; y: number };
interface Props {
  file: File;
  measure: (scale: string) => void;
  leave: () => void;
}

const LOUPE_PX = 150,
  LOUPE_ZOOM = 6,
  NUDGE_PX = 1;

/** A photo without the card: two points a known distance apart, dragged on the picture, or a round object on it. */
export function ScaleByHand({ file, measure, leave }: Props) {
  const src = useMemo(() => URL.createObjectURL(file), [file]);
  useEffect(() => () => URL.revokeObjectURL(src), [src]);
  const [ref, size] = useSize();
  const [way, setWay] = useState<"points" | "disc">("points");
  const [picture, setPicture] = useState<HTMLImageElement | null>(null);
  const [unseen, setUnseen] = useState(false);
  const [points, setPoints] = useState<[Point, Point] | null>(null);
  const [active, setActive] = useState<0 | 1 | null>(null);
  const [distance, setDistance] = useState("");
  const [diameter, setDiameter] = useState("");
  const [thickness, setThickness] = useState("");
  const image = useRef<HTMLImageElement>(null);
  const fit =
    picture && size.width
      ? Math.min((size.width - 24) / picture.naturalWidth, (size.height - 24) / picture.naturalHeight)
      : 0;

  const ready = way === "points" ? points !== null && readNumber(distance, "mm") > 0 : readNumber(diameter, "mm") >= 3;
  const wrong = (text: string) =>
    text.trim() && !(readNumber(text, "mm") > 0) ? TEXT.typeMillimetresForExample : null;

  function go() {
    if (!ready) return;
    if (way === "disc")
      measure(
        `disc:${readNumber(diameter, "mm")}${readNumber(thickness, "mm") > 0 ? `,${readNumber(thickness, "mm")}` : ""}`,
      );
    else if (points)
      measure(
        `points:${points[0].x.toFixed(2)},${points[0].y.toFixed(2)},${points[1].x.toFixed(2)},${points[1].y.toFixed(2)},${readNumber(distance, "mm")}`,
      );
  }
  function drag(which: 0 | 1, e: React.PointerEvent) {
    if (e.buttons !== 1 || !image.current || !picture) return;
    const box = image.current.getBoundingClientRect();
    // (0, 0) is the middle of the first pixel.
    move(which, { x: (e.clientX - box.left) / fit - 0.5, y: (e.clientY - box.top) / fit - 0.5 });
  }
  function move(which: 0 | 1, to: Point) {
    if (!picture || !points) return;
    const kept = {
      x: Math.min(picture.naturalWidth - 1, Math.max(0, to.x)),
      y: Math.min(picture.naturalHeight - 1, Math.max(0, to.y)),
    };
    setPoints(which === 0 ? [kept, points[1]] : [points[0], kept]);
  }
  function nudge(which: 0 | 1, e: React.KeyboardEvent) {
    const by: Record<string, Point> = {
      ArrowLeft: { x: -1, y: 0 },
      ArrowRight: { x: 1, y: 0 },
      ArrowUp: { x: 0, y: -1 },
      ArrowDown: { x: 0, y: 1 },
    };
    const step = by[e.key];
    if (!step || !points) return;
    const far = e.shiftKey ? 10 * NUDGE_PX : NUDGE_PX;
    move(which, { x: points[which].x + far * step.x, y: points[which].y + far * step.y });
    e.preventDefault();
  }

  return (
    <div className="station-page">
      <div className="thing by-hand" ref={ref}>
        {unseen && <p className="quiet">{TEXT.thisBrowserCannotShowThis}</p>}
        <div className="by-hand-picture">
          <img
            ref={image}
            src={src}
            alt={file.name}
            draggable={false}
            hidden={!fit}
            style={cssVariables({ "--picture-width": fit && picture ? `${picture.naturalWidth * fit}px` : undefined })}
            onError={() => setUnseen(true)}
            onLoad={(e) => {
              const shown = e.currentTarget;
              setPicture(shown);
              setPoints([
                { x: shown.naturalWidth * 0.2, y: shown.naturalHeight * 0.5 },
                { x: shown.naturalWidth * 0.8, y: shown.naturalHeight * 0.5 },
              ]);
            }}
          />
          {way === "points" && points && fit > 0 && (
            <svg width={picture!.naturalWidth * fit} height={picture!.naturalHeight * fit}>
              <path
                d={`M${points.map((p) => `${(p.x + 0.5) * fit} ${(p.y + 0.5) * fit}`).join("L")}`}
                stroke="#2a2f5e"
                strokeWidth="2"
                fill="none"
              />
              {([0, 1] as const).map((k) => (
                <g
                  key={k}
                  tabIndex={0}
                  role="slider"
                  aria-label={k === 0 ? TEXT.firstPoint : TEXT.secondPoint}
                  aria-valuenow={Math.round(points[k].x)}
                  data-testid={`point-${k}`}
                  aria-valuetext={TEXT.acrossDownArrowKeysMoveIt(Math.round(points[k].x), Math.round(points[k].y))}
                  transform={`translate(${(points[k].x + 0.5) * fit} ${(points[k].y + 0.5) * fit})`}
                  className="moves"
                  onPointerDown={(e) => {
                    e.currentTarget.setPointerCapture(e.pointerId);
                    setActive(k);
                  }}
                  onPointerMove={(e) => drag(k, e)}
                  onPointerUp={() => setActive(null)}
                  onFocus={() => setActive(k)}
                  onBlur={() => setActive(null)}
                  onKeyDown={(e) => nudge(k, e)}
                >
                  <circle r="22" fill="transparent" />
                  <circle r="10" fill="none" stroke="#ffffff" strokeWidth="4" />
                  <circle r="10" fill="none" stroke="#b8431f" strokeWidth="2" />
                  <path d="M-16 0H-4M4 0H16M0-16V-4M0 4V16" stroke="#b8431f" strokeWidth="1.5" />
                </g>
              ))}
            </svg>
          )}
          {active !== null && points && picture && (
            <Loupe
              picture={picture}
              at={points[active]}
              side={points[active].x * fit > size.width / 2 ? "left" : "right"}
            />
          )}
        </div>
      </div>
      <Form onFinish={() => go()} className="margin" aria-label={TEXT.scaleByHand}>
        <h2>{TEXT.theScaleByHand}</h2>
        <Choice
          label={TEXT.whereTheScaleComesFrom}
          className="around-m"
          options={[
            { value: "points", label: TEXT.twoPoints },
            { value: "disc", label: TEXT.aRoundObject },
          ]}
          value={way}
          choose={setWay}
        />
        {way === "points" ? (
          <>
            <p className="said">{TEXT.dragTheTwoRingsOntoTwoPlaces}</p>
            <Typed
              label={TEXT.distanceBetweenThem}
              value={distance}
              onChange={setDistance}
              unit="mm"
              trouble={wrong(distance)}
            />
          </>
        ) : (
          <>
            <p className="said">{TEXT.aCoinOrLidLiesWholeOnThePaper}</p>
            <Typed label={TEXT.diameter} value={diameter} onChange={setDiameter} unit="mm" trouble={wrong(diameter)} />
            <div className="above-m">
              <Typed
                small
                label={TEXT.thicknessIfYouKnowIt}
                value={thickness}
                onChange={setThickness}
                unit="mm"
                trouble={wrong(thickness)}
              />
            </div>
          </>
        )}
        <p className="said above-l">{TEXT.eitherWayThePhoneMustHave}</p>
        <button className="main-act above-s" type="submit" disabled={!ready}>
          {TEXT.measure} <Key>{TEXT.enter}</Key>
        </button>
        <button className="act later" type="button" onClick={leave}>
          {TEXT.leave}
        </button>
      </Form>
    </div>
  );
}

function Loupe({ picture, at, side }: { picture: HTMLImageElement; at: Point; side: "left" | "right" }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const ctx = canvas.current?.getContext("2d");
    if (!ctx) return;
    const seen = LOUPE_PX / LOUPE_ZOOM;
    ctx.imageSmoothingEnabled = false;
    ctx.clearRect(0, 0, LOUPE_PX, LOUPE_PX);
    ctx.drawImage(picture, at.x + 0.5 - seen / 2, at.y + 0.5 - seen / 2, seen, seen, 0, 0, LOUPE_PX, LOUPE_PX);
    ctx.strokeStyle = "#b8431f";
    ctx.beginPath();
    ctx.moveTo(LOUPE_PX / 2, 0);
    ctx.lineTo(LOUPE_PX / 2, LOUPE_PX);
    ctx.moveTo(0, LOUPE_PX / 2);
    ctx.lineTo(LOUPE_PX, LOUPE_PX / 2);
    ctx.stroke();
  }, [picture, at]);
  return (
    <canvas
      ref={canvas}
      width={LOUPE_PX}
      height={LOUPE_PX}
      data-testid="loupe"
      aria-hidden="true"
      className="loupe"
      data-side={side}
    />
  );
}
