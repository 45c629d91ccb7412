import { useState, type ComponentProps } from "react";
import { Typed } from "./parts";
import { keptFrom, shownIn, type Quantity } from "./units";
import { useUnits } from "./useUnits";

/** A mass or temperature to type in the units chosen; `value` names its unit where it is not grams or °C. */
export function TypedQuantity({
  what,
  onBlur,
  onChange,
  placeholder,
  value,
  ...rest
}: Omit<ComponentProps<typeof Typed>, "unit"> & { what: Quantity }) {
  const { units, unitOf } = useUnits();
  // While it is typed in, it reads as typed.
  const [typing, setTyping] = useState<string | null>(null);
  return (
    <Typed
      {...rest}
      unit={unitOf(what)}
      placeholder={placeholder && shownIn(placeholder, what, units)}
      value={typing ?? shownIn(value, what, units)}
      onChange={(text) => {
        setTyping(text);
        onChange(keptFrom(text, what, units));
      }}
      onBlur={() => {
        setTyping(null);
        onBlur?.();
      }}
    />
  );
}
