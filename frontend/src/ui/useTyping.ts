import { useState, type ChangeEvent, type KeyboardEvent } from "react";

/**
 * What is being typed in a field that is taken over when typing ends: by Enter, or by leaving it. Escape gives up.
 * Text that `refuses` stays as typed.
 */
export function useTyping(
  value: string,
  take: (typed: string) => void,
  refuses: (typed: string) => boolean = () => false,
) {
  const [typing, setTyping] = useState<string | null>(null);
  const wrong = typing != null && refuses(typing);
  return {
    wrong,
    typing,
    field: {
      value: typing ?? value,
      onChange: (e: ChangeEvent<HTMLInputElement>) => setTyping(e.target.value),
      onBlur: () => {
        if (typing == null || wrong) return;
        if (typing.trim() !== value) take(typing.trim());
        setTyping(null);
      },
      onKeyDown: (e: KeyboardEvent<HTMLInputElement>) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") setTyping(null);
      },
    },
  };
}
