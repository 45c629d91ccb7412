import { Form, Modal, Select, Tabs } from "antd";
import { useState } from "react";
import { ApiError, type Schemas } from "../../api/client";
import { useMixed, useSampleWrites, useSieved } from "../../api/samples";
import { useActions } from "../../app/actions";
import { MiniCurve } from "../../charts/MiniCurve";
import { Trouble, Typed } from "../../ui/parts";
import { percent, readNumber, whole } from "../../ui/words";
import { useSettled } from "../../ui/useSettled";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.sievesAndMixtures;

const UNITS = "g|µm|%";

type Way = "weighed" | "sieve" | "mix";
interface Props {
  open: boolean;
  close: () => void;
  sample: Schemas["SampleDetail"];
  samples: Schemas["SampleView"][];
}

/** Weighed sieves as a sample; what a sieve would take from this one; this one mixed with another. */
export function SievesAndMixtures({ open, close, sample, samples }: Props) {
  const [way, setWay] = useState<Way>("sieve");
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.sievesAndMixtures} width={620} destroyOnHidden>
      <Tabs
        activeKey={way}
        onChange={(key) => setWay(key as Way)}
        items={[
          { key: "sieve", label: TEXT.whatWouldASieveTake, children: <WhatIfSieve sample={sample} /> },
          {
            key: "mix",
            label: TEXT.mixWithAnother,
            children: <Mixture sample={sample} others={samples.filter((s) => s.id !== sample.id)} />,
          },
          { key: "weighed", label: TEXT.iWeighedSieves, children: <Weighed close={close} /> },
        ]}
      />
    </Modal>
  );
}

function WhatIfSieve({ sample }: { sample: Schemas["SampleDetail"] }) {
  const [aperture, setAperture] = useState("300");
  const [keep, setKeep] = useState<"over" | "under">("over");
  const um = readNumber(useSettled(aperture, 250), UNITS);
  const answer = useSieved(sample, um, keep);
  return (
    <>
      <div className="side-by-side low wide">
        <Typed small label={TEXT.aperture} value={aperture} onChange={setAperture} unit="µm" width={130} />
        <Choice
          label={TEXT.whatIsKept}
          options={[
            { value: "over", label: TEXT.keepWhatStaysOnIt },
            { value: "under", label: TEXT.keepWhatFallsThrough },
          ]}
          value={keep}
          choose={setKeep}
        />
      </div>
      <Answer answer={answer.data} error={answer.error} lost />
      <p className="quiet above-m">{TEXT.estimatedForAHandHeldSieve}</p>
    </>
  );
}

function Mixture({ sample, others }: { sample: Schemas["SampleDetail"]; others: Schemas["SampleView"][] }) {
  const [other, setOther] = useState<number | null>(others[0]?.id ?? null);
  const [share, setShare] = useState("50");
  const part = readNumber(useSettled(share, 250), UNITS) / 100;
  const answer = useMixed(sample, other, part);
  if (!others.length) return <p className="quiet">{TEXT.measureASecondGrindFirstThen}</p>;
  return (
    <>
      <div className="side-by-side low wide">
        <Typed small label={TEXT.ofThisGrind} value={share} onChange={setShare} unit="%" width={110} />
        <Select
          aria-label={TEXT.theOtherGrind}
          value={other}
          onChange={setOther}
          className="field-l"
          options={others.map((s) => ({
            value: s.id,
            label: TEXT.nameAndMedian(s.grinder_name, s.setting, s.photo_name ?? s.source, Math.round(s.d50_um)),
          }))}
        />
      </div>
      <Answer answer={answer.data} error={answer.error} />
    </>
  );
}

function Answer({ answer, error, lost }: { answer?: Schemas["WhatIfView"]; error: unknown; lost?: boolean }) {
  if (error)
    return (
      <div className="above-l">
        <Trouble error={error} />
      </div>
    );
  if (!answer) return <div className="what-if-waiting" />;
  return (
    <div className="what-if" data-testid="what-if">
      <ul className="rows">
        {lost && (
          <li>
            <span>{TEXT.lost}</span>
            <span className="figure held">{TEXT.ofTheDose(percent(answer.lost_share))}</span>
          </li>
        )}
        <li>
          <span>{TEXT.median}</span>
          <span className="figure">
            {whole(answer.before_d50_um)} → {whole(answer.d50_um)} µm
          </span>
        </li>
        <li>
          <span>{TEXT.under100M}</span>
          <span className="figure">
            {percent(answer.before_below_100)} → {percent(answer.below_100)}
          </span>
        </li>
        <li>
          <span>D10, D90</span>
          <span className="figure">
            {whole(answer.d10_um)}, {whole(answer.d90_um)} µm
          </span>
        </li>
      </ul>
      <MiniCurve size={answer.size_um} density={answer.density} width={240} height={110} />
    </div>
  );
}

function Weighed({ close }: { close: () => void }) {
  const [rows, setRows] = useState([
    ["800", ""],
    ["600", ""],
    ["400", ""],
    ["", ""],
  ]);
  const [pan, setPan] = useState("");
  const [error, setError] = useState<unknown>(null);
  const { addSieving, remove } = useSampleWrites();
  const { notify } = useActions();
  const put = (i: number, k: number, text: string) =>
    setRows(rows.map((r, j) => (j === i ? r.map((c, m) => (m === k ? text : c)) : r)));
  async function save() {
    const used = rows.filter(([a, m]) => a!.trim() && m!.trim());
    const body = {
      aperture_um: used.map(([a]) => readNumber(a!, UNITS)),
      retained_g: used.map(([, m]) => readNumber(m!, UNITS)),
      pan_g: readNumber(pan || "0", UNITS),
    };
    if ([...body.aperture_um, ...body.retained_g, body.pan_g].some((v) => !Number.isFinite(v)) || !used.length) {
      setError(
        new ApiError(422, "sieves-malformed", TEXT.aLineIsNotTwoNumbers, TEXT.typeAnApertureInMAndAMass, "sieves"),
      );
      return;
    }
    try {
      const made = await addSieving(body);
      notify(TEXT.sievesSavedMedianM(Math.round(made.d50_um)), () => remove(made.id));
      close();
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <Form onFinish={() => void save()}>
      <p className="quiet">{TEXT.weighWhatStayedOnEachSieve}</p>
      <table className="sieve-table">
        <thead>
          <tr className="quiet">
            <th align="left">{TEXT.apertureM}</th>
            <th align="left">{TEXT.stayedOnItG}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([a, m], i) => (
            <tr key={i}>
              <td>
                <input
                  className="cell-input"
                  aria-label={TEXT.aperture2(i + 1)}
                  value={a}
                  onChange={(e) => put(i, 0, e.target.value)}
                />
              </td>
              <td>
                <input
                  className="cell-input"
                  aria-label={TEXT.mass(i + 1)}
                  value={m}
                  onChange={(e) => put(i, 1, e.target.value)}
                />
              </td>
            </tr>
          ))}
          <tr>
            <td className="quiet">{TEXT.thePan}</td>
            <td>
              <input
                className="cell-input"
                aria-label={TEXT.massInThePan}
                value={pan}
                onChange={(e) => setPan(e.target.value)}
              />
            </td>
          </tr>
        </tbody>
      </table>
      {error != null && <Trouble error={error} />}
      <div className="side-by-side middle above-m">
        <button className="main-act" type="submit">
          {TEXT.keepAsASample}
        </button>
        {rows.length < 12 && (
          <button className="link" type="button" onClick={() => setRows([...rows, ["", ""]])}>
            {TEXT.anotherSieve}
          </button>
        )}
      </div>
    </Form>
  );
}
