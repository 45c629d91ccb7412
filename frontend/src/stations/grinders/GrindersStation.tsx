import { useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router-dom";
import { type Schemas } from "../../api/client";
import { useActions, useStationActions } from "../../app/actions";
import { useGrinders, useGrinderWrites, useGuide, useTranslations, type Ask } from "../../api/grinders";
import { useSample } from "../../api/samples";
import { useWorkbench, useChangeWorkbench } from "../../api/workbench";
import { Rails } from "../../charts/Rails";
import { nearestMark } from "../../charts/rails/Rail";
import { ChooseFile } from "../../ui/ChooseFile";
import { settingText, Trouble, QueryBoundary } from "../../ui/parts";
import { capital, whole } from "../../ui/words";
import { AskBar } from "./AskBar";
import { GrinderEditor } from "./GrinderEditor";
import { GrinderForms, type FormKind } from "./GrinderForms";
import { GrindersMargin } from "./GrindersMargin";
import { GrindGuide } from "./GrindGuide";
import { SettingCard } from "./SettingCard";
import "./grinders.css";
import { WORDS } from "./words";

const TEXT = WORDS.grindersStation;

const SHOWN_KEY = "hakari.windows-on-rails";
const SHOWN_FIRST = [TEXT.ribbedCone1525G, TEXT.flatBottomedDripper, TEXT.thickPaperCone];
type Window = "editor" | "new" | "guide" | "card" | null;

/** Station 2: what is that on another grinder? */
export default function GrindersStation() {
  const grinders = useGrinders();
  const bench = useWorkbench();
  const guide = useGuide();
  const sample = useSample(bench.data?.sample?.id);
  const change = useChangeWorkbench();
  const { remove, restore } = useGrinderWrites();
  const { notify } = useActions();
  const navigate = useNavigate();
  const [form, setForm] = useState<FormKind>(null);
  const [open, setOpen] = useState<Window>(null);
  const [ask, setAsk] = useState<Ask>({ match: "median" });
  const [dragged, setDragged] = useState<number | null>(null);
  const [picked, setPicked] = useState<number>();
  const [turned, setTurned] = useState<string | null>(null);
  const [shown, setShown] = useShownWindows();
  const list = useMemo(() => grinders.data ?? [], [grinders.data]);
  const asked = Boolean(ask.words || ask.setting);
  // One grinder and one setting are at hand: unless something else is asked for, that is what is read on the others.
  const inUse = bench.data?.grinder;
  const placed = bench.data?.photo_setting === "chosen" && inUse?.setting != null;
  const curved = placed && list.some((g) => g.id === inUse?.id && g.marks.length > 0);
  const atHand = asked ? ask : curved ? { ...ask, grinder_id: inUse!.id, setting: inUse!.setting! } : ask;
  const found = useTranslations(
    { ...atHand, sample_id: asked || curved ? undefined : sample.data?.id },
    list.length > 0 && (asked || curved || sample.data !== undefined),
  );
  const from = asked ? found.data : curved ? { grinder_id: inUse!.id, setting: inUse!.setting } : sample.data;
  const measuredOn = from?.grinder_id ?? undefined;
  const grinder =
    list.find((g) => g.id === (picked ?? inUse?.id ?? measuredOn)) ?? list.find((g) => g.marks.length > 0) ?? list[0];
  /** What is asked changes the answer, never the grinder that it is read on. */
  function askFor(next: Ask) {
    setPicked(grinder?.id);
    setAsk(next);
  }
  useEffect(() => {
    setDragged(null);
    setTurned(null);
  }, [sample.data?.id, ask]);
  const target = found.data?.target_um ?? sample.data?.d50_um ?? 700;
  const size = dragged ?? target;
  const answers = dragged === null && found.data && !found.error ? found.data.answers : [];
  const answer = answers.find((a) => a.grinder_id === grinder?.id);
  const ownSetting =
    grinder && grinder.id === measuredOn && dragged === null
      ? from?.setting
      : grinder && grinder.id === inUse?.id && !asked && dragged === null
        ? inUse.setting
        : null;
  const setting =
    turned ?? ownSetting ?? answer?.setting ?? (grinder ? nearestMark(grinder, size)?.setting : undefined);
  const source = dragged !== null || !found.data ? `${whole(size)} µm` : capital(found.data.source);

  function drag(um: number) {
    setTurned(null);
    setDragged(um);
  }
  function turn(place: number) {
    if (!grinder) return;
    const to = grinder.settings[place];
    const mark = grinder.marks.find((m) => m.setting === to);
    setTurned(to ?? null);
    if (mark) setDragged(mark.d50_um);
  }
  const kept =
    grinder && grinder.id === inUse?.id && setting === inUse?.setting && bench.data?.photo_setting === "chosen";
  /** What is at hand is kept; another grinder or setting is chosen by this act alone. */
  async function planWithIt() {
    if (!grinder || !setting) return;
    if (!kept) await change.mutateAsync({ grinder_id: grinder.id, setting });
    navigate("/plan");
  }
  async function putAway() {
    if (!grinder) return;
    await remove(grinder.id);
    setPicked(undefined);
    notify(TEXT.deleted(grinder.name), () => restore(grinder.id));
  }
  useEffect(() => {
    function onKey(e: KeyboardEvent) {
      if ((e.target as HTMLElement | null)?.closest("input, [role=dialog], [role=slider], .ant-select")) return;
      if ((e.key === "ArrowRight" || e.key === "ArrowLeft") && grinder) {
        const at = grinder.settings.indexOf(setting ?? "");
        const next = at + (e.key === "ArrowRight" ? 1 : -1) * (coarserIsRight(grinder) ? 1 : -1);
        if (next >= 0 && next < grinder.settings.length) turn(next);
        e.preventDefault();
      }
      if ((e.key === "ArrowUp" || e.key === "ArrowDown") && grinder) {
        const at = list.findIndex((g) => g.id === grinder.id);
        const next = list[at + (e.key === "ArrowDown" ? 1 : -1)];
        if (next) {
          setPicked(next.id);
          setTurned(null);
        }
        e.preventDefault();
      }
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  useStationActions(list.length ? TEXT.dragTheLineAStepAGrinder : "", [
    ...(dragged !== null || asked
      ? [
          {
            key: "B",
            label: TEXT.back,
            run: () => {
              setDragged(null);
              setTurned(null);
              askFor({ match: ask.match });
            },
          },
        ]
      : []),
    { key: "M", label: TEXT.measuredSetting, run: () => setForm("point"), disabled: !grinder },
    { key: "E", label: TEXT.logAnEvent, run: () => setForm("event"), disabled: !grinder },
    { key: "G", label: TEXT.newGrinder, run: () => setOpen("new") },
    {
      key: "Space",
      label:
        !grinder || !setting
          ? TEXT.plan
          : kept || !inUse
            ? TEXT.planWith(grinder.name, settingText(setting))
            : TEXT.thisOneInstead(grinder.name, settingText(setting)),
      main: true,
      disabled: !grinder || !setting,
      waits: change.isPending,
      run: () => void planWithIt(),
    },
  ]);

  const windows = (guide.data?.windows ?? []).filter((w) => shown.includes(w.label));
  return (
    <QueryBoundary query={grinders}>
      {list.length === 0 ? (
        <div className="empty">
          <h1>{TEXT.whichGrindersDoYouHave}</h1>
          <p>{TEXT.nameOneAndSayHowItsDialIs}</p>
          <div className="ways">
            <button className="main-act" onClick={() => setOpen("new")}>
              {TEXT.addAGrinder}
            </button>
            <ReadFile />
          </div>
        </div>
      ) : (
        <div className="station-page">
          <div className="thing grinders-thing">
            <AskBar
              ask={ask}
              setAsk={askFor}
              grinders={list}
              error={asked || ask.match !== "median" ? found.error : null}
              openGuide={() => setOpen("guide")}
              openCard={() => setOpen("card")}
            />
            <Rails
              grinders={list}
              size={size}
              setSize={drag}
              windows={windows}
              lit={windows[0]?.label}
              chosen={grinder?.id}
              inUse={inUse}
              choose={(id) => {
                setPicked(id);
                setTurned(null);
              }}
              curve={sample.data?.curve}
              answers={answers}
              turned={turned && grinder ? { id: grinder.id, setting: turned } : null}
            />
          </div>
          {grinder && (
            <GrindersMargin
              grinder={grinder}
              setting={setting}
              size={size}
              source={source}
              answer={turned ? undefined : answer}
              silent={found.data?.silent.find((s) => s.grinder_id === grinder.id)}
              measured={Boolean(sample.data)}
              turn={turn}
              edit={() => setOpen("editor")}
              putAway={() => void putAway()}
            />
          )}
        </div>
      )}
      {grinder && (
        <GrinderForms
          kind={form}
          close={() => setForm(null)}
          grinder={grinder}
          others={list.filter((g) => g.id !== grinder.id)}
        />
      )}
      <GrinderEditor
        open={open === "editor" || open === "new"}
        close={() => setOpen(null)}
        grinder={open === "editor" ? grinder : undefined}
        done={setPicked}
      />
      <GrindGuide open={open === "guide"} close={() => setOpen(null)} shown={shown} show={setShown} />
      <SettingCard open={open === "card"} close={() => setOpen(null)} />
    </QueryBoundary>
  );
}

const coarserIsRight = (g: Schemas["GrinderView"]) => g.dial.finer !== "up";

function useShownWindows(): [string[], (labels: string[]) => void] {
  const [shown, setShown] = useState<string[]>(() => {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(SHOWN_KEY) ?? "null");
      return Array.isArray(kept) ? kept.map(String) : SHOWN_FIRST;
    } catch {
      return SHOWN_FIRST;
    }
  });
  return [
    shown,
    (labels) => {
      setShown(labels);
      localStorage.setItem(SHOWN_KEY, JSON.stringify(labels));
    },
  ];
}

/** Grinders from a file that Hakari wrote. */
function ReadFile() {
  const writes = useGrinderWrites();
  const [error, setError] = useState<unknown>(null);
  async function read(file: File | undefined) {
    if (!file) return;
    try {
      await writes.read(file);
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <>
      <ChooseFile accept="application/json,.json" testId="grinder-file" choose={(file) => void read(file)}>
        {TEXT.readGrindersFromAFile}
      </ChooseFile>
      {error != null && <Trouble error={error} />}
    </>
  );
}
