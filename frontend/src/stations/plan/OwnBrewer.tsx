import { Checkbox, Form, Modal } from "antd";
import { useState } from "react";
import { type Schemas } from "../../api/client";
import { useBrewerWrites } from "../../api/plans";
import { useActions } from "../../app/actions";
import { Trouble, Typed } from "../../ui/parts";
import { readNumber } from "../../ui/words";
import { Choice } from "../../ui/Choice";
import { WORDS } from "./words";

const TEXT = WORDS.ownBrewer;

type Shape = NonNullable<Schemas["Recipe"]["shape"]>;
type Walls = "none" | "edge" | "ribs";

interface Props {
  open: boolean;
  close: () => void;
  /** The built-in brewer that it is used like. */
  base: Schemas["BrewerView"];
  shape: Schemas["Recipe"]["shape"];
  name: string | null;
  mine?: Schemas["OwnBrewerView"];
  bedMm: number;
  take: (shape: Shape | null, name: string | null) => void;
}

const WALLS: [Walls, string][] = [
  ["ribs", TEXT.ribsHoldThePaperOff],
  ["edge", TEXT.aCrimpedOrLooseEdge],
  ["none", TEXT.thePaperSeals],
];

/** A brewer of one's own by its shape, drawn as it is typed. */
export function OwnBrewer({ open, close, ...rest }: Props) {
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.aBrewerOfYourOwn} width={800} destroyOnHidden>
      <BrewerForm close={close} {...rest} />
    </Modal>
  );
}

function BrewerForm({ close, base, shape, name: known, mine, bedMm, take }: Omit<Props, "open">) {
  const writes = useBrewerWrites();
  const { notify } = useActions();
  // Nothing drains through the floor or the walls of a pot that is pressed or poured off.
  const steeps = base.way === "steep";
  const [kind, setKind] = useState<"cone" | "flat">(shape?.shape ?? (/cone|valve/.test(base.name) ? "cone" : "flat"));
  const [angle, setAngle] = useState(shape?.shape === "cone" ? String(shape.half_angle_deg) : "30");
  const [width, setWidth] = useState(
    String(
      shape?.shape === "cone"
        ? shape.outlet_mm
        : shape?.shape === "flat"
          ? shape.diameter_mm
          : kind === "cone"
            ? 20
            : steeps
              ? 95
              : 70,
    ),
  );
  const [walls, setWalls] = useState<Walls>(
    shape?.bypass ?? (base.way !== "drip" ? "none" : kind === "cone" ? "ribs" : "edge"),
  );
  const [open, setOpen] = useState(String(Math.round(100 * (shape?.open_share ?? 1))));
  const [mesh, setMesh] = useState(shape?.mesh ?? false);
  const [held, setHeld] = useState(String(shape?.held_g_per_g ?? 2));
  const [capacity, setCapacity] = useState(String(shape?.capacity_g ?? base.capacity_g));
  const [name, setName] = useState(known ?? "");
  const [error, setError] = useState<unknown>(null);
  const size = readNumber(width, "mm"),
    lean = readNumber(angle, "°"),
    holds = readNumber(capacity, "g|ml");
  function made(): Shape {
    const shared = {
      bypass: walls,
      open_share: readNumber(open, "%") / 100,
      mesh,
      held_g_per_g: readNumber(held, "g|g/g"),
      capacity_g: holds,
      way: base.way as Shape["way"],
    };
    return kind === "cone"
      ? { shape: "cone", half_angle_deg: lean, outlet_mm: size, ...shared }
      : { shape: "flat", diameter_mm: size, ...shared };
  }
  async function keep() {
    try {
      await writes.keep({ name, base: base.name, shape: made() });
      take(made(), name.trim());
      close();
    } catch (refusal) {
      setError(refusal);
    }
  }
  async function putAway() {
    if (!mine) return;
    try {
      await writes.remove(mine.id);
      take(null, null);
      notify(TEXT.deleted(mine.name), () => writes.restore(mine.id));
      close();
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <Form onFinish={() => void keep()} className="grinder-editor">
      <div className="stack">
        <Typed small label={TEXT.name} value={name} onChange={setName} />
        {!steeps && (
          <Choice
            label={TEXT.shape}
            options={[
              { value: "cone", label: TEXT.cone },
              { value: "flat", label: TEXT.flatBottom },
            ]}
            value={kind}
            choose={setKind}
          />
        )}
        <div className="side-by-side wrap">
          {kind === "cone" && (
            <Typed small label={TEXT.halfAngle} value={angle} onChange={setAngle} unit="°" width={96} />
          )}
          <Typed
            small
            label={kind === "cone" ? TEXT.outlet : TEXT.diameter}
            value={width}
            onChange={setWidth}
            unit="mm"
            width={96}
          />
          {!steeps && <Typed small label={TEXT.open} value={open} onChange={setOpen} unit="%" width={80} />}
          <Typed small label={TEXT.holds} value={capacity} onChange={setCapacity} unit="g" width={90} />
          <Typed small label={TEXT.groundsKeep} value={held} onChange={setHeld} unit="g/g" width={110} />
        </div>
        {!steeps && (
          <>
            <Choice
              label={TEXT.walls}
              options={WALLS.map(([value, label]) => ({ value, label }))}
              value={walls}
              choose={setWalls}
            />
            <Checkbox className="quiet" checked={mesh} onChange={(e) => setMesh(e.target.checked)}>
              {TEXT.aMeshUnderThePaperKeepsAll}
            </Checkbox>
          </>
        )}
        {error != null && <Trouble error={error} />}
        <div className="side-by-side middle">
          <button className="main-act" type="submit" disabled={!name.trim()}>
            {TEXT.save}
          </button>
          {mine && (
            <button type="button" className="link" onClick={() => void putAway()}>
              {TEXT.deleteWord}
            </button>
          )}
        </div>
        <p className="quiet">
          {steeps ? TEXT.usedLikeTheHoldsWaterAndCoffee(base.label) : TEXT.usedLikeTheOpenHowMuchOfThe(base.label)}
        </p>
      </div>
      {steeps ? (
        <Pot size={size} holds={holds} />
      ) : (
        <Section kind={kind} lean={lean} size={size} walls={walls} bedMm={bedMm} />
      )}
    </Form>
  );
}

/** A cut through the brewer, to scale: walls, outlet, the bed as deep as it lies in the present plan. */
function Section({
  kind,
  lean,
  size,
  walls,
  bedMm,
}: {
  kind: "cone" | "flat";
  lean: number;
  size: number;
  walls: Walls;
  bedMm: number;
}) {
  const tall = 90,
    slope = kind === "cone" ? Math.tan((Math.min(Math.max(lean || 0, 5), 65) * Math.PI) / 180) : 0;
  const bottom = Math.min(Math.max(size || 0, 2), 400) / 2;
  const at = (mm: number) => bottom + mm * slope;
  const k = Math.min(1.9, 112 / at(tall));
  const [x0, x1, bed] = [at(0) * k, at(tall) * k, Math.min(bedMm, tall - 8)];
  const y = (mm: number) => 190 - mm * k;
  return (
    <svg width="250" height="230" viewBox="-125 0 250 230" role="img" aria-label={TEXT.theBrewerCutThrough}>
      <path
        d={`M${-at(0) * k} ${y(0)}L${-at(bed) * k} ${y(bed)}H${at(bed) * k}L${at(0) * k} ${y(0)}Z`}
        fill="var(--coffee)"
        opacity="0.55"
      />
      <path
        d={`M${-x1} ${y(tall)}L${-x0} ${y(0)}M${x1} ${y(tall)}L${x0} ${y(0)}`}
        stroke="var(--ink)"
        strokeWidth="2.2"
        fill="none"
      />
      <path
        d={`M${-x0} ${y(0)}H${x0}`}
        stroke="var(--ink)"
        strokeWidth="2.2"
        strokeDasharray={kind === "cone" ? "3 3" : "6 3"}
      />
      {walls !== "none" &&
        [18, 34, 50, 66, 82].map((mm) => (
          <path
            key={mm}
            d={`M${-at(mm) * k} ${y(mm)}l7 ${walls === "ribs" ? 0 : -4}M${at(mm) * k} ${y(mm)}l-7 ${walls === "ribs" ? 0 : -4}`}
            stroke="var(--ink-2)"
            strokeWidth="1.6"
          />
        ))}
      <text x="0" y={y(bed) - 7} textAnchor="middle" fontSize="13" className="in-coffee">
        {TEXT.bedNowMm(Math.round(bedMm))}
      </text>
      <text x="0" y="216" textAnchor="middle" className="tick">
        {kind === "cone" ? TEXT.outletMmWallsOffUpright(size || "?", lean || "?") : TEXT.mmAcross(size || "?")}
      </text>
    </svg>
  );
}

/** A pot cut through, to scale: how high the water stands when it is full. */
function Pot({ size, holds }: { size: number; holds: number }) {
  const across = Math.min(Math.max(size || 0, 25), 400);
  const high = Math.min(Math.max((1000 * (holds || 0)) / ((Math.PI * across ** 2) / 4), 2), 900);
  const k = Math.min(1.9, 224 / across, 165 / high);
  const [x, top] = [(across / 2) * k, 190 - high * k];
  return (
    <svg width="250" height="230" viewBox="-125 0 250 230" role="img" aria-label={TEXT.theBrewerCutThrough}>
      <rect x={-x} y={top} width={2 * x} height={high * k} fill="var(--water)" opacity="0.3" />
      <path d={`M${-x} ${top - 10}V190H${x}V${top - 10}`} stroke="var(--ink)" strokeWidth="2.2" fill="none" />
      <text x="0" y={190 - (high * k) / 2 + 4} textAnchor="middle" fontSize="13" className="in-ink">
        {TEXT.mmFull(Math.round(high))}
      </text>
      <text x="0" y="216" textAnchor="middle" className="tick">
        {TEXT.mmAcrossG(size || "?", holds || "?")}
      </text>
    </svg>
  );
}
