import type { Schemas } from "../../api/client";
import { Key } from "../../ui/parts";
import { whole } from "../../ui/words";
import type { Review } from "./useReview";
import { WORDS } from "./words";

const TEXT = WORDS.reviewBar;

/** What is picked on the photo, its numbers, and what can be done with it. */
export function ReviewBar({ review }: { review: Review }) {
  const picked = [...review.picked.values()];
  const one = picked.length === 1 ? picked[0]! : null;
  const anyOut = picked.some((g) => g.leftOut !== "");
  const anyIn = picked.some((g) => g.leftOut === "");
  const hint =
    review.tool === "split"
      ? TEXT.drawALineRightAcrossAGround
      : review.tool === "lasso"
        ? TEXT.drawRoundTheGroundsToLeave
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
                  {TEXT.mRoundness(
                    whole(one.minFeretUm),
                    whole(one.maxFeretUm),
                    one.circularity.toFixed(2),
                    one.split,
                    one.leftOut,
                  )}
                </span>
              )}
            </span>
          ) : (
            picked.length > 1 && <strong>{TEXT.groundsPicked(picked.length)}</strong>
          )}
          {anyIn && (
            <button className="act" onClick={review.exclude}>
              {TEXT.leaveOut} <Key>X</Key>
            </button>
          )}
          {anyOut && (
            <button className="act" onClick={review.include}>
              {TEXT.countIt} <Key>I</Key>
            </button>
          )}
          {one && (
            <button className="act" onClick={() => review.setTool("split")}>
              {TEXT.split} <Key>S</Key>
            </button>
          )}
          {picked.length > 1 && (
            <button className="act" onClick={review.join}>
              {TEXT.join} <Key>J</Key>
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
    <section aria-label={TEXT.correctionsByHand} className="above-l">
      <h2>{TEXT.correctionsByHand}</h2>
      <ul className="rows">
        {edits.map((e) => (
          <li key={e.id}>
            <span className={e.undone ? "undone" : undefined}>{e.words}</span>
            <span>
              <button className="link" onClick={() => toggle(e)}>
                {e.undone ? TEXT.redo : TEXT.undo}
              </button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
