import { Modal } from "antd";
import { useRef, useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";
import type { Writer } from "./units";
import { clock, WORDS } from "./words";

const TEXT = WORDS.useQuestion;

type Unlikely = Schemas["UnlikelyDocument"];

const NAMES: Record<string, string> = {
  dose_g: "Coffee",
  ratio: "Ratio",
  water_c: TEXT.waterAt,
  "outcome.tds_percent": "Strength",
  "outcome.drink_g": TEXT.inTheCup,
  "outcome.spent_dry_g": TEXT.spentGroundsDried,
  "outcome.drawdown_s": TEXT.bareBed,
};

/** "Water at 45 °C. Usually 75 to 100 °C." */
export function questionOf(
  { field, value, low, high, why }: Unlikely,
  { mass, massFigure, heat, heatFigure }: Writer,
): string {
  const [text, range] = field.endsWith("_s")
    ? [clock(value), `${clock(low)} to ${clock(high)}`]
    : field.endsWith("_percent")
      ? [`${value} %`, `${low.toFixed(1)} to ${high.toFixed(1)} %`]
      : field.endsWith("_c")
        ? [heat(value), `${heatFigure(low)} to ${heat(high)}`]
        : field === "ratio"
          ? [`1:${Number(value.toFixed(1))}`, `1:${low} to 1:${high}`]
          : [mass(value, 1), `${massFigure(low)} to ${mass(high)}`];
  if (why === "before-last-pour") return TEXT.didYouPourEarlier(clock(low));
  return `${NAMES[field] ?? field} ${text}. Usually ${range}.`;
}

/** Asks once about unlikely values before they are used; what was confirmed is not asked about again. */
export function useQuestion(units: Writer): {
  question: ReactNode;
  ask: (values: Unlikely[], go: () => void) => void;
} {
  const confirmed = useRef(new Set<string>());
  const [asked, setAsked] = useState<{ values: Unlikely[]; go: () => void } | null>(null);
  const key = (u: Unlikely) => `${u.field} ${u.value}`;
  function ask(values: Unlikely[], go: () => void) {
    const open = values.filter((u) => !confirmed.current.has(key(u)));
    if (open.length) setAsked({ values: open, go });
    else go();
  }
  function use() {
    asked?.values.forEach((u) => confirmed.current.add(key(u)));
    setAsked(null);
    asked?.go();
  }
  const [first, ...rest] = asked?.values ?? [];
  const only = rest.length === 0 && first?.why === "before-last-pour" ? first : null;
  const question = (
    <Modal
      open={asked !== null}
      title={TEXT.isThisRight}
      okText={only ? TEXT.yesIsRight(clock(only.value)) : TEXT.toUseIt}
      cancelText={only ? TEXT.correctIt : TEXT.changeIt}
      onOk={use}
      onCancel={() => setAsked(null)}
      width={440}
      destroyOnHidden
    >
      {asked?.values.map((u) => (
        <p key={u.field}>{questionOf(u, units)}</p>
      ))}
    </Modal>
  );
  return { question, ask };
}
