import { Form, Modal, Select } from "antd";
import { useState, useEffect, type ReactNode } from "react";
import { typed, type Schemas } from "../../api/client";
import { useDialPreview, useGrinderWrites } from "../../api/grinders";
import { DialDrawing } from "../../charts/DialDrawing";
import { Typed, troubleWith, Trouble, Waiting } from "../../ui/parts";
import { draftOf, dialOf, KINDS, type Kind, type Draft, type Dial } from "./dialDraft";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.grinderEditor;

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
      title={grinder ? TEXT.the(grinder.name) : TEXT.aNewGrinder}
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
        {field(TEXT.clicksInATurn, draft.clicks.perTurn, (perTurn) => set("clicks", { perTurn }))}
        {field(TEXT.firstClick, draft.clicks.first, (first) => set("clicks", { first }))}
        {field(TEXT.lastClick, draft.clicks.last, (last) => set("clicks", { last }))}
      </>
    ),
    numbers: (
      <>
        {field(TEXT.firstNumber, draft.numbers.first, (first) => set("numbers", { first }))}
        {field(TEXT.lastNumber, draft.numbers.last, (last) => set("numbers", { last }))}
        {field(TEXT.partsOfEach, draft.numbers.parts, (parts) => set("numbers", { parts }))}
      </>
    ),
    stepless: (
      <>
        {field("From", draft.stepless.first, (first) => set("stepless", { first }))}
        {field("To", draft.stepless.last, (last) => set("stepless", { last }))}
        {field(TEXT.readableTo, draft.stepless.readable, (readable) => set("stepless", { readable }))}
      </>
    ),
    turns: (
      <>
        {field(TEXT.numbersATurn, draft.turns.numbers, (numbers) => set("turns", { numbers }))}
        {field(TEXT.clicksANumber, draft.turns.clicks, (clicks) => set("turns", { clicks }))}
        {field("Coarsest", draft.turns.last, (last) => set("turns", { last }))}
      </>
    ),
    rings: (
      <>
        {field(TEXT.coarseRing, draft.rings.coarse, (coarse) => set("rings", { coarse }))}
        {field(TEXT.fineRing, draft.rings.fine, (fine) => set("rings", { fine }))}
        {field(TEXT.fineRingCovers, draft.rings.span, (span) => set("rings", { span }))}
      </>
    ),
    seconds: field(TEXT.longestS, draft.seconds.last, (last) => set("seconds", { last })),
  };
  return (
    <Form onFinish={() => void keep()} className="grinder-editor">
      <div className="stack">
        <div className="side-by-side low">
          <div className="grow">
            <Typed small label={TEXT.name} value={name} onChange={setName} trouble={troubleWith(error, "name")} />
          </div>
          <Select
            aria-label={TEXT.burrs}
            value={burrs}
            onChange={setBurrs}
            className="field-m"
            options={[
              { value: "conical", label: TEXT.conicalBurrs },
              { value: "flat", label: TEXT.flatBurrs },
              { value: "unknown", label: TEXT.unknownBurrs },
              { value: "blade", label: TEXT.blades },
            ]}
          />
        </div>
        <label className="quiet">
          {TEXT.itsDialHas}
          <br />
          <Select
            aria-label={TEXT.dial}
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
        {kind === "rings" && <p className="quiet">{TEXT.labelsAsAK19OrOneAfterThe}</p>}
        {kind !== "seconds" && (
          <>
            <Choice
              label={TEXT.whichWayIsFiner}
              options={[
                { value: "down", label: TEXT.smallerIsFiner },
                { value: "up", label: TEXT.largerIsFiner },
              ]}
              value={finer}
              choose={setFiner}
            />
            <div className="side-by-side">
              <Typed
                small
                label={TEXT.burrsTouchAt}
                value={zero}
                onChange={setZero}
                width={130}
                placeholder={TEXT.notKnown}
              />
              <Typed
                small
                label={TEXT.burrsMoveEachStep}
                value={travel}
                onChange={setTravel}
                unit="µm"
                width={170}
                placeholder={TEXT.notKnown}
              />
            </div>
          </>
        )}
        {burrs === "blade" && <p className="quiet">{TEXT.bladesChopAtRandomNoTimeGives}</p>}
        {error != null && !troubleWith(error, "name") && <Trouble error={error} />}
        <div>
          <button className="main-act" type="submit" disabled={!name.trim()}>
            {grinder ? TEXT.save : TEXT.addGrinder}
          </button>
        </div>
        <p className="quiet">{TEXT.findWhereBurrsTouchByHand}</p>
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
  if (!preview) return <Waiting>{TEXT.drawing}</Waiting>;
  return (
    <div className="drawn">
      <DialDrawing dial={dial} settings={preview.settings} place={Math.min(place, last)} turn={setPlace} size={230} />
      <p className="quiet above-s">
        {TEXT.turnIt} {preview.settings.length} {TEXT.settings} {preview.settings[0]} {TEXT.to} {preview.settings[last]}
        {TEXT.byOne} {preview.step_unit}
      </p>
    </div>
  );
}
