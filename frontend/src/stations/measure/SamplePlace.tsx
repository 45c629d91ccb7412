import { Form, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useGrinders } from "../../api/grinders";
import { useSampleWrites } from "../../api/samples";
import { useChangeWorkbench, useWorkbench } from "../../api/workbench";
import { Setting, Trouble } from "../../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.samplePlace;

type Sample = Schemas["SampleDetail"];

/** After a photo one question: whether it was ground at the setting at hand; one tap answers it. */
export function GroundOn({ sample, another }: { sample: Sample; another: () => void }) {
  const bench = useWorkbench().data;
  const change = useChangeWorkbench();
  const { place } = useSampleWrites();
  const [error, setError] = useState<unknown>(null);
  const grinder = bench?.grinder;
  if (bench?.photo_setting !== "ask" || bench.sample?.id !== sample.id || !grinder?.setting) return null;
  async function yes() {
    try {
      await place(sample.id, grinder!.id, grinder!.setting!);
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <section className="ground-on" aria-label={TEXT.whereItWasGround}>
      <p>
        {TEXT.groundOn} {grinder.name} {TEXT.at} <Setting value={grinder.setting} />?
      </p>
      <div className="side-by-side wrap">
        <button className="chip" onClick={() => void yes()}>
          {TEXT.yes}
        </button>
        <button className="chip" onClick={another}>
          {TEXT.another}
        </button>
        <button className="chip" onClick={() => change.mutate({ photo_setting: "unknown" })}>
          {TEXT.dontKnow}
        </button>
      </div>
      {error != null && <Trouble error={error} />}
    </section>
  );
}

/** Say at which setting the sample was ground, so that it becomes a point of that grinder's curve. */
export function Place({ sample, asked = false }: { sample: Sample; asked?: boolean }) {
  const grinders = useGrinders().data ?? [];
  const { place } = useSampleWrites();
  const [open, setOpen] = useState(asked);
  const [grinder, setGrinder] = useState<number | null>(sample.grinder_id ?? null);
  const [setting, setSetting] = useState(sample.setting ?? "");
  const [error, setError] = useState<unknown>(null);
  if (grinders.length === 0) return null;
  async function save() {
    if (!grinder) return;
    try {
      await place(sample.id, grinder, setting);
      setError(null);
      setOpen(false);
    } catch (refusal) {
      setError(refusal);
    }
  }
  if (!open)
    return (
      <p className="ways sample-place">
        {sample.grinder_name ? (
          <>
            {TEXT.groundOnThe} {sample.grinder_name} {TEXT.at} <Setting value={sample.setting ?? ""} />.{" "}
          </>
        ) : (
          <>{TEXT.whereWasItGround} </>
        )}
        <button className="link" onClick={() => setOpen(true)}>
          {sample.grinder_name ? TEXT.change : TEXT.sayGrinderAndSetting}
        </button>
      </p>
    );
  return (
    <Form onFinish={() => void save()} className="sample-place">
      <Select
        aria-label={TEXT.grinder}
        placeholder={TEXT.grinder}
        value={grinder}
        onChange={setGrinder}
        options={grinders.map((g) => ({ value: g.id, label: g.name }))}
      />
      <input
        aria-label={TEXT.setting}
        placeholder={TEXT.settingAsYouWouldWriteIt}
        value={setting}
        onChange={(e) => setSetting(e.target.value)}
        className="boxed"
      />
      {error != null && <Trouble error={error} />}
      <div className="side-by-side">
        <button className="link" type="submit" disabled={!grinder || !setting.trim()}>
          {TEXT.keepOnItsCurve}
        </button>
        <button className="link" type="button" onClick={() => setOpen(false)}>
          {TEXT.leave}
        </button>
      </div>
    </Form>
  );
}
