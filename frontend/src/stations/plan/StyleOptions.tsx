import { useId } from "react";
import type { Schemas } from "../../api/client";
import { useTyping } from "../../ui/useTyping";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.styleOptions;

/** One choice of a style: its values, and a field for another where that can be typed. */
export function OptionChoice(props: {
  option: Schemas["OptionView"];
  value: string | undefined;
  trouble: string | null;
  take: (value: string) => void;
}) {
  const { option: o, take } = props;
  const usual = o.values[0]!.value;
  const value = props.value ?? usual;
  return (
    <Choice
      label={o.label}
      className="close"
      options={o.values.map((v) => ({ value: v.value, label: v.words }))}
      value={value}
      choose={take}
      before={<span className="quiet">{o.label}</span>}
      after={
        o.own && (
          <OwnValue
            label={o.label}
            range={o.own}
            value={o.values.some((v) => v.value === value) ? "" : value}
            take={(typed) => take(typed || usual)}
            trouble={props.trouble}
          />
        )
      }
    />
  );
}

/** Another value of an option, typed; an error is shown beside it. */
function OwnValue(props: {
  label: string;
  range: string;
  value: string;
  take: (typed: string) => void;
  trouble: string | null;
}) {
  const id = useId();
  const { field } = useTyping(props.value, props.take);
  return (
    <>
      <input
        className="chip own-value"
        aria-label={TEXT.anotherValue(props.label)}
        placeholder={TEXT.other}
        title={TEXT.type(props.range)}
        {...field}
        maxLength={20}
        aria-invalid={Boolean(props.trouble)}
        aria-describedby={props.trouble ? id : undefined}
        data-chosen={props.value !== "" || undefined}
      />
      {props.trouble && (
        <span id={id} className="trouble" role="alert">
          {props.trouble}
        </span>
      )}
    </>
  );
}
