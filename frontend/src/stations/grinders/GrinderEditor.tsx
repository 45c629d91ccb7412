import { Form, Modal, Select } from "antd";
import { useState, useEffect, type ReactNode } from "react";
import { typed, type Schemas } from "../../api/client";
import { useDialPreview, useGrinderWrites } from "../../api/grinders";
import { DialDrawing } from "../../charts/DialDrawing";
import { Typed, troubleWith, Trouble, Waiting } from "../../ui/parts";
import { draftOf, dialOf, KINDS, type Kind, type Draft, type Dial } from "./dialDraft";
import { Choice } from "../../ui/Choice";

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
      <GrinderForm
        grinder={grinder}
        done={(id) => {
          done(id);
          close();
        }}
      />
    </Modal>
  );
}

function GrinderForm({ grinder, done }: { grinder?: Schemas["GrinderView"]; done: (id: number) => void }) {
  const { add, change } = useGrinderWrites();
  const [error, setError] = useState<unknown>(null);
  const [name, setName] = useState(grinder?.name ?? "");
  const [burrs, setBurrs] = useState(grinder?.burrs ?? "conical");
  const [kind, setKind] = useState<Kind>(grinder?.dial.kind ?? "clicks");
  const [draft, setDraft] = useState<Draft>(() => draftOf(grinder?.dial));
  const [finer, setFiner] = useState<"down" | "up">(grinder?.dial.finer ?? "down");
  const [zero, setZero] = useState(grinder?.dial.zero ?? "");
  const [travel, setTravel] = useState(grinder?.step_travel_um ? String(grinder.step_travel_um) : "");
  const dial = dialOf(kind, draft, finer, zero);
  const preview = useDialPreview(dial);
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
        ? await change(grinder.id, { ...body, note: grinder.note || body.note, version: grinder.version })
        : await add(body);
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
    <Form onFinish={() => void keep()} className="grinder-editor">
      <div className="stack">
        <div className="side-by-side low">
          <div className="grow">
            <Typed small label="Name" value={name} onChange={setName} trouble={troubleWith(error, "name")} />
          </div>
          <Select
            aria-label="Burrs"
            value={burrs}
            onChange={setBurrs}
            className="field-m"
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
            className="whole-width above-s"
          />
        </label>
        <div className="side-by-side">{fields[kind]}</div>
        {kind === "rings" && (
          <p className="quiet">
            Labels as “A–K”, “1–9”, or one after the other. The fine ring covers so many steps of the coarse one.
          </p>
        )}
        {kind !== "seconds" && (
          <>
            <Choice
              label="Which way is finer"
              options={[
                { value: "down", label: "smaller is finer" },
                { value: "up", label: "larger is finer" },
              ]}
              value={finer}
              choose={setFiner}
            />
            <div className="side-by-side">
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
    </Form>
  );
}

function Preview({ dial, preview, error }: { dial: Dial; preview?: Schemas["DialPreview"]; error: unknown }) {
  const [place, setPlace] = useState(0);
  const last = (preview?.settings.length ?? 1) - 1;
  useEffect(() => setPlace(Math.round(last / 3)), [last, dial.kind]);
  if (error) return <Trouble error={error} />;
  if (!preview) return <Waiting>Drawing</Waiting>;
  return (
    <div className="drawn">
      <DialDrawing dial={dial} settings={preview.settings} place={Math.min(place, last)} turn={setPlace} size={230} />
      <p className="quiet above-s">
        Turn it: {preview.settings.length} settings, {preview.settings[0]} to {preview.settings[last]}, by one{" "}
        {preview.step_unit}
      </p>
    </div>
  );
}
