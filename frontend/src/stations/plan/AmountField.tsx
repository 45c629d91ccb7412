import { useState } from "react";
import { Typed } from "../../ui/parts";
import { TypedQuantity } from "../../ui/TypedQuantity";
import type { Quantity } from "../../ui/units";

interface Props {
  label: string;
  what: Quantity | undefined;
  given: boolean;
  value: string;
  /** What it is by the plan, to be seen while the field is empty. */
  follows: string;
  type: (text: string) => void;
  trouble: string | null;
}

/** An amount: given, or following from the two that are. Typing replaces a computed one; emptied, it follows again. */
export function AmountField({ label, what, given, value, follows, type, trouble }: Props) {
  const [emptied, setEmptied] = useState(false);
  const shared = {
    label,
    value: emptied ? "" : value,
    placeholder: follows,
    onChange: (text: string) => {
      setEmptied(!text.trim());
      type(text);
    },
    onBlur: () => setEmptied(false),
    trouble,
  };
  return (
    <div
      className={given ? undefined : "follows"}
      // A computed figure is replaced by what is typed, not added to.
      onFocusCapture={(e) => !given && (e.target as HTMLInputElement).select()}
    >
      {what ? <TypedQuantity {...shared} what={what} /> : <Typed {...shared} />}
    </div>
  );
}
