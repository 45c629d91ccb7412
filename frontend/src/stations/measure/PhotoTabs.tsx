import type { Schemas } from "../../api/client";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.photoTabs;

interface Props {
  sample: Schemas["SampleDetail"];
  index: number;
  choose: (index: number) => void;
}

/** The photos of one sample, each with its own median where they are compared. */
export function PhotoTabs({ sample, index, choose }: Props) {
  if (sample.photos.length < 2) return null;
  const medians = sample.measurement.between?.d50_um ?? [];
  return (
    <Choice
      label={TEXT.photosOfThisGrind}
      className="photo-tabs"
      options={sample.photos.map((p, i) => ({
        value: i,
        hint: p.file_name,
        label: (
          <>
            {TEXT.photo} {i + 1}
            {medians[i] !== undefined && <span className="figure"> {Math.round(medians[i])} µm</span>}
          </>
        ),
      }))}
      value={index}
      choose={choose}
    />
  );
}
