import { Modal } from "antd";
import { useExperimentWrites, type Experiment } from "../../../api/practice";

/** What goes into the cups, for whoever pours; that it was opened is noted. */
export function PouringSheet({ experiment: e }: { experiment: Experiment }) {
  const { pour } = useExperimentWrites();
  const sheet = pour.data;
  return (
    <>
      <button className="act" onClick={() => pour.mutate(e.id)} disabled={pour.isPending}>
        I pour: show what goes into the cups
      </button>
      <Modal open={Boolean(sheet)} onCancel={pour.reset} footer={null} title="For the one who pours" destroyOnHidden>
        <p>The taster looks away. Write the codes on the cups, fill them, and close this.</p>
        <table className="noted" aria-label="What goes into the cups">
          <tbody>
            {sheet?.cups.map((c) => (
              <tr key={c.code}>
                <th scope="row" className="figure">
                  {c.code}
                </th>
                <td>{c.holds}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="quiet">It is noted that this was opened.</p>
      </Modal>
    </>
  );
}
