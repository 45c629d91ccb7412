import { useState, type ReactNode } from "react";
import { useSmall } from "./useMedia";
import { WORDS } from "./words";

const TEXT = WORDS.margin;

/** Numbers, findings and remedies beside the thing itself; on small screens a sheet that is pulled up from below. */
export function Margin({ label, children }: { label: string; children: ReactNode }) {
  const small = useSmall();
  const [open, setOpen] = useState(false);
  return (
    <aside
      className="margin"
      aria-label={label}
      data-open={open}
      // Who comes here by keyboard is not left looking at a closed sheet; under a finger nothing may move.
      onFocus={(e) => e.target.matches(":focus-visible:not(.sheet-handle)") && setOpen(true)}
    >
      {small && (
        <button className="sheet-handle" aria-expanded={open} onClick={() => setOpen(!open)}>
          <span className="grip" aria-hidden="true" />
          {open ? TEXT.close : TEXT.details}
        </button>
      )}
      {children}
    </aside>
  );
}
