import type { Schemas } from "../../api/client";
import { Key } from "../../ui/parts";
import { whole } from "../../ui/words";
import type { Review } from "./useReview";

/** What is picked on the photo, its numbers, and what can be done with it. */
export function ReviewBar({ review }: { review: Review }) {
  const picked = [...review.picked.values()];
  const one = picked.length === 1 ? picked[0]! : null;
  const anyOut = picked.some((g) => g.leftOut !== "");
  const anyIn = picked.some((g) => g.leftOut === "");
  const hint =
    review.tool === "split"
      ? "Draw a line right across a ground."
      : review.tool === "lasso"
        ? "Draw round the grounds to leave out."
        : null;
  if (!picked.length && !hint && !review.trouble) return null;
  return (
    <div className="review-bar" role="status" data-testid="picked">
      {review.trouble && (
        <span className="alarming" role="alert">
          {review.trouble}
        </span>
      )}
      {hint ?? (
        <>
          {one ? (
            <span>
              <strong className="figure">{whole(one.diameterUm)} µm</strong>{" "}
              {one.minFeretUm > 0 && (
                <span className="quiet">
                  {whole(one.minFeretUm)} × {whole(one.maxFeretUm)} µm, roundness {one.circularity.toFixed(2)}
                  {one.split ? ", cut from a touching one" : ""}
                  {one.leftOut ? `, left out: ${one.leftOut}` : ""}
                </span>
              )}
            </span>
          ) : (
            picked.length > 1 && <strong>{picked.length} grounds picked</strong>
          )}
          {anyIn && (
            <button className="act" onClick={review.exclude}>
              Leave out <Key>X</Key>
            </button>
          )}
          {anyOut && (
            <button className="act" onClick={review.include}>
              Count it <Key>I</Key>
            </button>
          )}
          {one && (
            <button className="act" onClick={() => review.setTool("split")}>
              Split <Key>S</Key>
            </button>
          )}
          {picked.length > 1 && (
            <button className="act" onClick={review.join}>
              Join <Key>J</Key>
            </button>
          )}
        </>
      )}
    </div>
  );
}

/** Corrections made so far, each to take back or do again. */
export function Corrections({
  edits,
  toggle,
}: {
  edits: Schemas["EditView"][];
  toggle: (edit: Schemas["EditView"]) => void;
}) {
  if (!edits.length) return null;
  return (
    <section aria-label="Corrections by hand" className="above-l">
      <h2>Corrections by hand</h2>
      <ul className="rows">
        {edits.map((e) => (
          <li key={e.id}>
            <span className={e.undone ? "undone" : undefined}>{e.words}</span>
            <span>
              <button className="link" onClick={() => toggle(e)}>
                {e.undone ? "Redo" : "Undo"}
              </button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
