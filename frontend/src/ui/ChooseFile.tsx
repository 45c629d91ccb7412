import { useRef, type ReactNode } from "react";

/** A button that lets a file be chosen; the same file may be chosen again. */
export function ChooseFile({
  accept,
  testId,
  disabled,
  choose,
  children,
}: {
  accept: string;
  testId: string;
  disabled?: boolean;
  choose: (file: File | undefined) => void;
  children: ReactNode;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        data-testid={testId}
        onChange={(e) => {
          choose(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
      <button className="link" type="button" disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </button>
    </>
  );
}
