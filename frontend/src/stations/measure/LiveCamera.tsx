import { Checkbox } from "antd";
import { useEffect, useRef, useState } from "react";
import { ApiError, type Schemas } from "../../api/client";
import { Trouble } from "../../ui/parts";
import { betterNext, CUE_WORDS, leanWords, REFUSAL_CUES } from "./cueWords";
import { Narrowing, nextPhotoWords } from "./Narrowing";
import type { Upload } from "./upload";
import "./camera.css";
import { lookAtFrame } from "../../api/measurements";
import { WORDS } from "./words";

const TEXT = WORDS.liveCamera;

type Framing = Schemas["FramingView"];

const FRAME_LONG_SIDE_PX = 800;
const PAUSE_MS = 120;
/** How far a corner may move between two frames, as a share of the picture, before the hand is unsteady. */
const STEADY_SHARE = 0.012;
/** So many good frames one after the other, and the shutter fires. */
const FRAMES_TO_FIRE = 2;
const LEVEL_DEG = 12;
const TAKE_PHOTO_MS = 4000;

/** Whether this page may show a camera's live view: over HTTPS and on the computer itself. */
export const hasLiveView = () => window.isSecureContext && Boolean(navigator.mediaDevices?.getUserMedia);

interface Props {
  /** What became of the photos that were taken. */
  upload: Upload;
  /** The sample of this series, once there is one. */
  sample?: Schemas["SampleDetail"];
  taken: (photo: File) => void;
  leave: () => void;
  /** The phone's own camera, where the live view is refused. */
  cameraApp: () => void;
  fromFiles: () => void;
}

/**
 * The camera's live view, with the card found in it and what to do before the shutter fires by itself. It stays open for a
 * series: after each photo the card is to be shaken and spread again before the next is taken.
 */
export function LiveCamera({ upload, sample, taken, leave, cameraApp, fromFiles }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [error, setError] = useState<unknown>(null);
  const [framing, setFraming] = useState<Framing | null>(null);
  const [unsteady, setUnsteady] = useState(false);
  const [itself, setItself] = useState(true);
  const [waits, setWaits] = useState(false);
  const shooting = useRef(false);
  const good = useRef(0);
  /** Not armed until the card was moved, so that no pinch is taken twice. */
  const armed = useRef(true);
  const busy = upload.state.stage === "sending" || upload.state.stage === "measuring";
  const fires = useRef(itself && !busy);
  fires.current = itself && !busy;

  async function shoot() {
    if (shooting.current || busy || !video.current?.videoWidth) return;
    shooting.current = true;
    armed.current = false;
    const photo = await photoOf(video.current);
    if (photo) taken(photo);
    shooting.current = false;
  }
  const shootNow = useRef(shoot);
  shootNow.current = shoot;

  useEffect(() => {
    let stream: MediaStream | null = null;
    let gone = false;
    let timer = 0;
    let before: Framing | null = null;
    async function look() {
      const frame = video.current && (await frameOf(video.current));
      if (gone) return;
      if (frame) {
        try {
          const seen = await lookAtFrame(frame);
          if (gone) return;
          const moved = movedShare(before, seen) > STEADY_SHARE;
          before = seen;
          setFraming(seen);
          setUnsteady(moved);
          good.current = seen.ready && !moved ? good.current + 1 : 0;
          armed.current ||= !seen.ready || moved;
          setWaits(!armed.current);
          if (good.current >= FRAMES_TO_FIRE && fires.current && armed.current) {
            good.current = 0;
            void shootNow.current();
          }
        } catch (refusal) {
          // Without a server there are no cues; the shutter still works, and the photo waits.
          if (refusal instanceof ApiError) setFraming(null);
        }
      }
      timer = window.setTimeout(() => void look(), PAUSE_MS);
    }
    async function open() {
      try {
        stream = await navigator.mediaDevices.getUserMedia({
          video: { facingMode: "environment", width: { ideal: 4096 }, height: { ideal: 3072 } },
          audio: false,
        });
        if (gone || !video.current) return stream.getTracks().forEach((t) => t.stop());
        video.current.srcObject = stream;
        await video.current.play();
        void look();
      } catch {
        if (!gone)
          setError(new ApiError(0, "no-camera", TEXT.theCameraIsNotAllowedHere, TEXT.allowItInTheBrowserOrTake, null));
      }
    }
    void open();
    return () => {
      gone = true;
      clearTimeout(timer);
      stream?.getTracks().forEach((track) => track.stop());
    };
  }, []);

  const cue = unsteady && framing?.ready ? "steadier" : framing?.cues[0];
  const said = cue === "flatter" ? leanWords(framing?.lean_deg ?? null) : cue && CUE_WORDS[cue];
  return (
    <section className="camera" aria-label={TEXT.camera}>
      {error != null ? (
        <div className="camera-refused">
          <Trouble error={error} />
          <button className="main-act" onClick={cameraApp}>
            {TEXT.toUseTheCameraApp}
          </button>
        </div>
      ) : (
        <div className="camera-view">
          <video ref={video} playsInline muted data-testid="live-view" />
          {framing?.corners && video.current && (
            <CardCorners framing={framing} width={video.current.videoWidth} height={video.current.videoHeight} />
          )}
          {framing?.lean_deg && <Level lean={framing.lean_deg} />}
          <p className="camera-cue" role="status" data-testid="cue" data-ready={framing?.ready && !unsteady}>
            {framing === null
              ? TEXT.lookingForTheCard
              : (said ?? (busy || (waits && itself) ? "" : itself ? TEXT.holdStill : TEXT.goodTakeIt))}
          </p>
        </div>
      )}
      <Series upload={upload} sample={sample} />
      <ul className="camera-signs">
        <CameraSign name="Card" wrong={has(framing, "no-card", "card-cut-off", "closer")} framing={framing} />
        <CameraSign name="Level" wrong={has(framing, "flatter")} framing={framing} />
        <CameraSign name="Sharp" wrong={has(framing, "steadier") || unsteady} framing={framing} />
        <CameraSign name="Light" wrong={has(framing, "more-light", "less-light", "shadow")} framing={framing} />
        <CameraSign name="Spread" wrong={has(framing, "spread-thinner", "no-grounds")} framing={framing} />
      </ul>
      <Checkbox className="camera-itself" checked={itself} onChange={(e) => setItself(e.target.checked)}>
        {TEXT.takeItByItselfWhenAllIsGood}
      </Checkbox>
      <div className="camera-acts">
        <button className="act" onClick={leave}>
          {sample ? TEXT.done : TEXT.cancel}
        </button>
        <button
          className="shutter"
          onClick={() => void shoot()}
          aria-label={TEXT.takeThePhoto}
          disabled={error != null || busy}
        />
        <button className="act" onClick={fromFiles}>
          {TEXT.fromFiles}
        </button>
      </div>
    </section>
  );
}

/** What the series says so far: how wide the interval is, and whether it is narrow enough. */
function Series({ upload, sample }: { upload: Upload; sample?: Schemas["SampleDetail"] }) {
  const { state } = upload;
  if (state.stage === "refused") {
    const code = state.error instanceof ApiError ? state.error.code : "";
    return (
      <div className="camera-series" role="status">
        {REFUSAL_CUES[code] && <strong>{REFUSAL_CUES[code]}. </strong>}
        {state.error instanceof ApiError ? `${state.error.message} ${state.error.remedy}` : TEXT.itWasNotMeasured}
      </div>
    );
  }
  if (state.stage !== "idle")
    return (
      <div className="camera-series" role="status">
        {state.stage === "sending" ? TEXT.sending(Math.round(100 * state.share)) : TEXT.measuring}
      </div>
    );
  if (!sample) return null;
  const better = betterNext(sample.measurement.findings)[0];
  return (
    <div className="camera-series" role="status" data-testid="series">
      <b className="figure">{Math.round(sample.d50_um)} µm</b> {sample.more_photos.now}.{" "}
      {sample.more_photos.narrowing.length < 2 && nextPhotoWords(sample.more_photos)}
      {better && ` ${better}.`}
      <Narrowing sample={sample} />
    </div>
  );
}

type Cue = Framing["cues"][number];
const has = (framing: Framing | null, ...cues: Cue[]) => framing?.cues.some((c) => cues.includes(c)) ?? false;

function CameraSign({ name, wrong, framing }: { name: string; wrong: boolean; framing: Framing | null }) {
  const known = framing !== null && (framing.corners !== null || name === "Card" || wrong);
  return (
    <li data-state={!known ? "unknown" : wrong ? "wrong" : "good"}>
      {name} <span aria-hidden="true">{!known ? "–" : wrong ? "!" : "✓"}</span>
      <span className="unseen">{!known ? TEXT.notSeen : wrong ? TEXT.notYet : TEXT.good}</span>
    </li>
  );
}

/** The corners of the card's frame, where they were found; the drawing is fitted in as the picture is. */
function CardCorners({ framing, width, height }: { framing: Framing; width: number; height: number }) {
  const points = framing.corners!.map(([x, y]) => `${width * x!},${height * y!}`).join(" ");
  return (
    <svg className="camera-card" viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      <polygon points={points} vectorEffect="non-scaling-stroke" data-ready={framing.ready} />
    </svg>
  );
}

/** A bubble level: the dot floats to the higher side, and lies in the ring when the phone is level with the card. */
function Level({ lean }: { lean: number[] }) {
  const reach = 16;
  const scale = Math.min(1, 30 / Math.max(1e-6, Math.hypot(lean[0]!, lean[1]!)));
  const at = (deg: number) => (deg * scale * reach) / LEVEL_DEG;
  return (
    <svg className="camera-level" width="84" height="84" viewBox="-42 -42 84 84" aria-hidden="true">
      <circle r={reach} />
      <circle r="6" cx={-at(lean[0]!)} cy={-at(lean[1]!)} className="dot" />
    </svg>
  );
}

/** How far the corner that moved most did so, as a share of the picture. */
function movedShare(before: Framing | null, now: Framing): number {
  const was = before?.corners ?? [];
  const moved = now.corners?.map(([x, y], i) => Math.hypot(x! - (was[i]?.[0] ?? x!), y! - (was[i]?.[1] ?? y!)));
  return Math.max(0, ...(moved ?? []));
}

function drawn(video: HTMLVideoElement, longSide: number): HTMLCanvasElement | null {
  const { videoWidth, videoHeight } = video;
  if (!videoWidth) return null;
  const scale = Math.min(1, longSide / Math.max(videoWidth, videoHeight));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(videoWidth * scale);
  canvas.height = Math.round(videoHeight * scale);
  canvas.getContext("2d")!.drawImage(video, 0, 0, canvas.width, canvas.height);
  return canvas;
}

const jpegOf = (canvas: HTMLCanvasElement, quality: number) =>
  new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/jpeg", quality));

/** A small frame as a form. */
async function frameOf(video: HTMLVideoElement): Promise<FormData | null> {
  const canvas = drawn(video, FRAME_LONG_SIDE_PX);
  const jpeg = canvas && (await jpegOf(canvas, 0.8));
  if (!jpeg) return null;
  const form = new FormData();
  form.append("frame", jpeg, "frame.jpg");
  return form;
}

interface StillCamera {
  takePhoto: () => Promise<Blob>;
}

/** The largest picture that the camera gives: a still where the browser can take one, else a frame at full size. */
async function photoOf(video: HTMLVideoElement): Promise<File | null> {
  const name = `photo ${new Date().toISOString().slice(0, 19).replaceAll(":", "-")}.jpg`;
  const Still = (window as unknown as { ImageCapture?: new (track: MediaStreamTrack) => StillCamera }).ImageCapture;
  const track = (video.srcObject as MediaStream | null)?.getVideoTracks()[0];
  if (Still && track) {
    try {
      const late = new Promise<never>((_, reject) => setTimeout(() => reject(new Error("late")), TAKE_PHOTO_MS));
      const still = await Promise.race([new Still(track).takePhoto(), late]);
      return new File([still], name, { type: still.type || "image/jpeg" });
    } catch {
      // Many cameras cannot: a frame is what is left.
    }
  }
  const canvas = drawn(video, Infinity);
  const jpeg = canvas && (await jpegOf(canvas, 0.95));
  return jpeg && new File([jpeg], name, { type: "image/jpeg" });
}
