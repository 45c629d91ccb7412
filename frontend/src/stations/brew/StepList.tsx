import type { Schemas } from "../../api/client";
import { clock, endsByItself } from "../../ui/words";
import { useUnits } from "../../ui/useUnits";
import type { Heard } from "./useLiveBrew";

/** All steps with their times; the present one is marked, and done ones say when they were. */
export function StepList({
  steps,
  now,
  elapsed,
  heard,
  standing,
}: {
  steps: Schemas["LiveStep"][];
  now: number;
  elapsed: number;
  heard: Heard;
  standing: "brewer" | "cup" | null;
}) {
  const { massFigure } = useUnits();
  const weight = heard.weight_g.at(-1);
  return (
    <ol className="rows brew-steps">
      {steps.map((s, i) => (
        <li key={i} className={i === now && elapsed >= s.at_s ? "held" : i < now ? "over" : undefined}>
          <span>
            <span className="figure">{clock(endsByItself(s) ? s.ends_s : s.at_s)}</span>
            &ensp;{s.words}
          </span>
          <span className="figure">
            {s.done_s != null && s.by
              ? `${clock(s.done_s)}`
              : i === now && s.kind === "pour" && standing === "brewer" && weight !== undefined
                ? `${massFigure(weight)}…`
                : ""}
          </span>
        </li>
      ))}
    </ol>
  );
}
