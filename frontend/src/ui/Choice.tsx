import { Radio } from "antd";
import type { ReactNode } from "react";

interface Option<Value> {
  value: Value;
  label: ReactNode;
  /** What it means, shown where the pointer rests. */
  hint?: string;
  disabled?: boolean;
}

/** One of a few words to tap; the arrow keys go from one to the next. */
export function Choice<Value extends string | number | boolean>(props: {
  label: string;
  options: readonly Option<Value>[];
  value: Value | undefined;
  choose: (value: Value) => void;
  disabled?: boolean;
  /** A line each, where they need a sentence. */
  inLines?: boolean;
  className?: string;
  /** What stands before and after the words, in the same group. */
  before?: ReactNode;
  after?: ReactNode;
}) {
  return (
    <Radio.Group
      aria-label={props.label}
      className={`${props.inLines ? "stack near" : "chips"} ${props.className ?? ""}`}
      value={props.value}
      disabled={props.disabled}
      onChange={(e) => props.choose(e.target.value as Value)}
    >
      {props.before}
      {props.options.map((o) => (
        <Radio.Button
          key={String(o.value)}
          value={o.value}
          title={o.hint}
          disabled={o.disabled || props.disabled}
          className={props.inLines ? "chip line" : "chip"}
        >
          {o.label}
        </Radio.Button>
      ))}
      {props.after}
    </Radio.Group>
  );
}
