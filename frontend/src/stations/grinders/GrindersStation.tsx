import { useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router-dom";
import { useStationActions } from "../../app/actions";
import { useBench, useChangeBench, useGrinders, useSample, useTranslation } from "../../api/hooks";
import { nearestMark, Rails } from "../../charts/Rails";
import { settingText, Waits } from "../../ui/parts";
import { whole } from "../../ui/words";
import { GrinderForms, type FormKind } from "./GrinderForms";
import { GrindersMargin } from "./GrindersMargin";

/** Station 2: what is that on another grinder? */
export default function GrindersStation() {
  const grinders = useGrinders();
  const bench = useBench();
  const sample = useSample(bench.data?.sample?.id);
  const change = useChangeBench();
  const navigate = useNavigate();
  const [form, setForm] = useState<FormKind>(null);
  const list = useMemo(() => grinders.data ?? [], [grinders.data]);
  const measuredOn = sample.data?.grinder_id;
  const [picked, setPicked] = useState<number>();
  const firstOther = list.find((g) => g.id !== measuredOn && g.marks.length > 0) ?? list[0];
  const benchOther = bench.data?.grinder && bench.data.grinder.id !== measuredOn ? bench.data.grinder.id : undefined;
  const chosen = picked ?? benchOther ?? firstOther?.id;
  const grinder = list.find((g) => g.id === chosen);
  const translation = useTranslation(grinder?.marks.length ? chosen : undefined, sample.data?.id);
  const [dragged, setDragged] = useState<number | null>(null);
  useEffect(() => setDragged(null), [sample.data?.id]);
  const target = translation.data?.target_um ?? sample.data?.d50_um ?? 700;
  const size = dragged ?? target;
  const own = grinder && chosen === measuredOn && dragged === null ? sample.data?.setting : null;
  const setting = own ?? (dragged === null ? translation.data?.setting : undefined) ?? (grinder ? nearestMark(grinder, size)?.setting : undefined);

  async function planWithIt() {
    if (!grinder || !setting) return;
    await change.mutateAsync({ grinder_id: grinder.id, setting });
    navigate("/plan");
  }
  function step(by: number) {
    if (!grinder) return;
    const i = grinder.marks.findIndex((m) => m.setting === nearestMark(grinder, size)?.setting);
    const next = grinder.marks[i + by];
    if (next) setDragged(next.d50_um);
  }
  useEffect(() => {
    function onKey(e: KeyboardEvent) {
      if ((e.target as HTMLElement | null)?.closest("input, [role=dialog], .ant-select")) return;
      if (e.key === "ArrowRight" || e.key === "ArrowLeft") {
        step(e.key === "ArrowRight" ? 1 : -1);
        e.preventDefault();
      }
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  useStationActions(list.length ? `Drag the line, or ← → by one ${grinder?.step_unit ?? "step"}` : "", [
    ...(dragged !== null ? [{ key: "B", label: "Back to the photo", run: () => setDragged(null) }] : []),
    { key: "M", label: "Add a measured setting", run: () => setForm("point"), disabled: !grinder },
    { key: "G", label: "New grinder", run: () => setForm("grinder") },
    {
      key: "Space",
      label: grinder && setting ? `Plan with ${grinder.name} ${settingText(setting)}` : "Plan",
      main: true,
      disabled: !grinder || !setting || change.isPending,
      run: () => void planWithIt(),
    },
  ]);

  return (
    <Waits query={grinders}>
      {list.length === 0 ? (
        <div className="empty">
          <h1>Which grinders do you have?</h1>
          <p>Name one and say how its dial is written. One measured setting gives a first reading; three make it sure.</p>
          <div className="ways"><button className="main-act" onClick={() => setForm("grinder")}>Add a grinder</button></div>
        </div>
      ) : (
        <div className="station-page">
          <div className="thing">
            <Rails grinders={list} size={size} setSize={setDragged} windows={(sample.data?.windows ?? []).filter((w) => w.method !== "smooth-cone")} chosen={chosen} choose={setPicked} method="ribbed-cone" curve={sample.data?.curve} />
          </div>
          {grinder && (
            <GrindersMargin grinder={grinder} setting={setting} size={size} translation={dragged === null && !own ? translation.data : undefined} error={translation.error} measured={Boolean(sample.data)} sizeWords={`${whole(size)} µm`} />
          )}
        </div>
      )}
      <GrinderForms kind={form} close={() => setForm(null)} grinder={grinder} />
    </Waits>
  );
}
