import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router-dom";
import { useActions, useStationActions } from "../../app/actions";
import { api, dataOf, type Schemas } from "../../api/client";
import { useBench, useChangeBench, useRefresh, useSample, useSamples } from "../../api/hooks";
import { GrainRuler, type Band } from "../../charts/GrainRuler";
import { Waits } from "../../ui/parts";
import { FirstPhoto } from "./FirstPhoto";
import { MeasureMargin } from "./MeasureMargin";
import { PhotoView } from "./PhotoView";
import { SamplePicker } from "./SamplePicker";
import { Uploading, useUpload } from "./upload";

/** Station 1: how big are my grounds? */
export function MeasureStation() {
  const bench = useBench();
  const sample = useSample(bench.data?.sample?.id);
  const files = useRef<HTMLInputElement>(null);
  const upload = useUpload();
  const [picking, setPicking] = useState(false);
  const [held, setHeld] = useState<Band>(null);
  const [dragging, setDragging] = useState(false);
  const navigate = useNavigate();
  const refresh = useRefresh();
  const { tell } = useActions();
  const change = useChangeBench();
  const samples = useSamples().data;
  const detail = sample.data;
  useEffect(() => setHeld(null), [detail?.id]);

  async function remove(d: Schemas["SampleDetail"]) {
    const path = { params: { path: { id: d.id } } };
    dataOf(await api.DELETE("/api/samples/{id}", path));
    const next = samples?.find((s) => s.id !== d.id);
    if (next) change.mutate({ sample_id: next.id });
    await refresh();
    tell(`Sample of ${Math.round(d.d50_um)} µm put away`, async () => {
      dataOf(await api.POST("/api/samples/{id}/restore", path));
      change.mutate({ sample_id: d.id });
    });
  }

  const choose = () => files.current?.click();
  const stage = upload.state.stage;
  useStationActions(
    detail && stage === "idle" ? whereOf(detail) : "",
    stage !== "idle"
      ? stage === "refused"
        ? [
            { key: "B", label: "Back", run: upload.clear, inPage: true },
            { key: "Space", label: "Choose another photo", main: true, run: choose, inPage: true },
          ]
        : []
      : detail
      ? [
          { key: "O", label: "Other samples", run: () => setPicking(true) },
          { key: "D", label: "Put away", run: () => void remove(detail) },
          { key: "A", label: "New photo", run: choose },
          { key: "Space", label: "Use this grind", main: true, run: () => navigate("/grinders") },
        ]
      : [
          { key: "A", label: "Choose a photo", run: choose, inPage: true },
          { key: "Space", label: "Choose a photo", main: true, run: choose, inPage: true },
        ],
  );

  function take(list: FileList | null) {
    if (list?.length) upload.send([...list]);
    if (files.current) files.current.value = "";
  }

  return (
    <div
      style={{ height: "100%", position: "relative" }}
      onDragOver={(e) => { e.preventDefault(); setDragging(true); }}
      onDragLeave={() => setDragging(false)}
      onDrop={(e) => { e.preventDefault(); setDragging(false); take(e.dataTransfer.files); }}
    >
      <input ref={files} type="file" accept="image/*,.heic" multiple hidden data-testid="photo-input" onChange={(e) => take(e.target.files)} />
      <Waits query={bench}>
        {stage !== "idle" ? (
          <Uploading upload={upload} choose={choose} />
        ) : bench.data?.sample === null || bench.data?.sample === undefined ? (
          <FirstPhoto choose={choose} upload={upload} samples={samples ?? []} />
        ) : (
          <Waits query={sample}>
            {detail && (
              <div className="station-page">
                <div className="thing" style={{ display: "grid", gridTemplateRows: "minmax(220px, 42%) minmax(300px, 1fr)", overflow: "hidden" }}>
                  <PhotoView sample={detail} index={0} held={held} />
                  <GrainRuler sample={detail} held={held} hold={setHeld} method="ribbed-cone" />
                </div>
                <MeasureMargin sample={detail} />
              </div>
            )}
          </Waits>
        )}
      </Waits>
      {dragging && <div style={{ position: "absolute", inset: 12, border: "2px dashed var(--persimmon)", borderRadius: 10, display: "grid", placeContent: "center", background: "color-mix(in srgb, var(--sheet) 80%, transparent)", fontSize: 22 }}>Drop to measure</div>}
      <SamplePicker open={picking} close={() => setPicking(false)} chosen={detail?.id} />
    </div>
  );
}

function whereOf(d: Schemas["SampleDetail"]): string {
  const photos = `${d.photos.length} ${d.photos.length === 1 ? "photo" : "photos"}`;
  const ground = d.grinder_name ? `${d.grinder_name} at ${d.setting}, ${photos}` : photos;
  return d.simulated ? `${ground} (a simulated picture)` : ground;
}
