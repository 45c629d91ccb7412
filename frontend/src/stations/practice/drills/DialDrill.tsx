import { Form } from "antd";
import { useState } from "react";
import { DialDrawing } from "../../../charts/DialDrawing";
import { Setting, Typed, troubleWith } from "../../../ui/parts";
import { useDrillActions, type Asked } from "./drillParts";

/** A task at one of one's own dials. */
export function DialDrill({ question, verdict, answer, next, error }: Asked) {
  const dial = question.dial!;
  const [typed, setTyped] = useState("");
  const [place, setPlace] = useState(dial.place ?? 0);
  const reply = () => answer(dial.task === "set" ? dial.settings[place]! : typed);
  useDrillActions(
    "dial",
    verdict,
    next,
    dial.task === "finer"
      ? []
      : [{ key: "Space", label: "That is it", main: true, run: reply, disabled: dial.task !== "set" && !typed.trim() }],
  );
  return (
    <div className="thing dial-drill">
      <p className="quiet">{dial.grinder}</p>
      <h1>
        {dial.task === "read" && "Where does it stand?"}
        {dial.task === "set" && (
          <>
            Set it to <Setting value={dial.setting!} />
          </>
        )}
        {dial.task === "step" && (
          <>
            From <Setting value={dial.setting!} /> go {dial.steps}. Where are you?
          </>
        )}
        {dial.task === "finer" && "Which of the two grinds finer?"}
      </h1>
      {(dial.task === "read" || dial.task === "set") && (
        <DialDrawing
          dial={dial.dial}
          settings={dial.settings}
          place={place}
          turn={dial.task === "set" && !verdict ? setPlace : () => {}}
          size={250}
          unread
        />
      )}
      {(dial.task === "read" || dial.task === "step") && (
        <Form onFinish={() => typed.trim() && reply()}>
          <Typed label="Setting" value={typed} onChange={setTyped} width={180} trouble={troubleWith(error, "answer")} />
        </Form>
      )}
      {dial.task === "finer" && (
        <div className="chips">
          {dial.options?.map((o) => (
            <button key={o} className="chip big" onClick={() => answer(o)} disabled={verdict !== null}>
              <span>
                <Setting value={o} />
              </span>
            </button>
          ))}
        </div>
      )}
      {verdict && (
        <p className="drill-say">
          It is <Setting value={verdict.right} />.
        </p>
      )}
    </div>
  );
}
