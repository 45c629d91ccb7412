import { useRef, useState, useEffect } from "react";
import { useNavigate } from "react-router-dom";
import { type Schemas } from "../../api/client";
import { useSample, useSamples, useSampleWrites } from "../../api/samples";
import { useWorkbench, useChangeWorkbench } from "../../api/workbench";
import { useActions, useStationActions, type Action } from "../../app/actions";
import { QueryBoundary } from "../../ui/parts";
import { useTouch } from "../../ui/useMedia";
import { FirstPhoto } from "./FirstPhoto";
import { hasLiveView, LiveCamera } from "./LiveCamera";
import { Measured } from "./Measured";
import { SamplePicker } from "./SamplePicker";
import { ScaleByHand } from "./ScaleByHand";
import { SievesAndMixtures } from "./SievesAndMixtures";
import { useUpload, Uploading } from "./upload";
import { useReview, type Review } from "./useReview";
import "./measure.css";
import { WORDS } from "./words";

const TEXT = WORDS.measureStation;

type Sample = Schemas["SampleDetail"];

/** What the next chosen files are for. */
type Purpose = "new" | "more" | "by hand";

/** Station 1: how big are my grounds? */
export function MeasureStation() {
  const bench = useWorkbench();
  const sample = useSample(bench.data?.sample?.id);
  const files = useRef<HTMLInputElement>(null);
  const camera = useRef<HTMLInputElement>(null);
  const touch = useTouch();
  const purpose = useRef<Purpose>("new");
  const upload = useUpload();
  const [picking, setPicking] = useState(false);
  const [sieves, setSieves] = useState(false);
  const [byHand, setByHand] = useState<File | null>(null);
  /** What the live view's photos are for, while it is open. */
  const [live, setLive] = useState<Purpose | null>(null);
  const [dragging, setDragging] = useState(false);
  const [photo, setPhoto] = useState(0);
  const navigate = useNavigate();
  const writes = useSampleWrites();
  const { notify } = useActions();
  const change = useChangeWorkbench();
  const { samples } = useSamples();
  const detail = sample.data;
  const [tinted, setTinted] = useState(false);
  const review = useReview(detail, photo);
  useEffect(() => setPhoto(0), [detail?.id]);

  async function remove(d: Sample) {
    await writes.remove(d.id);
    const next = samples?.find((s) => s.id !== d.id);
    if (next) change.mutate({ sample_id: next.id });
    notify(TEXT.sampleOfMDeleted(Math.round(d.d50_um)), async () => {
      await writes.restore(d.id);
      change.mutate({ sample_id: d.id });
    });
  }

  function choose(what: Purpose = "new", from = files) {
    purpose.current = what;
    from.current?.click();
  }
  /** The live view where the browser shows one, else the phone's own camera. */
  function photograph(what: "new" | "more") {
    upload.clear();
    if (hasLiveView()) setLive(what);
    else choose(what, camera);
  }
  function take(list: FileList | null) {
    const chosen = list ? [...list] : [];
    for (const input of [files, camera]) if (input.current) input.current.value = "";
    setLive(null);
    if (!chosen.length) return;
    if (purpose.current === "by hand") setByHand(chosen[0]!);
    else upload.send({ files: chosen, sample: purpose.current === "more" ? detail?.id : undefined });
    purpose.current = "new";
  }
  const handAgain = () => upload.last && (setByHand(upload.last.files[0]!), upload.clear());

  const stage = upload.state.stage;
  /** The sample that this visit's photos went to; a series goes on with it. */
  const seriesOf = upload.sampleId;
  const inSeries = detail && (seriesOf === null ? live === "more" : seriesOf === detail.id) ? detail : undefined;
  const shown = detail && stage === "idle" && !byHand;
  // In the hand photos are taken one after the other, until the interval is narrow enough.
  const series = touch && detail?.source === "photo";
  const enough = detail ? detail.more_photos.enough || detail.more_photos.limited_by_light : false;
  useStationActions(
    shown ? whereOf(detail) : "",
    live
      ? []
      : byHand
        ? [{ key: "B", label: TEXT.back, run: () => setByHand(null), inPage: true }]
        : stage === "refused"
          ? [
              { key: "B", label: TEXT.back, run: upload.clear, inPage: true },
              { key: "W", label: TEXT.setTheScaleByHand, run: handAgain, inPage: true },
              { key: "Space", label: TEXT.chooseAnotherPhoto, main: true, run: () => choose(), inPage: true },
            ]
          : stage !== "idle"
            ? []
            : detail
              ? [
                  ...reviewActions(review),
                  ...(detail.source === "photo"
                    ? [{ key: "T", label: TEXT.showWhatWasCounted, run: () => setTinted((on) => !on), inPage: true }]
                    : []),
                  ...(series
                    ? [{ key: "C", label: TEXT.shootAgain, run: () => photograph("more"), main: !enough }]
                    : []),
                  {
                    key: "Space",
                    label: TEXT.toUseThisGrind,
                    main: !series || enough,
                    run: () => navigate("/grinders"),
                  },
                  { key: "O", label: TEXT.otherSamples, run: () => setPicking(true) },
                  { key: "V", label: TEXT.sieves, run: () => setSieves(true) },
                  { key: "D", label: TEXT.deleteWord, run: () => void remove(detail) },
                  ...(detail.source === "photo"
                    ? [{ key: "P", label: TEXT.addPhotos, run: () => choose("more") }]
                    : []),
                  { key: "A", label: TEXT.newPhoto, run: () => (touch ? photograph("new") : choose()) },
                  { key: "W", label: TEXT.withoutTheCard, run: () => choose("by hand"), inPage: true },
                ]
              : [
                  { key: "A", label: TEXT.choosePhotos, run: () => choose(), inPage: true },
                  { key: "W", label: TEXT.withoutTheCard, run: () => choose("by hand"), inPage: true },
                  { key: "Space", label: TEXT.choosePhotos, main: true, run: () => choose(), inPage: true },
                ],
  );

  return (
    <div
      className="measure-page"
      onDragOver={(e) => {
        e.preventDefault();
        setDragging(true);
      }}
      onDragLeave={() => setDragging(false)}
      onDrop={(e) => {
        e.preventDefault();
        setDragging(false);
        take(e.dataTransfer.files);
      }}
    >
      <input
        ref={files}
        type="file"
        accept="image/*,.heic,.tif,.tiff"
        multiple
        hidden
        data-testid="photo-input"
        onChange={(e) => take(e.target.files)}
      />
      <input
        ref={camera}
        type="file"
        accept="image/*"
        capture="environment"
        hidden
        data-testid="camera-input"
        onChange={(e) => take(e.target.files)}
      />
      <QueryBoundary query={bench}>
        {byHand ? (
          <ScaleByHand
            file={byHand}
            leave={() => setByHand(null)}
            measure={(scale) => {
              setByHand(null);
              upload.send({ files: [byHand], scale });
            }}
          />
        ) : stage !== "idle" ? (
          <Uploading upload={upload} choose={() => choose()} byHand={handAgain} />
        ) : bench.data?.sample === null || bench.data?.sample === undefined ? (
          <FirstPhoto
            choose={() => choose()}
            takePhoto={touch ? () => photograph("new") : undefined}
            byHand={() => choose("by hand")}
            upload={upload}
            samples={samples ?? []}
          />
        ) : (
          <QueryBoundary query={sample}>
            {detail && (
              <Measured
                key={detail.id}
                sample={detail}
                samples={samples ?? []}
                photo={Math.min(photo, Math.max(0, detail.photos.length - 1))}
                choosePhoto={setPhoto}
                review={review}
                byHand={() => choose("by hand")}
                addPhotos={() => choose("more")}
                tinted={tinted}
                setTinted={setTinted}
                refused={upload.refused}
              />
            )}
          </QueryBoundary>
        )}
      </QueryBoundary>
      {live && (
        <LiveCamera
          upload={upload}
          sample={inSeries}
          taken={(photo) => upload.send({ files: [photo], sample: seriesOf ?? inSeries?.id })}
          leave={() => {
            setLive(null);
            if (stage === "refused") upload.clear();
          }}
          cameraApp={() => choose(live, camera)}
          fromFiles={() => choose(live)}
        />
      )}
      {dragging && <div className="drop-here">{TEXT.dropToMeasure}</div>}
      <SamplePicker open={picking} close={() => setPicking(false)} chosen={detail?.id} />
      {detail && (
        <SievesAndMixtures open={sieves} close={() => setSieves(false)} sample={detail} samples={samples ?? []} />
      )}
    </div>
  );
}

function reviewActions(review: Review): Action[] {
  const picked = [...review.picked.values()];
  const actions: Action[] = [
    { key: "L", label: TEXT.leaveOutAPatch, run: () => review.setTool("lasso"), inPage: true },
  ];
  if (picked.some((g) => g.leftOut === ""))
    actions.push({ key: "X", label: TEXT.leaveOut, run: review.exclude, inPage: true });
  if (picked.some((g) => g.leftOut !== ""))
    actions.push({ key: "I", label: TEXT.countIt, run: review.include, inPage: true });
  if (picked.length > 1) actions.push({ key: "J", label: TEXT.join, run: review.join, inPage: true });
  actions.push({ key: "S", label: TEXT.splitAlongALine, run: () => review.setTool("split"), inPage: true });
  return actions;
}

function whereOf(d: Sample): string {
  if (d.source !== "photo") return d.source === "sieve" ? TEXT.weighedOnSieves : TEXT.readFromATable;
  const photos = `${d.photos.length} ${d.photos.length === 1 ? "photo" : "photos"}`;
  const ground = d.grinder_name ? `${d.grinder_name} at ${d.setting}, ${photos}` : photos;
  return d.simulated ? TEXT.aSimulatedPicture(ground) : ground;
}
