import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useSampleWrites } from "../../api/samples";
import { useActions } from "../../app/actions";
import { ChooseFile } from "../../ui/ChooseFile";
import { Trouble } from "../../ui/parts";
import { WORDS } from "./words";

const TEXT = WORDS.sampleFiles;

type Sample = Schemas["SampleDetail"];

/** What can be taken away of a sample, and a table brought in. */
export function Files({ sample, photo }: { sample: Sample; photo: number }) {
  const { readTable, remove } = useSampleWrites();
  const { notify } = useActions();
  const [error, setError] = useState<unknown>(null);
  const at = `/api/samples/${sample.id}`;
  async function bring(file: File | undefined) {
    if (!file) return;
    try {
      const made = await readTable(file);
      setError(null);
      notify(TEXT.tableReadMedianM(Math.round(made.d50_um)), () => remove(made.id));
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <section aria-label={TEXT.files} className="sample-files">
      <h2>{TEXT.export}</h2>
      <p className="ways">
        <a className="link" href={`${at}/report.pdf`}>
          {TEXT.reportPdf}
        </a>
        <a className="link" href={`${at}/distribution.csv`}>
          {TEXT.curveCsv}
        </a>
        <a className="link" href={`${at}/measurement.json`}>
          {TEXT.figuresJson}
        </a>
        {sample.photos.length > 0 && (
          <a className="link" href={`${at}/particles.csv`}>
            {TEXT.groundsCsv}
          </a>
        )}
        {sample.photos.length > 0 && (
          <a className="link" href={`${at}/photos/${photo}/annotated.png`}>
            {TEXT.photoOutlinedPng}
          </a>
        )}
      </p>
      <p className="ways above-s">
        <ChooseFile accept=".csv,text/csv" testId="table-input" choose={(file) => void bring(file)}>
          {TEXT.readACurveFromATableCsv}
        </ChooseFile>
      </p>
      {error != null && <Trouble error={error} />}
    </section>
  );
}
