import { Modal } from "antd";
import { useSamples } from "../../api/samples";
import { useChangeWorkbench } from "../../api/workbench";
import { settingText } from "../../ui/parts";
import { between } from "../../ui/words";
import { dayAndTime } from "../../ui/dates";
import { WORDS } from "./words";

const TEXT = WORDS.samplePicker;

/** All samples, newest first, to put one on the bench. */
export function SamplePicker({ open, close, chosen }: { open: boolean; close: () => void; chosen?: number }) {
  const { samples, more, earlier } = useSamples();
  const change = useChangeWorkbench();
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.samples} width={600} destroyOnHidden>
      <ul className="rows">
        {samples?.map((s) => (
          <li key={s.id}>
            <span>
              <button className="link large" onClick={() => change.mutate({ sample_id: s.id }, { onSuccess: close })}>
                {s.grinder_name
                  ? TEXT.at(s.grinder_name, settingText(s.setting ?? ""))
                  : (s.photo_name ?? TEXT.aSample)}
              </button>
              <span className="quiet">
                {s.id === chosen ? TEXT.onTheBench : dayAndTime(s.created_at)}
                {s.coffee_name && `, ${s.coffee_name}`}
              </span>
            </span>
            <span className="figure">{between(s.d50_ci95_um)} µm</span>
          </li>
        ))}
      </ul>
      {more && (
        <button className="link above-m" onClick={earlier}>
          {TEXT.showEarlierSamples}
        </button>
      )}
    </Modal>
  );
}
