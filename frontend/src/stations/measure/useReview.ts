import { useState } from "react";
import { ApiError, type Schemas } from "../../api/client";
import { useSampleWrites } from "../../api/samples";
import { useActions } from "../../app/actions";
import type { Ground } from "./grounds";
import { WORDS } from "./words";

const TEXT = WORDS.useReview;

export type Tool = "move" | "split" | "lasso";
type Sample = Schemas["SampleDetail"];
type Point = [number, number];

export interface Review {
  tool: Tool;
  setTool: (tool: Tool) => void;
  picked: Map<number, Ground>;
  pick: (ground: Ground | null, more: boolean) => void;
  trouble: string | null;
  exclude: () => void;
  include: () => void;
  join: () => void;
  drawn: (tool: Tool, points: Point[], under: Ground | null) => void;
  leavePhotoOut: () => void;
  toggle: (edit: Schemas["EditView"]) => void;
}

/** Picking grounds and correcting them by hand; every correction can be taken back with Z and done again. */
export function useReview(sample: Sample | undefined, photo: number): Review {
  const [tool, setTool] = useState<Tool>("move");
  const [picked, setPicked] = useState<Map<number, Ground>>(new Map());
  const [trouble, setTrouble] = useState<string | null>(null);
  const writes = useSampleWrites();
  const { notify } = useActions();

  async function correct(kind: Schemas["Correction"]["kind"], grounds: number[], drawn: Point[] = []) {
    if (!sample) return;
    try {
      const next = await writes.correct(sample.id, { kind, photo, grounds, drawn_px: drawn });
      setTrouble(null);
      setPicked(new Map());
      const edit = next.review.edits.at(-1)!;
      notify(
        edit.words,
        () => writes.undo(next.id, edit.id),
        () => writes.redo(next.id, edit.id),
      );
    } catch (refusal) {
      setTrouble(refusal instanceof ApiError ? `${refusal.message} ${refusal.remedy}` : TEXT.thatDidNotWorkTryAgain);
    }
  }
  const numbers = [...picked.keys()];
  return {
    tool,
    setTool: (t) => {
      setTool(t);
      setTrouble(null);
    },
    picked,
    trouble,
    pick: (ground, more) => {
      setTrouble(null);
      setPicked((old) => {
        const next = new Map(more ? old : []);
        if (ground && next.has(ground.number)) next.delete(ground.number);
        else if (ground) next.set(ground.number, ground);
        return next;
      });
    },
    exclude: () => void correct("exclude", numbers),
    include: () => void correct("include", numbers),
    join: () => void correct("join", numbers),
    leavePhotoOut: () => void correct("photo", []),
    drawn: (used, points, under) => {
      setTool("move");
      if (used === "lasso") void correct("lasso", [], thinned(points));
      else {
        const whole = numbers.length === 1 ? numbers : under ? [under.number] : [];
        void correct("split", whole, [points[0]!, points.at(-1)!]);
      }
    },
    toggle: (edit) => sample && void (edit.undone ? writes.redo : writes.undo)(sample.id, edit.id),
  };
}

/** No more points than the server takes. */
function thinned(points: Point[]): Point[] {
  const step = Math.ceil(points.length / 400);
  return points.filter((_, i) => i % step === 0);
}
