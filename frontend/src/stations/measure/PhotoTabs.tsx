import type { Schemas } from "../../api/client";

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
    <div className="chips photo-tabs" role="tablist" aria-label="Photos of this grind">
      {sample.photos.map((p, i) => (
        <button
          key={p.content_hash}
          role="tab"
          className="chip"
          aria-checked={i === index}
          aria-selected={i === index}
          title={p.file_name}
          onClick={() => choose(i)}
        >
          Photo {i + 1}
          {medians[i] !== undefined && <span className="figure">{Math.round(medians[i])} µm</span>}
        </button>
      ))}
    </div>
  );
}
