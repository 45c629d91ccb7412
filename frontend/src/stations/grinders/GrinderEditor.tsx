import { Modal, Select } from "antd";
import { useEffect, useState, type ReactNode } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, dataOf, typed, type Schemas } from "../../api/client";
import { useRefresh } from "../../api/hooks";
import { DialDrawing } from "../../charts/DialDrawing";
import { Trouble, troubleWith, Typed, Waiting } from "../../ui/parts";

type Dial = Schemas["GrinderView"]["dial"];
type Kind = Dial["kind"];

/** What is typed of a dial; every kind keeps its own words while another is looked at. */
interface Draft {
  clicks: { perTurn: string; first: string; last: string };
  numbers: { first: string; last: string; parts: string };
  stepless: { first: string; last: string; readable: string };
  turns: { numbers: string; clicks: string; last: string };
  rings: { coarse: string; fine: string; span: string };
  seconds: { last: string };
}

const START: Draft = {
  clicks: { perTurn: "36", first: "0", last: "60" },
  numbers: { first: "0", last: "14", parts: "4" },
  stepless: { first: "0", last: "8", readable: "0.05" },
  turns: { numbers: "10", clicks: "4", last: "3.0.0" },
  rings: { coarse: "A–K", fine: "1–9", span: "1" },
  seconds: { last: "60" },
};
const KINDS: { value: Kind; label: string }[] = [
  { value: "clicks", label: "clicks that are counted, “22”" },
  { value: "numbers", label: "numbers with parts between, “4 1/4”" },
  { value: "stepless", label: "a collar without stops, “4.35”" },
  { value: "turns", label: "turns, numbers and clicks, “1.4.2”" },
  { value: "rings", label: "two rings, “C4”" },
  { value: "seconds", label: "no dial: blades, “12 s shaken”" },
];

/** "A–K", "1-9" or "A B C" as labels. */
function labelsOf(text: string): string[] {
  const range = text.trim().match(/^(\w)\s*[-–]\s*(\w)$/) ?? text.trim().match(/^(\d+)\s*[-–]\s*(\d+)$/);
  if (range) {
    const [a, b] = [range[1]!, range[2]!];
    if (/^\d+$/.test(a) && /^\d+$/.test(b))
      return Array.from({ length: Math.min(60, Math.max(0, Number(b) - Number(a) + 1)) }, (_, i) =>
        String(Number(a) + i),
      );
    const [x, y] = [a.charCodeAt(0), b.charCodeAt(0)];
    return Array.from({ length: Math.min(60, Math.max(0, y - x + 1)) }, (_, i) => String.fromCharCode(x + i));
  }
  return text.split(/[\s,;]+/).filter(Boolean);
}

function dialOf(kind: Kind, d: Draft, finer: "down" | "up", zero: string): Dial {
  const shared = { finer, zero: zero.trim() || null };
  switch (kind) {
    case "clicks":
      return {
        kind,
        ...shared,
        clicks_per_turn: typed(d.clicks.perTurn),
        minimum: typed(d.clicks.first),
        maximum: typed(d.clicks.last),
      };
    case "numbers":
      return {
        kind,
        ...shared,
        minimum: typed(d.numbers.first),
        maximum: typed(d.numbers.last),
        parts: typed(d.numbers.parts),
      };
    case "stepless":
      return {
        kind,
        ...shared,
        minimum: typed(d.stepless.first),
        maximum: typed(d.stepless.last),
        readable: typed(d.stepless.readable.replace(",", ".")),
      };
    case "turns":
      return {
        kind,
        ...shared,
        numbers_per_turn: typed(d.turns.numbers),
        clicks_per_number: typed(d.turns.clicks),
        minimum: "0.0.0",
        maximum: d.turns.last,
      };
    case "rings":
      return {
        kind,
        ...shared,
        coarse: labelsOf(d.rings.coarse),
        fine: labelsOf(d.rings.fine),
        fine_span: typed(d.rings.span),
      };
    case "seconds":
      return { kind, finer: "up", zero: null, minimum: 2, maximum: typed(d.seconds.last) };
  }
}

function draftOf(dial: Dial | undefined): Draft {
  if (!dial) return START;
  switch (dial.kind) {
    case "clicks":
      return {
        ...START,
        clicks: { perTurn: String(dial.clicks_per_turn), first: String(dial.minimum), last: String(dial.maximum) },
      };
    case "numbers":
      return {
        ...START,
        numbers: { first: String(dial.minimum), last: String(dial.maximum), parts: String(dial.parts) },
      };
    case "stepless":
      return {
        ...START,
        stepless: { first: String(dial.minimum), last: String(dial.maximum), readable: String(dial.readable) },
      };
    case "turns":
      return {
        ...START,
        turns: {
          numbers: String(dial.numbers_per_turn),
          clicks: String(dial.clicks_per_number),
          last: dial.maximum ?? "3.0.0",
        },
      };
    case "rings":
      return {
        ...START,
        rings: { coarse: dial.coarse.join(" "), fine: dial.fine.join(" "), span: String(dial.fine_span) },
      };
    case "seconds":
      return { ...START, seconds: { last: String(dial.maximum) } };
  }
}

interface Props {
  open: boolean;
  close: () => void;
  grinder?: Schemas["GrinderView"];
  done: (id: number) => void;
}

/** A new grinder, or one that is changed: its dial is drawn as it looks while it is described. */
export function GrinderEditor({ open, close, grinder, done }: Props) {
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      title={grinder ? `The ${grinder.name}` : "A new grinder"}
      width={760}
      destroyOnHidden
    >
      <Form
        grinder={grinder}
        done={(id) => {
          done(id);
          close();
        }}
      />
    </Modal>
  );
}

function Form({ grinder, done }: { grinder?: Schemas["GrinderView"]; done: (id: number) => void }) {
  const refresh = useRefresh();
  const [error, setError] = useState<unknown>(null);
  const [name, setName] = useState(grinder?.name ?? "");
  const [burrs, setBurrs] = useState(grinder?.burrs ?? "conical");
  const [kind, setKind] = useState<Kind>(grinder?.dial.kind ?? "clicks");
  const [draft, setDraft] = useState<Draft>(() => draftOf(grinder?.dial));
  const [finer, setFiner] = useState<"down" | "up">(grinder?.dial.finer ?? "down");
  const [zero, setZero] = useState(grinder?.dial.zero ?? "");
  const [travel, setTravel] = useState(grinder?.step_travel_um ? String(grinder.step_travel_um) : "");
  const dial = dialOf(kind, draft, finer, zero);
  const preview = useQuery({
    queryKey: ["dial", dial],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.POST("/api/dials/preview", { body: { dial } })),
  });
  function set<K extends Kind>(of: K, part: Partial<Draft[K]>) {
    setDraft((d) => ({ ...d, [of]: { ...d[of], ...part } }));
  }
  async function keep() {
    const body = {
      name,
      burrs,
      note: KINDS.find((k) => k.value === kind)!.label.split(",")[0]!,
      dial,
      step_travel_um: travel.trim() ? typed(travel.replace(",", ".")) : null,
    };
    try {
      const kept = grinder
        ? dataOf(
            await api.PATCH("/api/grinders/{id}", {
              params: { path: { id: grinder.id } },
              body: { ...body, note: grinder.note || body.note, version: grinder.version },
            }),
          )
        : dataOf(await api.POST("/api/grinders", { body }));
      await refresh();
      done(kept.id);
    } catch (refusal) {
      setError(refusal);
    }
  }
  const field = (label: string, value: string, onChange: (t: string) => void, width = 112) => (
    <Typed small key={label} label={label} value={value} onChange={onChange} width={width} />
  );
  const fields: Record<Kind, ReactNode> = {
    clicks: (
      <>
        {field("Clicks in a turn", draft.clicks.perTurn, (perTurn) => set("clicks", { perTurn }))}
        {field("First click", draft.clicks.first, (first) => set("clicks", { first }))}
        {field("Last click", draft.clicks.last, (last) => set("clicks", { last }))}
      </>
    ),
    numbers: (
      <>
        {field("First number", draft.numbers.first, (first) => set("numbers", { first }))}
        {field("Last number", draft.numbers.last, (last) => set("numbers", { last }))}
        {field("Parts of each", draft.numbers.parts, (parts) => set("numbers", { parts }))}
      </>
    ),
    stepless: (
      <>
        {field("From", draft.stepless.first, (first) => set("stepless", { first }))}
        {field("To", draft.stepless.last, (last) => set("stepless", { last }))}
        {field("Readable to", draft.stepless.readable, (readable) => set("stepless", { readable }))}
      </>
    ),
    turns: (
      <>
        {field("Numbers a turn", draft.turns.numbers, (numbers) => set("turns", { numbers }))}
        {field("Clicks a number", draft.turns.clicks, (clicks) => set("turns", { clicks }))}
        {field("Coarsest", draft.turns.last, (last) => set("turns", { last }))}
      </>
    ),
    rings: (
      <>
        {field("Coarse ring", draft.rings.coarse, (coarse) => set("rings", { coarse }))}
        {field("Fine ring", draft.rings.fine, (fine) => set("rings", { fine }))}
        {field("Fine ring covers", draft.rings.span, (span) => set("rings", { span }))}
      </>
    ),
    seconds: field("Longest, s", draft.seconds.last, (last) => set("seconds", { last })),
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
      className="grinder-editor"
    >
      <div style={{ display: "grid", gap: 16 }}>
        <div style={{ display: "flex", gap: 18, alignItems: "end" }}>
          <div style={{ flex: 1 }}>
            <Typed small label="Name" value={name} onChange={setName} trouble={troubleWith(error, "name")} />
          </div>
          <Select
            aria-label="Burrs"
            value={burrs}
            onChange={setBurrs}
            style={{ width: 150 }}
            options={[
              { value: "conical", label: "conical burrs" },
              { value: "flat", label: "flat burrs" },
              { value: "unknown", label: "unknown burrs" },
              { value: "blade", label: "blades" },
            ]}
          />
        </div>
        <label className="quiet">
          Its dial has
          <br />
          <Select
            aria-label="Dial"
            value={kind}
            onChange={(chosen: Kind) => {
              setKind(chosen);
              if (chosen === "seconds") setBurrs("blade");
            }}
            options={KINDS}
            style={{ width: "100%", marginTop: 4 }}
          />
        </label>
        <div style={{ display: "flex", gap: 18 }}>{fields[kind]}</div>
        {kind === "rings" && (
          <p className="quiet">
            Labels as “A–K”, “1–9”, or one after the other. The fine ring covers so many steps of the coarse one.
          </p>
        )}
        {kind !== "seconds" && (
          <>
            <div className="chips" role="radiogroup" aria-label="Which way is finer">
              <button
                type="button"
                className="chip"
                role="radio"
                aria-checked={finer === "down"}
                onClick={() => setFiner("down")}
              >
                smaller is finer
              </button>
              <button
                type="button"
                className="chip"
                role="radio"
                aria-checked={finer === "up"}
                onClick={() => setFiner("up")}
              >
                larger is finer
              </button>
            </div>
            <div style={{ display: "flex", gap: 18 }}>
              <Typed small label="Burrs touch at" value={zero} onChange={setZero} width={130} placeholder="not known" />
              <Typed
                small
                label="Burrs move, each step"
                value={travel}
                onChange={setTravel}
                unit="µm"
                width={170}
                placeholder="not known"
              />
            </div>
          </>
        )}
        {burrs === "blade" && (
          <p className="quiet">
            Blades chop at random: no time gives one size, so they get no curve. Shake between short bursts, and measure
            each grind by a photo.
          </p>
        )}
        {error != null && !troubleWith(error, "name") && <Trouble error={error} />}
        <div>
          <button className="main-act" type="submit" disabled={!name.trim()}>
            {grinder ? "Save" : "Add grinder"}
          </button>
        </div>
        <p className="quiet">
          Find where burrs touch by hand, empty and unplugged, and only as its maker allows. Burrs cut.
        </p>
      </div>
      <Preview dial={dial} preview={preview.data} error={preview.error} />
    </form>
  );
}

function Preview({ dial, preview, error }: { dial: Dial; preview?: Schemas["DialPreview"]; error: unknown }) {
  const [place, setPlace] = useState(0);
  const last = (preview?.settings.length ?? 1) - 1;
  useEffect(() => setPlace(Math.round(last / 3)), [last, dial.kind]);
  if (error) return <Trouble error={error} />;
  if (!preview) return <Waiting>Drawing</Waiting>;
  return (
    <div style={{ justifySelf: "center", textAlign: "center" }}>
      <DialDrawing dial={dial} settings={preview.settings} place={Math.min(place, last)} turn={setPlace} size={230} />
      <p className="quiet" style={{ marginTop: 8 }}>
        Turn it: {preview.settings.length} settings, {preview.settings[0]} to {preview.settings[last]}, by one{" "}
        {preview.step_unit}
      </p>
    </div>
  );
}
