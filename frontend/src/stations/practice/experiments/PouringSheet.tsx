import { Modal } from "antd";
import { useExperimentWrites, type Experiment } from "../../../api/practice";
import { WORDS } from "../words";

const TEXT = WORDS.pouringSheet;

/** What goes into the cups, for whoever pours; that it was opened is noted. */
export function PouringSheet({ experiment: e }: { experiment: Experiment }) {
  const { pour } = useExperimentWrites();
  const sheet = pour.data;
  return (
    <>
      <button className="act" onClick={() => pour.mutate(e.id)} disabled={pour.isPending}>
        {TEXT.iPourShowWhatGoesIntoTheCups}
      </button>
      <Modal open={Boolean(sheet)} onCancel={pour.reset} footer={null} title={TEXT.forTheOneWhoPours} destroyOnHidden>
        <p>{TEXT.theTasterLooksAwayWriteThe}</p>
        <table className="noted" aria-label={TEXT.whatGoesIntoTheCups}>
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
        <p className="quiet">{TEXT.itIsNotedThatThisWasOpened}</p>
      </Modal>
    </>
  );
}
