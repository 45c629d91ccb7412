import { useCallback, useState } from "react";
import { uploadPhotos } from "../../api/client";
import { useBench, useRefresh } from "../../api/hooks";
import { Key, Trouble, Waiting } from "../../ui/parts";

type State =
  | { stage: "idle" }
  | { stage: "sending"; share: number; names: string }
  | { stage: "measuring"; names: string }
  | { stage: "refused"; error: unknown; names: string };

export interface Upload {
  state: State;
  send: (files: File[]) => void;
  /** Show another stage of work that is not an upload, such as measuring the demo picture. */
  run: (names: string, work: () => Promise<unknown>) => void;
  clear: () => void;
}

export function useUpload(): Upload {
  const [state, setState] = useState<State>({ stage: "idle" });
  const refresh = useRefresh();
  const coffee = useBench().data?.coffee?.id;
  const finish = useCallback(
    async (work: Promise<unknown>, names: string) => {
      try {
        await work;
        await refresh();
        setState({ stage: "idle" });
      } catch (error) {
        setState({ stage: "refused", error, names });
      }
    },
    [refresh],
  );
  const send = useCallback(
    (files: File[]) => {
      const names = files.map((f) => f.name).join(", ");
      setState({ stage: "sending", share: 0, names });
      const fields: Record<string, string> = { scale: "card" };
      if (coffee) fields.coffee_id = String(coffee);
      const sent = (share: number) => setState(share < 1 ? { stage: "sending", share, names } : { stage: "measuring", names });
      void finish(uploadPhotos(files, fields, sent), names);
    },
    [coffee, finish],
  );
  const run = useCallback(
    (names: string, work: () => Promise<unknown>) => {
      setState({ stage: "measuring", names });
      void finish(work(), names);
    },
    [finish],
  );
  const clear = useCallback(() => setState({ stage: "idle" }), []);
  return { state, send, run, clear };
}

/** The stages of measuring, or why a photo was refused. */
export function Uploading({ upload, choose }: { upload: Upload; choose: () => void }) {
  const { state } = upload;
  if (state.stage === "idle") return null;
  return (
    <div className="empty">
      <h1>{state.stage === "refused" ? "This photo cannot be measured" : state.stage === "sending" ? "Sending" : "Measuring"}</h1>
      <p style={{ overflowWrap: "anywhere" }}>{state.names}</p>
      {state.stage === "sending" && (
        <div style={{ height: 6, background: "var(--hairline)", borderRadius: 3, width: 380 }} role="progressbar" aria-valuenow={Math.round(state.share * 100)}>
          <div style={{ height: 6, width: `${state.share * 100}%`, background: "var(--ink)", borderRadius: 3 }} />
        </div>
      )}
      {state.stage === "measuring" && <Waiting>Finding the card, evening out the light, outlining every ground. A few seconds.</Waiting>}
      {state.stage === "refused" && (
        <>
          <Trouble error={state.error} />
          <div className="ways" style={{ marginTop: 20 }}>
            <button className="main-act" onClick={choose}>Choose another photo <Key>Space</Key></button>
            <button className="act" onClick={upload.clear}>Back <Key>B</Key></button>
            <a className="link" href="/api/card.pdf" target="_blank" rel="noreferrer">Print the card</a>
          </div>
          <p style={{ marginTop: 18 }}>Nothing was kept of it, and nothing else has changed.</p>
        </>
      )}
    </div>
  );
}
