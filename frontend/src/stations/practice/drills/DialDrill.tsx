import { Form } from "antd";
import { useState } from "react";
import { DialDrawing } from "../../../charts/DialDrawing";
import { Setting, Typed, troubleWith } from "../../../ui/parts";
import { useDrillActions, type Asked } from "./drillParts";
import { WORDS } from "../words";

const TEXT = WORDS.dialDrill;

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
      : [
          {
            key: "Space",
            label: TEXT.thatIsIt,
            main: true,
            run: reply,
            disabled: dial.task !== "set" && !typed.trim(),
          },
        ],
  );
  return (
    <div className="thing dial-drill">
      <p className="quiet">{dial.grinder}</p>
      <h1>
        {dial.task === "read" && TEXT.whereDoesItStand}
        {dial.task === "set" && (
          <>
            {TEXT.setItTo} <Setting value={dial.setting!} />
          </>
        )}
        {dial.task === "step" && (
          <>
            {TEXT.from} <Setting value={dial.setting!} /> {TEXT.go} {dial.steps}
            {TEXT.whereAreYou}
          </>
        )}
        {dial.task === "finer" && TEXT.whichOfTheTwoGrindsFiner}
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
          <Typed
            label={TEXT.setting}
            value={typed}
            onChange={setTyped}
            width={180}
            trouble={troubleWith(error, "answer")}
          />
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
          {TEXT.itIs} <Setting value={verdict.right} />.
        </p>
      )}
    </div>
  );
}
