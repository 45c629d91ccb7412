import { type Schemas } from "../../api/client";
import { useDemoPhotos, useSampleWrites } from "../../api/samples";
import { useChangeWorkbench } from "../../api/workbench";
import { useState } from "react";
import { Key, Typed } from "../../ui/parts";
import { DRAWN_MM, keepBar, readBar } from "./checkBar";
import { between } from "../../ui/words";
import type { Upload } from "./upload";
import { WORDS } from "./words";

const TEXT = WORDS.firstPhoto;

/** Nothing measured yet: one photo, or the shipped picture in one click. */
export function FirstPhoto({
  choose,
  takePhoto,
  byHand,
  upload,
  samples,
}: {
  choose: () => void;
  /** Open the camera, where there is one to hold in the hand. */
  takePhoto?: () => void;
  byHand: () => void;
  upload: Upload;
  samples: Schemas["SampleView"][];
}) {
  const demo = useDemoPhotos();
  const { measureDemoPhoto } = useSampleWrites();
  const change = useChangeWorkbench();
  const first = demo.data?.[1] ?? demo.data?.[0];
  const measureDemo = () =>
    first && upload.run(TEXT.aSimulatedPicture(first.title), () => measureDemoPhoto(first.name));
  return (
    <div className="empty">
      <h1>{TEXT.howBigAreYourGrounds}</h1>
      <p>{TEXT.printTheCardSpreadAPinchIn(takePhoto)}</p>
      <Steps />
      <div className="ways">
        {takePhoto && (
          <button className="main-act" onClick={takePhoto}>
            {TEXT.takeAPhoto}
          </button>
        )}
        <button className={takePhoto ? "act" : "main-act"} onClick={choose}>
          {TEXT.choosePhotos} <Key>{TEXT.space}</Key>
        </button>
        {first && (
          <button className="act" onClick={measureDemo}>
            {TEXT.tryWithTheDemoPicture}
          </button>
        )}
        <a className="link" href="/api/cards/a4.pdf" target="_blank" rel="noreferrer">
          {TEXT.printTheCardPdf}
        </a>
      </div>
      <div className="ways above-m">
        <button className="link" onClick={byHand}>
          {TEXT.noCardACoinOrARulerWillDo} <Key>W</Key>
        </button>
        <CheckBar />
      </div>
      {samples.length > 0 && (
        <div className="above-l">
          <h3 className="quiet">{TEXT.orTakeUpAnEarlierOne}</h3>
          <ul className="rows above-s">
            {samples.slice(0, 4).map((s) => (
              <li key={s.id}>
                <button className="link large" onClick={() => change.mutate({ sample_id: s.id })}>
                  {s.grinder_name ? TEXT.at(s.grinder_name, s.setting) : (s.photo_name ?? TEXT.aSample)}
                </button>
                <span className="figure">{between(s.d50_ci95_um)} µm</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}

/** A printer that scales is put right by one length, measured once. */
function CheckBar() {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState(String(readBar() ?? ""));
  const [kept, setKept] = useState(true);
  if (!open)
    return (
      <button className="link" onClick={() => setOpen(true)}>
        {readBar() ? TEXT.checkBarMm(readBar()) : TEXT.didThePrinterScaleTheCard}
      </button>
    );
  return (
    <Typed
      small
      width={190}
      label={TEXT.itsCheckBarDrawnMm(DRAWN_MM)}
      value={text}
      unit="mm"
      placeholder={String(DRAWN_MM)}
      onChange={(t) => {
        setText(t);
        setKept(keepBar(t));
      }}
      trouble={kept ? null : TEXT.thatIsTooFarFrom40MmMeasure}
    />
  );
}

function Steps() {
  const words = [TEXT.aPinchFromTheMixedDose, TEXT.spreadHardlyTouching, TEXT.fromAboveFrameFilling];
  return (
    <svg
      width="560"
      height="112"
      viewBox="-14 0 560 112"
      role="img"
      aria-label={words.join("; ")}
      className="photo-steps"
      fill="none"
      stroke="var(--ink-2)"
      strokeWidth="1.5"
      strokeLinecap="round"
    >
      <path d="M20 62h110M28 62c4 20 20 26 47 26s43-6 47-26" />
      <path d="M40 60c12-16 56-16 70 0" fill="var(--ground)" stroke="none" />
      <path d="M92 20c-6 8-12 14-14 22M104 22c-8 8-14 14-20 21" />
      <rect x="205" y="20" width="120" height="70" rx="3" />
      <g fill="var(--ground)" stroke="none">
        {[
          [228, 40, 4],
          [246, 66, 6],
          [262, 38, 3],
          [275, 58, 5],
          [292, 44, 4],
          [300, 70, 3],
          [236, 56, 2],
          [257, 52, 2],
          [286, 72, 2],
          [308, 54, 3],
          [222, 72, 3],
        ].map(([x, y, r], i) => (
          <circle key={i} cx={x} cy={y} r={r} />
        ))}
      </g>
      <g strokeDasharray="2 4">
        <path d="M212 27h106v56H212z" />
      </g>
      <path d="M400 90h120M420 90h80" />
      <rect x="428" y="18" width="64" height="12" rx="3" />
      <path d="M460 34 418 86M460 34l42 52" strokeDasharray="3 4" />
      <path d="M424 87h72" strokeWidth="3" stroke="var(--ink)" />
      <g stroke="none" fontSize="13">
        <text x="75" y="107" textAnchor="middle" className="in-ink-2">
          {words[0]}
        </text>
        <text x="265" y="107" textAnchor="middle" className="in-ink-2">
          {words[1]}
        </text>
        <text x="460" y="107" textAnchor="middle" className="in-ink-2">
          {words[2]}
        </text>
      </g>
    </svg>
  );
}
