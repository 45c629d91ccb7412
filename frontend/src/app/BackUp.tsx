import { Progress } from "antd";
import { useState } from "react";
import { useReadArchive } from "../api/archives";
import type { Schemas } from "../api/client";
import { useThisDevice } from "../api/devices";
import { Choice } from "../ui/Choice";
import { ChooseFile } from "../ui/ChooseFile";
import { Trouble } from "../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.backUp;

type Existing = "keep" | "replace";
type Imported = Schemas["Imported"];

/** Everything in one file: out, and in again without anything coming twice. */
export function BackUp() {
  const readArchive = useReadArchive();
  const manages = useThisDevice().data?.role === "manager";
  const [existing, setExisting] = useState<Existing>("keep");
  const [share, setShare] = useState<number | null>(null);
  const [brought, setBrought] = useState<Imported | null>(null);
  const [error, setError] = useState<unknown>(null);
  async function restore(file: File | undefined) {
    if (!file) return;
    setError(null);
    setBrought(null);
    setShare(0);
    try {
      setBrought(await readArchive(file, existing, setShare));
    } catch (refusal) {
      setError(refusal);
    } finally {
      setShare(null);
    }
  }
  if (!manages)
    return (
      <section aria-label={TEXT.backUp} className="back-up">
        <h3 className="quiet">{TEXT.backUp}</h3>
        <p>{TEXT.onlyAManagerBacksUp}</p>
      </section>
    );
  return (
    <section aria-label={TEXT.backUp} className="back-up">
      <h3 className="quiet">{TEXT.backUp}</h3>
      <p>
        <a className="link" href="/api/archives/latest.zip" download>
          {TEXT.downloadEverything}
        </a>{" "}
        {TEXT.asOneFilePhotosCurvesPlans}
      </p>
      <p>
        <ChooseFile
          accept=".zip,application/zip"
          testId="archive-file"
          disabled={share !== null}
          choose={(file) => void restore(file)}
        >
          {TEXT.addFromABackUp}
        </ChooseFile>
        {TEXT.nothingComesTwice}
      </p>
      <div className="form-row">
        <span className="quiet">{TEXT.whatChangedHereSince}</span>
        <Choice
          label={TEXT.whatChangedHereSince}
          options={[
            { value: "keep", label: TEXT.staysAsItIsHere },
            { value: "replace", label: TEXT.becomesAsInTheBackUp },
          ]}
          value={existing}
          choose={setExisting}
        />
      </div>
      {share !== null && (
        <Progress
          percent={Math.round(100 * share)}
          status="active"
          format={(percent) => (percent === 100 ? "reading" : `${percent} %`)}
        />
      )}
      {brought && (
        <p role="status">
          {brought.rows === 0
            ? TEXT.everythingOfItWasHereAlready
            : TEXT.entriesAndFilesAddedWereHere(brought.rows, brought.files, brought.known)}
          {brought.changed + brought.deleted > 0 &&
            ` ${TEXT.differed(brought.changed, brought.deleted, brought.replaced > 0)}`}
        </p>
      )}
      {error != null && <Trouble error={error} />}
    </section>
  );
}
