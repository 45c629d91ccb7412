import { Form, Modal, Select } from "antd";
import { useState } from "react";
import { typed, type Schemas } from "../../api/client";
import { useGrinderWrites, useHabit } from "../../api/grinders";
import { useActions } from "../../app/actions";
import { isBeside, Trouble, troubleWith, Typed } from "../../ui/parts";
import { useSettled } from "../../ui/useSettled";
import { readNumber } from "../../ui/words";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.grinderForms;
const SETTLE_MS = 250;

type Grinder = Schemas["GrinderView"];
export type FormKind = "point" | "event" | null;

interface Props {
  kind: FormKind;
  close: () => void;
  grinder: Grinder;
  others: Grinder[];
}

/** A measured setting or an equal, or something that happened to a grinder. */
export function GrinderForms({ kind, close, grinder, others }: Props) {
  return (
    <Modal
      open={kind !== null}
      onCancel={close}
      footer={null}
      title={kind === "event" ? TEXT.whatHappenedToThe(grinder.name) : TEXT.aSettingOfThe(grinder.name)}
      width={520}
      destroyOnHidden
    >
      {kind === "point" ? (
        <NewPoint grinder={grinder} others={others} done={close} />
      ) : (
        <NewEvent grinder={grinder} done={close} />
      )}
    </Modal>
  );
}

function NewPoint({ grinder, others, done }: { grinder: Grinder; others: Grinder[]; done: () => void }) {
  const writes = useGrinderWrites();
  const { notify } = useActions();
  const [way, setWay] = useState<"size" | "habit" | "equal">(grinder.points.length ? "size" : "habit");
  const [error, setError] = useState<unknown>(null);
  const [setting, setSetting] = useState(grinder.next?.setting ?? "");
  const [size, setSize] = useState("");
  const [half, setHalf] = useState("6");
  const [roast, setRoast] = useState<Schemas["NewPoint"]["roast"]>(null);
  const [other, setOther] = useState<number | undefined>(others[0]?.id);
  const [theirs, setTheirs] = useState("");
  const [habit, setHabit] = useState("");
  const [label, setLabel] = useState<string | null>(null);
  const meant = useHabit(grinder.id, useSettled(habit, SETTLE_MS), label).data;
  async function add() {
    try {
      let takeBack: () => Promise<unknown>;
      if (way === "size") {
        const um = readNumber(size, "µm|um"),
          share = readNumber(half, "%") / 100;
        const ci95_um: [number, number] | null = um > 0 && share > 0 ? [um * (1 - share), um * (1 + share)] : null;
        const d50_um = Number.isNaN(um) ? typed(size) : um;
        const added = await writes.addPoint(grinder.id, { setting, d50_um, ci95_um, roast });
        takeBack = () => writes.removePoint(added.id);
      } else if (way === "habit") {
        const added = await writes.addHabit(grinder.id, habit, label);
        takeBack = () => writes.removePoint(added.id);
      } else {
        const body = { setting, other_id: other ?? 0, other_setting: theirs };
        const added = await writes.addEquivalence(grinder.id, body);
        takeBack = () => writes.removeEquivalence(added.id);
      }
      done();
      notify(TEXT.pointAddedToTheCurve(grinder.name, way === "habit" ? "" : ` ${setting}`), takeBack);
    } catch (refusal) {
      setError(refusal);
    }
  }
  const known = isBeside(error, ["setting", "d50_um", "other_setting", "words"]);
  return (
    <Form onFinish={() => void add()} className="stack">
      <Choice
        label={TEXT.howItIsKnown}
        options={[
          { value: "size", label: TEXT.itsSizeIsKnown },
          { value: "habit", label: TEXT.iUseItForAMethod },
          { value: "equal", label: TEXT.aRecipeNamesItsEqual, disabled: others.length === 0 },
        ]}
        value={way}
        choose={setWay}
      />
      <div className="side-by-side">
        {way === "habit" ? (
          <Typed
            small
            label={TEXT.whichSettingForWhat}
            placeholder={TEXT.about8ForTheCone}
            value={habit}
            words
            onChange={(words) => {
              setHabit(words);
              setLabel(null);
            }}
            width={300}
            trouble={troubleWith(error, "words")}
          />
        ) : (
          <Typed
            small
            label={TEXT.setting}
            value={setting}
            onChange={setSetting}
            width={110}
            trouble={troubleWith(error, "setting")}
          />
        )}
        {way === "size" ? (
          <>
            <Typed
              small
              label={TEXT.median}
              value={size}
              onChange={setSize}
              unit="µm"
              width={110}
              trouble={troubleWith(error, "d50_um")}
            />
            <Typed small label={TEXT.goodTo} value={half} onChange={setHalf} unit="%" width={80} />
            <label className="quiet">
              {TEXT.roast}
              <br />
              <Select
                aria-label={TEXT.roast}
                allowClear
                placeholder={TEXT.any}
                value={roast}
                onChange={(r) => setRoast(r ?? null)}
                className="field-m above-s"
                options={["light", "medium", "medium-dark", "dark"].map((r) => ({ value: r, label: r }))}
              />
            </label>
          </>
        ) : way === "equal" ? (
          <>
            <label className="quiet">
              {TEXT.isTheSameAs}
              <br />
              <Select
                aria-label={TEXT.otherGrinder}
                value={other}
                onChange={setOther}
                className="field-m above-s"
                options={others.map((g) => ({ value: g.id, label: g.name }))}
              />
            </label>
            <Typed
              small
              label={TEXT.at}
              value={theirs}
              onChange={setTheirs}
              width={110}
              trouble={troubleWith(error, "other_setting")}
            />
          </>
        ) : null}
      </div>
      {way === "habit" && meant && (
        <p className="habit-meant">
          {TEXT.takenAs}{" "}
          <Select
            aria-label={TEXT.whichMethodIsMeant}
            value={meant.label}
            onChange={setLabel}
            className="field-l"
            options={meant.labels.map((value) => ({ value, label: value }))}
          />{" "}
          {TEXT.toM(meant.low_um, meant.high_um)}
        </p>
      )}
      <p className="quiet">
        {way === "habit"
          ? TEXT.thisCountsAsTheMiddleOfThat
          : way === "size"
            ? TEXT.aPhotoPlacedAtASettingIsBetter
            : TEXT.twoPeoplesTheSameIsTakenAs}
      </p>
      {error != null && !known && <Trouble error={error} />}
      <div>
        <button
          className="main-act"
          type="submit"
          disabled={way === "habit" ? !habit.trim() : !setting.trim() || !(way === "size" ? size : theirs).trim()}
        >
          {TEXT.addThePoint}
        </button>
      </div>
    </Form>
  );
}

const EVENTS: { reason: Schemas["NewEra"]["reason"]; label: string; what: string }[] = [
  { reason: "cleaned", label: TEXT.cleaned, what: TEXT.takenApartAndPutTogetherIts },
  { reason: "moved", label: TEXT.moved, what: TEXT.theZeroWasSetAgainOrTheGrinder },
  { reason: "worn", label: TEXT.worn, what: TEXT.theBurrsHaveDulledSinceIt },
  { reason: "new burrs", label: TEXT.newBurrs, what: TEXT.theCurveMayHaveChangedIts },
];

function NewEvent({ grinder, done }: { grinder: Grinder; done: () => void }) {
  const writes = useGrinderWrites();
  const { notify } = useActions();
  const [error, setError] = useState<unknown>(null);
  const [reason, setReason] = useState<Schemas["NewEra"]["reason"]>("cleaned");
  async function log() {
    try {
      const kept = await writes.beginEra(grinder.id, reason);
      done();
      notify(`${grinder.name}: ${reason}`, () => writes.removeEra(kept.era_id));
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <Form onFinish={() => void log()} className="stack">
      <Choice
        label={TEXT.whatHappened}
        inLines
        options={EVENTS.map((e) => ({
          value: e.reason,
          label: (
            <>
              <strong className="half-bold">{e.label}</strong> {e.what}
            </>
          ),
        }))}
        value={reason}
        choose={setReason}
      />
      <p className="quiet">{TEXT.theCurveKeepsItsShapeAnd}</p>
      {error != null && <Trouble error={error} />}
      <div>
        <button className="main-act" type="submit">
          {TEXT.beginANewEra}
        </button>
      </div>
      <p className="quiet">{TEXT.unplugAGrinderBeforeYouOpen}</p>
    </Form>
  );
}
