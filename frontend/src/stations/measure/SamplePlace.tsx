import { Form, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useGrinders } from "../../api/grinders";
import { useSampleWrites } from "../../api/samples";
import { Setting, Trouble } from "../../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.samplePlace;

type Sample = Schemas["SampleDetail"];

/** Say at which setting the sample was ground, so that it becomes a point of that grinder's curve. */
export function Place({ sample }: { sample: Sample }) {
  const grinders = useGrinders().data ?? [];
  const { place } = useSampleWrites();
  const [open, setOpen] = useState(false);
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
