import { Progress } from "antd";
import { useState } from "react";
import { useReadArchive } from "../api/archives";
import type { Schemas } from "../api/client";
import { ChooseFile } from "../ui/ChooseFile";
import { Trouble } from "../ui/parts";

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
    <section aria-label="Back-up" className="back-up">
      <h3 className="quiet">Back-up</h3>
      <p>
        <a className="link" href="/api/archives/latest.zip" download>
          Download everything
        </a>{" "}
        as one file: photos, curves, plans, brews, slips. A copy of the database is kept by itself each day.
      </p>
      <p>
        <ChooseFile
          accept=".zip,application/zip"
          testId="archive-file"
          disabled={share !== null}
          choose={(file) => void restore(file)}
        >
          Add from a back-up
        </ChooseFile>
        : what is here stays, and nothing comes twice.
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
            ? "Everything of it was here already."
            : `${brought.rows} entries and ${brought.files} files added; ${brought.known} were here already.`}
        </p>
      )}
      {error != null && <Trouble error={error} />}
    </section>
  );
}
