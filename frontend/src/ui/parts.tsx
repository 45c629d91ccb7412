import { Alert, Spin } from "antd";
import type { ReactNode } from "react";
import { useId } from "react";
import { ApiError } from "../api/client";
import { cssVariables } from "./cssVariables";
import { WORDS } from "./words";

const TEXT = WORDS.parts;

const FRACTIONS: Record<string, string> = { "1/4": "¼", "1/2": "½", "3/4": "¾", "1/3": "⅓", "2/3": "⅔" };

/** A dial setting; fractions as one glyph, in the face that has them. */
export function Setting({ value }: { value: string }) {
  const [, lead, fraction] = value.match(/^(.*?)\s*(\d+\/\d+)$/) ?? [];
  if (!fraction) return <>{value}</>;
  return (
    <>
      {lead}
      <span className="fraction">{FRACTIONS[fraction] ?? value.slice(lead!.length)}</span>
    </>
  );
}

/** The setting as plain text, for titles and SVG. */
export const settingText = (value: string) =>
  value.replace(/\s*\b(\d+\/\d+)\b/g, (whole, f: string) => FRACTIONS[f] ?? whole);

/** The head of a column that needs no words on the page. */
export function HiddenHead({ children }: { children: ReactNode }) {
  return (
    <th>
      <span className="unseen">{children}</span>
    </th>
  );
}

export function Key({ children }: { children: ReactNode }) {
  return (
    <span className="key" aria-hidden="true">
      {children}
    </span>
  );
}

/** A sign beside a finding: round and ticked, a triangle, or a round i. Shape and colour both tell it. */
export function Sign({ kind }: { kind: "good" | "watch" | "note" }) {
  const colour = { good: "var(--celadon-text)", watch: "var(--ochre-text)", note: "var(--ink-2)" }[kind];
  return (
    <svg
      width="17"
      height="17"
      viewBox="0 0 17 17"
      fill="none"
      stroke={colour}
      strokeWidth="1.6"
      strokeLinecap="round"
      role="img"
      aria-label={{ good: "good", watch: TEXT.watchOut, note: "note" }[kind]}
    >
      {kind === "good" && (
        <>
          <circle cx="8.5" cy="8.5" r="6.6" />
          <path d="m5.6 8.7 2.1 2.1 3.8-4.2" />
        </>
      )}
      {kind === "watch" && (
        <>
          <path d="M8.5 2 15.6 14.4H1.4Z" strokeLinejoin="round" />
          <path d="M8.5 6.6v3.6M8.5 12.2v.1" />
        </>
      )}
      {kind === "note" && (
        <>
          <circle cx="8.5" cy="8.5" r="6.6" />
          <path d="M8.5 8v3.6M8.5 5.4v.1" />
        </>
      )}
    </svg>
  );
}

export function Finding({
  kind,
  title,
  detail,
  act,
}: {
  kind: "good" | "watch" | "note";
  title: string;
  detail?: string;
  act?: ReactNode;
}) {
  return (
    <li>
      <Sign kind={kind} />
      <div>
        <div>{title}</div>
        {detail && <div className="remedy">{detail}</div>}
        {act}
      </div>
    </li>
  );
}

/** A figure to type into, with its unit, and the trouble and its remedy beside it. */
export function Typed(props: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  unit?: string;
  small?: boolean;
  trouble?: string | null;
  width?: number;
  placeholder?: string;
  onBlur?: () => void;
  /** Words are typed here too, not only figures. */
  words?: boolean;
}) {
  const id = useId();
  return (
    <div
      className={`typed${props.small ? " small" : ""}${props.trouble ? " wrong" : ""}`}
      style={cssVariables({ "--typed-width": props.width && `${props.width}px` })}
    >
      <label htmlFor={id}>{props.label}</label>
      <div className="line">
        <input
          id={id}
          value={props.value}
          placeholder={props.placeholder}
          inputMode={props.words ? "text" : "decimal"}
          autoComplete="off"
          aria-invalid={Boolean(props.trouble)}
          aria-describedby={props.trouble ? `${id}-trouble` : undefined}
          onChange={(e) => props.onChange(e.target.value)}
          onBlur={props.onBlur}
          // Typing is over: the keys belong to the station again. In a form Enter sends it.
          onKeyDown={(e) => e.key === "Enter" && !e.currentTarget.form && e.currentTarget.blur()}
        />
        {props.unit && <span className="unit">{props.unit}</span>}
      </div>
      {props.trouble && (
        <div className="trouble" id={`${id}-trouble`} role="alert">
          {props.trouble}
        </div>
      )}
    </div>
  );
}

export function Waiting({ children }: { children: ReactNode }) {
  return (
    <div className="waiting" role="status">
      <Spin indicator={<span className="beam" aria-hidden="true" />} />
      {children}
    </div>
  );
}

export function Trouble({ error, retry }: { error: unknown; retry?: () => void }) {
  const said = error instanceof ApiError ? error : null;
  return (
    <Alert
      type="error"
      className="trouble-box"
      title={
        <>
          <strong>{said ? said.message : TEXT.somethingWentWrongOnThisPage}</strong>{" "}
          {said ? said.remedy : TEXT.loadItAgain}
        </>
      }
      action={
        retry && (
          <button className="link" onClick={retry}>
            {TEXT.tryAgain}
          </button>
        )
      }
    />
  );
}

/** Loading and failing, the same on every station. */
export function QueryBoundary({
  query,
  children,
}: {
  query: { isPending: boolean; error: unknown; refetch: () => unknown };
  children: ReactNode;
}) {
  if (query.error)
    return (
      <div className="empty">
        <Trouble error={query.error} retry={() => void query.refetch()} />
      </div>
    );
  if (query.isPending)
    return (
      <div className="empty">
        <Waiting>{TEXT.fetching}</Waiting>
      </div>
    );
  return <>{children}</>;
}

/** Whether a trouble is of one of these fields, which show it themselves. */
export const isBeside = (error: unknown, fields: string[]) => fields.some((field) => troubleWith(error, field));

/** The trouble with one field of what was sent, with its remedy. */
export function troubleWith(error: unknown, field: string): string | null {
  if (!(error instanceof ApiError) || !error.field) return null;
  return error.field === field || error.field.endsWith(`.${field}`) ? `${error.message} ${error.remedy}` : null;
}
