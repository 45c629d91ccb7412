import { Progress } from "antd";
import { useState } from "react";
import { useReadArchive } from "../api/archives";
import type { Schemas } from "../api/client";
import { ChooseFile } from "../ui/ChooseFile";
import { Trouble } from "../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.backUp;

type Imported = Schemas["Imported"];

/** Everything in one file: out, and in again without anything coming twice. */
export function BackUp() {
  const readArchive = useReadArchive();
  const [share, setShare] = useState<number | null>(null);
  const [brought, setBrought] = useState<Imported | null>(null);
  const [error, setError] = useState<unknown>(null);
  async function restore(file: File | undefined) {
    if (!file) return;
    setError(null);
    setBrought(null);
    setShare(0);
    try {
      setBrought(await readArchive(file, setShare));
    } catch (refusal) {
      setError(refusal);
    } finally {
      setShare(null);
    }
  }
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
        {TEXT.whatIsHereStaysAndNothing}
      </p>
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
        </p>
      )}
      {error != null && <Trouble error={error} />}
    </section>
  );
}
