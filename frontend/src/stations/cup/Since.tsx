import type { Schemas } from "../../api/client";

type Compared = NonNullable<Schemas["AdviceDocument"]["since"]>["compared"] | undefined;

const COMPARED = { better: "better than", worse: "worse than", alike: "no better and no worse than" };

/** What differs from the slip before, found from the two plans; several things at once cannot be told apart. */
export function Since({ slip, things, compared }: { slip: number; things: string[]; compared: Compared }) {
  const several = things.length > 1;
  const told = compared ? ` By your words this cup is ${COMPARED[compared]} slip ${slip}.` : "";
  return (
    <p className={several ? "since several" : "since"} data-testid="since">
      {things.length === 0
        ? `Nothing was changed since slip ${slip}.`
        : several
          ? `${things.length} things changed at once since slip ${slip}: ${things.join("; ")}. Which of them did it cannot be told.${told}`
          : `Only this changed since slip ${slip}: ${things[0]}.`}
    </p>
  );
}
