import { useId, useState, type ReactNode } from "react";
import { HiddenHead, troubleWith } from "../../../ui/parts";
import { WORDS } from "../words";

const TEXT = WORDS.notedTable;

export interface Column<K extends string> {
  key: K;
  head: string;
  unit?: string;
  /** What is written for a figure that is known. */
  shown?: (value: number) => string;
}

type Row<K extends string> = Partial<Record<K, number | string | null>>;

interface Props<K extends string> {
  label: string;
  columns: Column<K>[];
  rows: Row<K>[];
  rowName: (i: number) => ReactNode;
  /** Text as typed; an empty one is a figure that is not known. */
  set: (row: number, key: K, text: string) => void;
  remove?: (row: number) => void;
  /** A further row to type into. */
  more?: boolean;
  /** Why a figure was refused: its field is marked, and the remedy stands below it. */
  error?: unknown;
}

/** A table of figures to type: each is kept when its field is left. */
export function NotedTable<K extends string>({ label, columns, rows, rowName, set, remove, more, error }: Props<K>) {
  const all = more ? [...rows, {} as Row<K>] : rows;
  return (
    <table className="noted" aria-label={label}>
      <thead>
        <tr>
          <HiddenHead>{TEXT.which}</HiddenHead>
          {columns.map((c) => (
            <th key={c.key}>
              {c.head}
              {c.unit && <span className="unit">, {c.unit}</span>}
            </th>
          ))}
          {remove && <HiddenHead>{TEXT.change}</HiddenHead>}
        </tr>
      </thead>
      <tbody>
        {all.map((row, i) => (
          <tr key={i}>
            <th scope="row">{rowName(i)}</th>
            {columns.map((c) => (
              <td key={c.key}>
                <Field
                  label={`${c.head} ${i + 1}`}
                  value={written(row[c.key], c.shown)}
                  trouble={troubleWith(error, `${i}.${c.key}`) ?? (all.length === 1 ? troubleWith(error, c.key) : null)}
                  take={(text) => set(i, c.key, text)}
                />
              </td>
            ))}
            {remove && (
              <td>
                {i < rows.length && (
                  <button className="icon-act" aria-label={TEXT.removeRow(i + 1)} onClick={() => remove(i)}>
                    ×
                  </button>
                )}
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function written(value: number | string | null | undefined, shown?: (v: number) => string): string {
  if (value == null) return "";
  return typeof value === "number" && shown ? shown(value) : String(value);
}

function Field({
  label,
  value,
  trouble,
  take,
}: {
  label: string;
  value: string;
  trouble: string | null;
  take: (text: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const id = useId();
  return (
    <>
      <input
        className="cell-input figure"
        aria-label={label}
        aria-invalid={Boolean(trouble)}
        aria-describedby={trouble ? id : undefined}
        inputMode="decimal"
        autoComplete="off"
        value={typed ?? value}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        onBlur={() => {
          if (typed !== null && typed.trim() !== value) take(typed.trim());
          setTyped(null);
        }}
      />
      {trouble && (
        <div className="trouble" id={id} role="alert">
          {trouble}
        </div>
      )}
    </>
  );
}
