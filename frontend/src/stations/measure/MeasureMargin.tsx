import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useDrill } from "../../api/practice";
import { Margin } from "../../ui/Margin";
import { Sign, Finding } from "../../ui/parts";
import { useTouch } from "../../ui/useMedia";
import { whole, between, percent } from "../../ui/words";
import { Narrowing } from "./Narrowing";
import { Corrections } from "./ReviewBar";
import { Files } from "./SampleFiles";
import { GroundOn, Place } from "./SamplePlace";
import { betterNext } from "./cueWords";
import type { Review } from "./useReview";
import { WORDS } from "./words";

const TEXT = WORDS.measureMargin;

type Sample = Schemas["SampleDetail"];

type FindingSaid = Schemas["FindingDocument"];

interface Props {
  sample: Sample;
  photo: number;
  differences: Schemas["DifferenceView"][];
  review: Review;
  showPlace: (finding: FindingSaid) => void;
  byHand: () => void;
  addPhotos: () => void;
  refused: Schemas["PhotoProgress"][];
}

const VERDICTS = { good: "Good", usable: TEXT.usableWithCare, retake: TEXT.takeItAgain } as const;

/** Numbers, findings and remedies of one sample. */
export function MeasureMargin({ sample, photo, differences, review, showPlace, byHand, addPhotos, refused }: Props) {
  const m = sample.measurement;
  const [placing, setPlacing] = useState(false);
  const below = m.mass_below_um["200"];
  const eye = useDrill("finer").data?.threshold?.percent;
  return (
    <Margin label={TEXT.whatWasMeasured}>
      <div className="number" data-testid="d50">
        {Math.round(m.d50_um)}
        <span className="unit">µm</span>
      </div>
      <p className="said">
        {TEXT.medianByVolumeOfGroundsFrom(whole(m.cut_um), between(m.ci95.d50_um), sample.source === "photo")}
      </p>
      <p className={`verdict ${m.verdict.level}`} data-testid="verdict">
        <Sign kind={m.verdict.level === "good" ? "good" : "watch"} />
        <span>
          <strong>{VERDICTS[m.verdict.level as keyof typeof VERDICTS]}.</strong> {m.verdict.reason}
        </span>
      </p>
      <GroundOn sample={sample} another={() => setPlacing(true)} />
      {placing && <Place key="asked" sample={sample} asked />}
      <Better findings={m.findings} />
      <Narrowing sample={sample} />
      <ul className="rows">
        <li>
          <span>{TEXT.spread}</span>
          <span className="figure">{m.span.toFixed(2)}</span>
        </li>
        <li>
          <span>{TEXT.under200M}</span>
          <span className="figure">{below == null ? TEXT.notSeen : percent(below)}</span>
        </li>
        <li title={m.extrapolated.method}>
          <span>
            {TEXT.under100M}
            {sample.source === "photo" && TEXT.extrapolated}
          </span>
          <span className="figure">{percent(m.extrapolated.mass_below_um["100"] ?? 0)}</span>
        </li>
        <li>
          <span>{TEXT.bouldersOverM(whole(m.boulder_um))}</span>
          <span className="figure">{percent(m.boulder_share)}</span>
        </li>
        {sample.source === "photo" && (
          <li>
            <span>{TEXT.groundsCounted}</span>
            <span className="figure">{whole(m.particles)}</span>
          </li>
        )}
      </ul>
      <ul className="findings">
        <Fits sample={sample} />
        {differences.map((d) => (
          <Finding
            key={d.sample_id}
            kind={d.real ? "watch" : "note"}
            title={d.words}
            detail={d.real ? undefined : TEXT.theIntervalsOverlapMorePhotos}
          />
        ))}
        {refused.map((p) => (
          <Finding
            key={p.file_name}
            kind="watch"
            title={`${p.file_name}: ${p.error?.message}`}
            detail={p.error?.remedy}
          />
        ))}
        {m.findings.map((f) => (
          <Finding
            key={f.code + f.message}
            kind={f.severity === "note" ? "note" : "watch"}
            title={f.message}
            detail={f.remedy}
            act={
              f.place_px ? (
                <button className="link" onClick={() => showPlace(f)}>
                  {TEXT.showWhere}
                </button>
              ) : undefined
            }
          />
        ))}
        {sample.source === "photo" && (
          <Finding
            kind="note"
            title={sample.more_photos.words}
            detail={TEXT.fewLargeGroundsCarryMostOf(sample.more_photos.now, eyeWords(eye))}
            act={
              <button className="link" onClick={addPhotos}>
                {TEXT.addPhotosOfThisGrind}
              </button>
            }
          />
        )}
      </ul>
      <Corrections edits={sample.review.edits} toggle={review.toggle} />
      {!placing && <Place sample={sample} />}
      {sample.photos.length > 0 && (
        <p className="above-m">
          {TEXT.clickAGroundToCorrectIt}{" "}
          <button className="link" onClick={() => review.setTool("lasso")}>
            {TEXT.leaveOutAPatch}
          </button>
          {sample.photos.length > 1 && (
            <>
              {" "}
              {TEXT.or}{" "}
              <button className="link" onClick={review.leavePhotoOut}>
                {TEXT.photo(photo + 1)}
              </button>
            </>
          )}
          .{" "}
          <button className="link" onClick={byHand}>
            {TEXT.measureAPhotoWithoutTheCard}
          </button>
        </p>
      )}
      <Files sample={sample} photo={photo} />
    </Margin>
  );
}

/** What would make the next photo better, in a few words; the findings below say why. */
function Better({ findings }: { findings: FindingSaid[] }) {
  const touch = useTouch();
  const words = betterNext(findings);
  if (!touch || words.length === 0) return null;
  return (
    <p className="better" data-testid="better">
      {TEXT.nextPhoto} <strong>{words[0]}</strong>
      {words[1] && `, ${words[1].charAt(0).toLowerCase()}${words[1].slice(1)}`}
    </p>
  );
}

function Fits({ sample }: { sample: Sample }) {
  const cone = sample.windows.find((w) => w.method === "ribbed-cone");
  const flat = sample.windows.find((w) => w.method === "flat-bottom");
  if (!cone) return null;
  const said = (w: Schemas["WindowView"]) =>
    w.verdict === "inside" ? "Suits" : w.verdict === "fine" ? TEXT.fineFor : TEXT.coarseFor;
  const other = flat && `${said(flat)} the ${flat.label} (${flat.low_um}–${flat.high_um} µm).`;
  return (
    <Finding
      kind={cone.verdict === "inside" ? "good" : "watch"}
      title={TEXT.fineOrCoarseForThe(said(cone), cone.label)}
      detail={other}
    />
  );
}

/** What the user's own eye tells, found in Practice. */
const eyeWords = (percent?: number | null) => (percent == null ? "" : TEXT.yourEyeTellsSizesApart(percent.toFixed(0)));
