import { useState, useMemo } from "react";
import type { Schemas } from "../../api/client";
import { useDistribution, useComparison } from "../../api/samples";
import { GrainRuler } from "../../charts/GrainRuler";
import type { Band } from "../../charts/grainRuler/curve";
import { CurveOptions, type CurveLook } from "./CurveOptions";
import { MeasureMargin } from "./MeasureMargin";
import { PhotoTabs } from "./PhotoTabs";
import { PhotoView } from "./PhotoView";
import { ReviewBar } from "./ReviewBar";
import type { Review } from "./useReview";

type Sample = Schemas["SampleDetail"];
/** A ground that is picked lights up its neighbours in size within this. */
const PICKED_LN = 0.09;

interface MeasuredProps {
  sample: Sample;
  samples: Schemas["SampleView"][];
  photo: number;
  choosePhoto: (index: number) => void;
  review: Review;
  byHand: () => void;
  addPhotos: () => void;
  tinted: boolean;
  setTinted: (on: boolean) => void;
  refused: Schemas["PhotoProgress"][];
}

/** The photo, the curve over the grain ruler, and the margin of one sample. */
export function Measured({
  sample,
  samples,
  photo,
  choosePhoto,
  review,
  byHand,
  addPhotos,
  tinted,
  setTinted,
  refused,
}: MeasuredProps) {
  const [held, setHeld] = useState<Band>(null);
  const [place, setPlace] = useState<number[] | null>(null);
  const [look, setLook] = useState<CurveLook>({ cumulative: false, modes: true, choice: {}, over: [] });
  const distribution = useDistribution(sample, look.choice).data;
  const comparison = useComparison(look.over.length ? [sample.id, ...look.over] : []).data;
  // The same set as long as the same grounds are picked, so that the photo is not drawn again for nothing.
  const pickedNumbers = useMemo(() => new Set(review.picked.keys()), [review.picked]);
  return (
    <div className="station-page">
      <div className={`thing measure-thing${sample.photos.length ? " with-photo" : ""}`}>
        {sample.photos.length > 0 && (
          <div className="photo-place">
            <PhotoView
              sample={sample}
              index={photo}
              held={held}
              picked={pickedNumbers}
              tool={review.tool}
              place={place}
              tinted={tinted}
              setTinted={setTinted}
              onDrawn={review.drawn}
              onPick={(g, more) => {
                review.pick(g, more);
                if (g && !more) setHeld([g.diameterUm * Math.exp(-PICKED_LN), g.diameterUm * Math.exp(PICKED_LN)]);
              }}
            />
            <PhotoTabs sample={sample} index={photo} choose={choosePhoto} />
            <ReviewBar review={review} />
          </div>
        )}
        <CurveOptions
          look={look}
          set={setLook}
          samples={samples}
          sample={sample}
          modes={distribution?.modes.length ?? 1}
        />
        <GrainRuler
          sample={sample}
          held={held}
          hold={setHeld}
          method="ribbed-cone"
          distribution={distribution}
          cumulative={look.cumulative}
          modes={look.modes}
          over={look.over.length ? comparison?.curves.slice(1) : []}
          cut={(which, um) =>
            setLook({ ...look, choice: { ...look.choice, [which === "fines" ? "fines_um" : "boulders_um"]: um } })
          }
        />
      </div>
      <MeasureMargin
        sample={sample}
        differences={look.over.length ? (comparison?.differences ?? []) : []}
        review={review}
        byHand={byHand}
        addPhotos={addPhotos}
        refused={refused}
        photo={photo}
        showPlace={(f) => {
          if (f.photo != null) choosePhoto(f.photo);
          setPlace(f.place_px ?? null);
        }}
      />
    </div>
  );
}
