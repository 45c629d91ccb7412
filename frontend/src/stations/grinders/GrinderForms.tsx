import { Button, Input, InputNumber, Modal, Select } from "antd";
import { useState } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { useRefresh } from "../../api/hooks";
import { Trouble } from "../../ui/parts";

export type FormKind = "grinder" | "point" | null;

/** A new grinder, or a typed measurement of a setting. */
export function GrinderForms({ kind, close, grinder }: { kind: FormKind; close: () => void; grinder?: Schemas["GrinderView"] }) {
  return (
    <Modal open={kind !== null} onCancel={close} footer={null} title={kind === "point" ? `A measured setting of the ${grinder?.name}` : "A new grinder"} width={480} destroyOnHidden>
      {kind === "grinder" && <NewGrinder done={close} />}
      {kind === "point" && grinder && <NewPoint grinder={grinder} done={close} />}
    </Modal>
  );
}

function NewGrinder({ done }: { done: () => void }) {
  const refresh = useRefresh();
  const [error, setError] = useState<unknown>(null);
  const [name, setName] = useState("");
  const [kind, setKind] = useState<"clicks" | "numbers">("clicks");
  const [burrs, setBurrs] = useState("conical");
  const [highest, setHighest] = useState<number | null>(60);
  const [parts, setParts] = useState<number | null>(4);
  async function add() {
    const dial =
      kind === "clicks"
        ? { kind, clicks_per_turn: parts ?? 36, minimum: 0, maximum: highest ?? 60, finer: "down" as const }
        : { kind, minimum: 0, maximum: highest ?? 14, parts: parts ?? 4, finer: "down" as const };
    try {
      dataOf(await api.POST("/api/grinders", { body: { name, burrs, note: kind === "clicks" ? "clicks" : `numbers in ${parts} parts`, dial } }));
      await refresh();
      done();
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <form onSubmit={(e) => { e.preventDefault(); void add(); }} style={{ display: "grid", gap: 12 }}>
      <Input aria-label="Name" placeholder="Name" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} autoFocus />
      <Select aria-label="Burrs" value={burrs} onChange={setBurrs} options={["conical", "flat", "unknown"].map((b) => ({ value: b, label: `${b} burrs` }))} />
      <Select
        aria-label="Dial"
        value={kind}
        onChange={(k) => { setKind(k); setParts(k === "clicks" ? 36 : 4); setHighest(k === "clicks" ? 60 : 14); }}
        options={[{ value: "clicks", label: "Its dial is counted in clicks, “22”" }, { value: "numbers", label: "Its dial has numbers with parts, “4 1/4”" }]}
      />
      <div style={{ display: "flex", gap: 12 }}>
        <label className="quiet">Coarsest setting<br /><InputNumber min={1} max={5000} value={highest} onChange={setHighest} /></label>
        <label className="quiet">{kind === "clicks" ? "Clicks in a turn" : "Parts in a number"}<br /><InputNumber min={1} max={1000} value={parts} onChange={setParts} /></label>
      </div>
      {error != null && <Trouble error={error} />}
      <div><Button type="primary" htmlType="submit" disabled={!name.trim()}>Add it</Button></div>
      <p className="quiet">Unplug a grinder before you reach into it; burrs cut.</p>
    </form>
  );
}

function NewPoint({ grinder, done }: { grinder: Schemas["GrinderView"]; done: () => void }) {
  const refresh = useRefresh();
  const [error, setError] = useState<unknown>(null);
  const [setting, setSetting] = useState("");
  const [size, setSize] = useState<number | null>(null);
  async function add() {
    try {
      dataOf(await api.POST("/api/grinders/{id}/points", { params: { path: { id: grinder.id } }, body: { setting, d50_um: size ?? 0 } }));
      await refresh();
      done();
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <form onSubmit={(e) => { e.preventDefault(); void add(); }} style={{ display: "grid", gap: 12 }}>
      <p className="quiet">A photo placed at a setting is better: it brings its own uncertainty. A typed median is taken as good to 6 %.</p>
      <div style={{ display: "flex", gap: 12 }}>
        <label className="quiet">Setting<br /><Input value={setting} onChange={(e) => setSetting(e.target.value)} maxLength={40} autoFocus /></label>
        <label className="quiet">Median, µm<br /><InputNumber min={20} max={5000} value={size} onChange={setSize} style={{ width: 130 }} /></label>
      </div>
      {error != null && <Trouble error={error} />}
      <div><Button type="primary" htmlType="submit" disabled={!setting.trim() || !size}>Put it on the curve</Button></div>
    </form>
  );
}
