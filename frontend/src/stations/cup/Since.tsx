import type { Schemas } from "../../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.since;

type Compared = NonNullable<Schemas["AdviceDocument"]["since"]>["compared"] | undefined;

const COMPARED = { better: TEXT.betterThan, worse: TEXT.worseThan, alike: TEXT.noBetterAndNoWorseThan };

/** What differs from the slip before, found from the two plans; several things at once cannot be told apart. */
export function Since({ slip, things, compared }: { slip: number; things: string[]; compared: Compared }) {
  const several = things.length > 1;
  const told = compared ? TEXT.byYourWordsThisCupIsSlip(COMPARED[compared], slip) : "";
  return (
    <p className={several ? "since several" : "since"} data-testid="since">
      {things.length === 0
        ? TEXT.nothingWasChangedSinceSlip(slip)
        : several
          ? TEXT.thingsChangedAtOnceSinceSlip(things.length, slip, things.join("; "), told)
          : TEXT.onlyThisChangedSinceSlip(slip, things[0])}
    </p>
  );
}
