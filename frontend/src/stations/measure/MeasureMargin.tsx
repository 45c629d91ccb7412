import { ChooseFile } from "../../ui/ChooseFile";
import { Select } from "antd";
import { useState } from "react";
import { api, dataOf, sendForm, type Schemas } from "../../api/client";
import { useGrinders, useRefresh } from "../../api/hooks";
import { useActions } from "../../app/actions";
import { Finding, Setting, Sign, Trouble } from "../../ui/parts";
import { useTouch } from "../../ui/useMedia";
import { between, percent, whole } from "../../ui/words";
import { betterNext } from "./cueWords";
import { Narrowing } from "./Narrowing";
import { Corrections } from "./ReviewBar";
import type { Review } from "./useReview";
import { Margin } from "../../ui/Margin";

type Sample = Schemas["SampleDetail"];
type FindingSaid = Schemas["FindingDocument"];

interface Props {
  sample: Sample;
  photo: number;
  differences: Schemas["DifferenceView"][];
  review: Review;
  showPlace: (finding: FindingSaid) => void;
  byHand: () => void;
  addPhotos: () => void;
  refused: Schemas["PhotoProgress"][];
}

const VERDICTS = { good: "Good", usable: "Usable with care", retake: "Take it again" } as const;

/** Numbers, findings and remedies of one sample. */
export function MeasureMargin({ sample, photo, differences, review, showPlace, byHand, addPhotos, refused }: Props) {
  const m = sample.measurement;
  const below = m.mass_below_um["200"];
  return (
    <Margin label="What was measured">
      <div className="number" data-testid="d50">
        {Math.round(m.d50_um)}
        <span className="unit">µm</span>
      </div>
      <p className="said">
        median by volume of grounds from {whole(m.cut_um)}&nbsp;µm up, {between(m.ci95.d50_um)}{" "}
        {sample.source === "photo" ? "(95 % interval)" : "(by its sieve class)"}
      </p>
      <p className={`verdict ${m.verdict.level}`} data-testid="verdict">
        <Sign kind={m.verdict.level === "good" ? "good" : "watch"} />
        <span>
          <strong>{VERDICTS[m.verdict.level as keyof typeof VERDICTS]}.</strong> {m.verdict.reason}
        </span>
      </p>
      <Better findings={m.findings} />
      <Narrowing sample={sample} />
      <ul className="rows">
        <li>
          <span>Spread</span>
          <span className="figure">{m.span.toFixed(2)}</span>
        </li>
        <li>
          <span>Under 200 µm</span>
          <span className="figure">{below == null ? "not seen" : percent(below)}</span>
        </li>
        <li title={m.extrapolated.method}>
          <span>Under 100 µm{sample.source === "photo" && ", extrapolated"}</span>
          <span className="figure">{percent(m.extrapolated.mass_below_um["100"] ?? 0)}</span>
        </li>
        <li>
          <span>Boulders over {whole(m.boulder_um)} µm</span>
          <span className="figure">{percent(m.boulder_share)}</span>
        </li>
        {sample.source === "photo" && (
          <li>
            <span>Grounds counted</span>
            <span className="figure">{whole(m.particles)}</span>
          </li>
        )}
      </ul>
      <ul className="findings">
        <Fits sample={sample} />
        {differences.map((d) => (
          <Finding
            key={d.sample_id}
            kind={d.real ? "watch" : "note"}
            title={d.words}
            detail={d.real ? undefined : "The intervals overlap: more photos would tell."}
          />
        ))}
        {refused.map((p) => (
          <Finding
            key={p.file_name}
            kind="watch"
            title={`${p.file_name}: ${p.error?.message}`}
            detail={p.error?.remedy}
          />
        ))}
        {m.findings.map((f) => (
          <Finding
            key={f.code + f.message}
            kind={f.severity === "note" ? "note" : "watch"}
            title={f.message}
            detail={f.remedy}
            act={
              f.place_px ? (
                <button className="link" onClick={() => showPlace(f)}>
                  Show where
                </button>
              ) : undefined
            }
          />
        ))}
        {sample.source === "photo" && (
          <Finding
            kind="note"
            title={sample.more_photos.words}
            detail={`${sample.more_photos.now}: few large grounds carry most of the mass.`}
            act={
              <button className="link" onClick={addPhotos}>
                Add photos of this grind
              </button>
            }
          />
        )}
      </ul>
      <Corrections edits={sample.review.edits} toggle={review.toggle} />
      <Place sample={sample} />
      {sample.photos.length > 0 && (
        <p style={{ marginTop: 12, fontSize: 14, lineHeight: "20px" }}>
          Click a ground to correct it;{" "}
          <button className="link" onClick={() => review.setTool("lasso")}>
            leave out a patch
          </button>
          {sample.photos.length > 1 && (
            <>
              {" "}
              or{" "}
              <button className="link" onClick={review.leavePhotoOut}>
                photo {photo + 1}
              </button>
            </>
          )}
          .{" "}
          <button className="link" onClick={byHand}>
            Measure a photo without the card
          </button>
        </p>
      )}
      <Files sample={sample} photo={photo} />
    </Margin>
  );
}

/** What would make the next photo better, in a few words; the findings below say why. */
function Better({ findings }: { findings: FindingSaid[] }) {
  const touch = useTouch();
  const words = betterNext(findings);
  if (!touch || words.length === 0) return null;
  return (
    <p className="better" data-testid="better">
      Next photo: <strong>{words[0]}</strong>
      {words[1] && `, ${words[1].charAt(0).toLowerCase()}${words[1].slice(1)}`}
    </p>
  );
}

function Fits({ sample }: { sample: Sample }) {
  const cone = sample.windows.find((w) => w.method === "ribbed-cone");
  const flat = sample.windows.find((w) => w.method === "flat-bottom");
  if (!cone) return null;
  const said = (w: Schemas["WindowView"]) =>
    w.verdict === "inside" ? "Suits" : w.verdict === "fine" ? "Fine for" : "Coarse for";
  const other = flat && `${said(flat)} the ${flat.label} (${flat.low_um}–${flat.high_um} µm).`;
  return (
    <Finding
      kind={cone.verdict === "inside" ? "good" : "watch"}
      title={`${said(cone)} the ${cone.label}`}
      detail={other}
    />
  );
}

/** What can be taken away of a sample, and a table brought in. */
function Files({ sample, photo }: { sample: Sample; photo: number }) {
  const refresh = useRefresh();
  const { notify } = useActions();
  const [error, setError] = useState<unknown>(null);
  const at = `/api/samples/${sample.id}`;
  async function bring(file: File | undefined) {
    if (!file) return;
    const form = new FormData();
    form.append("table", file);
    try {
      const made = await sendForm<Sample>("/api/distributions", form);
      setError(null);
      await refresh();
      notify(`Table read: median ${Math.round(made.d50_um)} µm`, async () => {
        await api.DELETE("/api/samples/{id}", { params: { path: { id: made.id } } });
        await refresh();
      });
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <section aria-label="Files" style={{ marginTop: 14, borderTop: "1px solid var(--hairline)", paddingTop: 10 }}>
      <h2>Export</h2>
      <p className="ways" style={{ display: "flex", flexWrap: "wrap", gap: "4px 14px", fontSize: 13 }}>
        <a className="link" href={`${at}/report.pdf`}>
          Report, PDF
        </a>
        <a className="link" href={`${at}/distribution.csv`}>
          Curve, CSV
        </a>
        <a className="link" href={`${at}/measurement.json`}>
          Figures, JSON
        </a>
        {sample.photos.length > 0 && (
          <a className="link" href={`${at}/particles.csv`}>
            Grounds, CSV
          </a>
        )}
        {sample.photos.length > 0 && (
          <a className="link" href={`${at}/photos/${photo}/annotated.png`}>
            Photo outlined, PNG
          </a>
        )}
      </p>
      <p className="ways" style={{ marginTop: 8 }}>
        <ChooseFile accept=".csv,text/csv" testId="table-input" choose={(file) => void bring(file)}>
          Read a curve from a table (CSV)
        </ChooseFile>
      </p>
      {error != null && <Trouble error={error} />}
    </section>
  );
}

/** Say at which setting the sample was ground, so that it becomes a point of that grinder's curve. */
function Place({ sample }: { sample: Sample }) {
  const grinders = useGrinders().data ?? [];
  const refresh = useRefresh();
  const [open, setOpen] = useState(false);
  const [grinder, setGrinder] = useState<number | null>(sample.grinder_id ?? null);
  const [setting, setSetting] = useState(sample.setting ?? "");
  const [error, setError] = useState<unknown>(null);
  if (grinders.length === 0) return null;
  async function save() {
    if (!grinder) return;
    try {
      dataOf(
        await api.PATCH("/api/samples/{id}", {
          params: { path: { id: sample.id } },
          body: { grinder_id: grinder, setting },
        }),
      );
      setError(null);
      setOpen(false);
      await refresh();
    } catch (refusal) {
      setError(refusal);
    }
  }
  if (!open)
    return (
      <p className="ways" style={{ borderTop: "1px solid var(--hairline)", paddingTop: 12, fontSize: 14 }}>
        {sample.grinder_name ? (
          <>
            Ground on the {sample.grinder_name} at <Setting value={sample.setting ?? ""} />.{" "}
          </>
        ) : (
          <>Where was it ground? </>
        )}
        <button className="link" onClick={() => setOpen(true)}>
          {sample.grinder_name ? "Change" : "Say grinder and setting"}
        </button>
      </p>
    );
  return (
    <form
      style={{ borderTop: "1px solid var(--hairline)", paddingTop: 12, display: "grid", gap: 8 }}
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Select
        aria-label="Grinder"
        placeholder="Grinder"
        value={grinder}
        onChange={setGrinder}
        options={grinders.map((g) => ({ value: g.id, label: g.name }))}
      />
      <input
        aria-label="Setting"
        placeholder="Setting, as you would write it"
        value={setting}
        onChange={(e) => setSetting(e.target.value)}
        style={{ border: "1px solid var(--hairline)", borderRadius: 6, padding: "7px 10px", background: "none" }}
      />
      {error != null && <Trouble error={error} />}
      <div style={{ display: "flex", gap: 14 }}>
        <button className="link" type="submit" disabled={!grinder || !setting.trim()}>
          Keep on its curve
        </button>
        <button className="link" type="button" onClick={() => setOpen(false)}>
          Leave
        </button>
      </div>
    </form>
  );
}
