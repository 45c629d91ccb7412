import { Modal, Tabs } from "antd";
import { useState, type ReactNode } from "react";
import { type Schemas } from "../../api/client";
import { usePlanMatch } from "../../api/plans";
import { HiddenHead, Setting, settingText, Trouble, Waiting } from "../../ui/parts";
import { clock, whole } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.matching;

type Tab = "settings" | "methods" | "brewers";
interface Props {
  open: boolean;
  close: () => void;
  recipe: Schemas["Recipe"];
  take: (setting: string) => void;
  change: (recipe: Partial<Schemas["Recipe"]>) => void;
}

const VERDICTS: Record<string, string> = {
  inside: TEXT.suitsIt,
  fine: TEXT.finerThanUsual,
  coarse: TEXT.coarserThanUsual,
};

/** Which of one's settings suits the plan, which method suits the grind, and the same plan in other brewers. */
export function Matching({ open, close, recipe, take, change }: Props) {
  const [tab, setTab] = useState<Tab>("settings");
  const found = usePlanMatch(recipe, open);
  const m = found.data;
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.whatSuitsWhat} width={820} destroyOnHidden>
      <Tabs
        activeKey={tab}
        onChange={(key) => setTab(key as Tab)}
        items={[
          { key: "settings", label: TEXT.mySettingsForThisPlan },
          { key: "methods", label: TEXT.methodsForThisGrind },
          { key: "brewers", label: TEXT.thisPlanInOtherBrewers },
        ]}
      />
      {found.error != null && <Trouble error={found.error} />}
      {!m && !found.error && <Waiting>{TEXT.comparingSettings}</Waiting>}
      {m &&
        tab === "settings" &&
        (m.settings.length === 0 ? (
          <p className="quiet">
            {m.grinder ? TEXT.theHasNoCurveYetMeasureOne(m.grinder) : TEXT.putAGrinderOnTheBenchFirst}
          </p>
        ) : (
          <Table
            head={["setting", "median", TEXT.forThisMethod]}
            rows={m.settings.map((s) => ({
              key: s.setting,
              o: s,
              best: s.setting === m.best,
              cells: [<Setting key="s" value={s.setting} />, `${whole(s.d50_um)} µm`, VERDICTS[s.verdict ?? ""] ?? ""],
              act: (
                <button
                  className="link"
                  onClick={() => {
                    take(s.setting);
                    close();
                  }}
                >
                  {s.setting === m.best ? TEXT.toUse(settingText(s.setting)) : TEXT.toUseIt}
                </button>
              ),
            }))}
          />
        ))}
      {m && tab === "methods" && (
        <Table
          head={["style", "brewer", TEXT.thisGrind]}
          rows={m.methods.map((s) => ({
            key: s.style,
            o: s,
            best: false,
            cells: [s.style_label, s.brewer_label, VERDICTS[s.verdict ?? ""] ?? ""],
            act: (
              <button
                className="link"
                onClick={() => {
                  change({ school: s.style, brewer: s.brewer, options: {} });
                  close();
                }}
              >
                {TEXT.planIt}
              </button>
            ),
          }))}
        />
      )}
      {m && tab === "brewers" && (
        <Table
          head={["brewer", "bed", "bypass"]}
          rows={m.brewers.map((s) => ({
            key: s.brewer,
            o: s,
            best: s.brewer === recipe.brewer,
            cells: [s.brewer_label, `${Math.round(s.bed_depth_mm)} mm`, `${Math.round(s.bypass_percent)} %`],
            act:
              s.brewer === recipe.brewer ? null : (
                <button
                  className="link"
                  onClick={() => {
                    change({ brewer: s.brewer });
                    close();
                  }}
                >
                  {TEXT.takeIt}
                </button>
              ),
          }))}
        />
      )}
      <p className="quiet above-m">{TEXT.smallAndLargeTheExtraction(tab === "brewers")}</p>
    </Modal>
  );
}

interface Row {
  key: string;
  o: Pick<
    Schemas["SettingMatch"],
    "drawdown_s" | "tds_percent" | "ey_percent" | "stalled" | "small_percent" | "large_percent"
  >;
  best: boolean;
  cells: ReactNode[];
  act: ReactNode;
}

function Table({ head, rows }: { head: string[]; rows: Row[] }) {
  return (
    <table className="guide-table">
      <thead>
        <tr>
          {head.map((h) => (
            <th key={h}>{h}</th>
          ))}
          <th>{TEXT.ends}</th>
          <th>{TEXT.strength}</th>
          <th>{TEXT.extraction}</th>
          <th>{TEXT.smallLarge}</th>
          <HiddenHead>{TEXT.choose}</HiddenHead>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.key} className={r.best ? "best" : undefined}>
            {r.cells.map((c, i) => (
              <td key={i}>{c}</td>
            ))}
            <td className="figure">{r.o.stalled ? TEXT.stalls : clock(r.o.drawdown_s)}</td>
            <td className="figure">{r.o.tds_percent.toFixed(2)} %</td>
            <td className="figure">{r.o.ey_percent.toFixed(1)} %</td>
            <td className="figure">
              {r.o.small_percent != null && r.o.large_percent != null
                ? `${r.o.small_percent.toFixed(0)}, ${r.o.large_percent.toFixed(0)} %`
                : "–"}
            </td>
            <td>{r.act}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
