import { Progress } from "antd";
import { useRef, useState } from "react";
import { ApiError, type Schemas } from "../api/client";
import { useRefresh } from "../api/hooks";
import { Trouble } from "../ui/parts";

type Imported = Schemas["Imported"];

/** Send a back-up with progress of the sending. */
function upload(file: File, sent: (share: number) => void): Promise<Imported> {
  return new Promise((resolve, reject) => {
    const form = new FormData();
    form.append("archive", file);
    const request = new XMLHttpRequest();
    request.open("POST", "/api/archives");
    request.upload.onprogress = (e) => sent(e.lengthComputable ? e.loaded / e.total : 0);
    request.onerror = () =>
      reject(new ApiError(0, "no-server", "The back-up did not arrive.", "Check that Hakari is running.", null));
    request.onload = () => {
      const said = JSON.parse(request.responseText || "{}");
      if (request.status < 300) resolve(said as Imported);
      else reject(new ApiError(request.status, said.code, said.message, said.remedy, said.field ?? null));
    };
    request.send(form);
  });
}

/** Everything in one file: out, and in again without anything coming twice. */
export function BackUp() {
  const refresh = useRefresh();
  const chosen = useRef<HTMLInputElement>(null);
  const [share, setShare] = useState<number | null>(null);
  const [brought, setBrought] = useState<Imported | null>(null);
  const [error, setError] = useState<unknown>(null);
  async function restore(file: File | undefined) {
    if (!file) return;
    setError(null);
    setBrought(null);
    setShare(0);
    try {
      setBrought(await upload(file, setShare));
      await refresh();
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
        <button className="link" onClick={() => chosen.current?.click()} disabled={share !== null}>
          Add from a back-up
        </button>
        : what is here stays, and nothing comes twice.
      </p>
      <input
        ref={chosen}
        type="file"
        accept=".zip,application/zip"
        hidden
        data-testid="archive-file"
        onChange={(e) => {
          void restore(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
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
