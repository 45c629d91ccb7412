import { useCallback, useState } from "react";
import { ApiError, isAway, type Schemas } from "../../api/client";
import { measured, uploadPhotos } from "../../api/measurements";
import { useTouched } from "../../api/touched";
import { useWorkbench } from "../../api/workbench";
import { keepForLater } from "../../api/photosWaiting";
import { useActions } from "../../app/actions";
import { Key, Sign, Trouble, Waiting } from "../../ui/parts";
import { readBar } from "./checkBar";
import { REFUSAL_CUES } from "./cueWords";
import { cssVariables } from "../../ui/cssVariables";
import { WORDS } from "./words";

const TEXT = WORDS.upload;

type Job = Schemas["MeasuringJob"];
type State =
  | { stage: "idle" }
  | { stage: "sending"; share: number; names: string }
  | { stage: "measuring"; names: string; job?: Job }
  | { stage: "refused"; error: unknown; names: string; job?: Job };

export interface Send {
  files: File[];
  /** As the command line writes it: card, disc:… or points:… */
  scale?: string;
  /** Add the photos to this sample instead of making a new one. */
  sample?: number;
}

export interface Upload {
  state: State;
  /** What was sent last, so that it can be sent again with another scale. */
  last: Send | null;
  send: (what: Send) => void;
  /** Show another stage of work that is not an upload, such as measuring the demo picture. */
  run: (names: string, work: () => Promise<unknown>) => void;
  clear: () => void;
  /** The sample that the last sending became or was added to. */
  sampleId: number | null;
  /** Photos of the last sending that could not be used. */
  refused: Schemas["PhotoProgress"][];
}

export function useUpload(): Upload {
  const [state, setState] = useState<State>({ stage: "idle" });
  const [last, setLast] = useState<Send | null>(null);
  const [refused, setRefused] = useState<Schemas["PhotoProgress"][]>([]);
  const [sampleId, setSampleId] = useState<number | null>(null);
  const touched = useTouched("samples");
  const { notify } = useActions();
  const coffee = useWorkbench().data?.coffee?.id;

  const send = useCallback(
    async (what: Send) => {
      const names = what.files.map((f) => f.name).join(", ");
      setLast(what);
      setRefused([]);
      setState({ stage: "sending", share: 0, names });
      const fields: Record<string, string> = { scale: what.scale ?? "card" };
      if (coffee) fields.coffee_id = String(coffee);
      if (what.sample) fields.sample_id = String(what.sample);
      const bar = readBar();
      if (bar && fields.scale === "card") fields.bar_mm = String(bar);
      let job: Job | undefined;
      try {
        job = await uploadPhotos(
          what.files,
          fields,
          (share) => share < 1 && setState({ stage: "sending", share, names }),
        );
        job = await measured(job, (job) => setState({ stage: "measuring", names, job }));
        if (job.sample_id == null) throw refusalOf(job);
        await touched(job);
        setSampleId(job.sample_id);
        const unused = job.photos.filter((p) => p.error);
        setRefused(unused);
        if (unused.length) notify(TEXT.ofPhotosCouldNotBeUsed(unused.length, job.photos.length));
        setState({ stage: "idle" });
      } catch (error) {
        // Without a server the photos wait on the device; a measuring that was begun goes on there.
        if (isAway(error) && job === undefined && (await keepForLater(what.files, fields))) {
          setState({ stage: "idle" });
          notify(what.files.length === 1 ? TEXT.thePhotoWaitsOnThisDevice : TEXT.thePhotosWaitOnThisDevice);
        } else setState({ stage: "refused", error, names, job });
      }
    },
    [coffee, touched, notify],
  );
  const run = useCallback(async (names: string, work: () => Promise<unknown>) => {
    setState({ stage: "measuring", names });
    try {
      await work();
      setState({ stage: "idle" });
    } catch (error) {
      setState({ stage: "refused", error, names });
    }
  }, []);
  const clear = useCallback(() => {
    setState({ stage: "idle" });
    setSampleId(null);
  }, []);
  return {
    state,
    last,
    send: (what) => void send(what),
    run: (names, work) => void run(names, work),
    clear,
    sampleId,
    refused,
  };
}

function refusalOf(job: Job): ApiError {
  const e = job.error;
  return new ApiError(
    422,
    e?.code ?? "measuring-failed",
    e?.message ?? TEXT.nothingCouldBeMeasured,
    e?.remedy ?? TEXT.tryAgain,
    e?.field ?? null,
  );
}

interface UploadingProps {
  upload: Upload;
  choose: () => void;
  /** Set the scale on the picture by hand. */
  byHand: () => void;
}

/** The stages of measuring, photo by photo, or why a photo was refused. */
export function Uploading({ upload, choose, byHand }: UploadingProps) {
  const { state, last } = upload;
  if (state.stage === "idle") return null;
  const several = (last?.files.length ?? 0) > 1;
  const canSetScale =
    state.stage === "refused" &&
    Boolean(last) &&
    state.error instanceof ApiError &&
    /card|well|disc/.test(state.error.code);
  return (
    <div className="empty">
      <h1>
        {state.stage === "refused"
          ? several
            ? TEXT.thesePhotosWereNotMeasured
            : TEXT.thisPhotoWasNotMeasured
          : state.stage === "sending"
            ? TEXT.sending
            : TEXT.measuring}
      </h1>
      {!several && <p className="breaking">{state.names}</p>}
      {state.stage === "sending" && (
        <div
          className="share sent"
          role="progressbar"
          aria-valuenow={Math.round(state.share * 100)}
          style={cssVariables({ "--share": `${state.share * 100}%` })}
        >
          <div />
        </div>
      )}
      {"job" in state && state.job && several && <EachPhoto job={state.job} />}
      {state.stage === "measuring" && <Waiting>{TEXT.findingTheScaleEveningOut}</Waiting>}
      {state.stage === "refused" && (
        <>
          {state.error instanceof ApiError && REFUSAL_CUES[state.error.code] && (
            <p className="better">
              <strong>{REFUSAL_CUES[state.error.code]}</strong>
            </p>
          )}
          <Trouble error={state.error} />
          <div className="ways above-l">
            <button className="main-act" onClick={choose}>
              {TEXT.chooseAnotherPhoto} <Key>{TEXT.space}</Key>
            </button>
            {canSetScale && (
              <button className="act" onClick={byHand}>
                {TEXT.setTheScaleByHand} <Key>W</Key>
              </button>
            )}
            <button className="act" onClick={upload.clear}>
              {TEXT.back} <Key>B</Key>
            </button>
            <a className="link" href="/api/cards/a4.pdf" target="_blank" rel="noreferrer">
              {TEXT.printTheCard}
            </a>
          </div>
          <p className="above-l">{TEXT.nothingWasSavedAndNothing}</p>
        </>
      )}
    </div>
  );
}

const STATE_WORDS = { waiting: "waits", measuring: "measuring", done: "measured", refused: TEXT.cannotBeUsed } as const;

function EachPhoto({ job }: { job: Job }) {
  return (
    <ul className="rows photos-sent" data-testid="photo-progress">
      {job.photos.map((p, i) => (
        <li key={i}>
          <span className="photo-sent">
            {p.state === "done" ? (
              <Sign kind="good" />
            ) : p.state === "refused" ? (
              <Sign kind="watch" />
            ) : (
              <Sign kind="note" />
            )}
            <span className="file-name">{p.file_name}</span>
          </span>
          <span className={p.state === "done" ? "figure" : "quiet"}>
            {p.state === "done"
              ? TEXT.groundsS(p.grounds, p.seconds)
              : p.error
                ? p.error.message
                : STATE_WORDS[p.state]}
          </span>
        </li>
      ))}
    </ul>
  );
}
