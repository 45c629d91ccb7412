import { useState, type ReactNode } from "react";
import { Link, useLocation } from "react-router-dom";
import type { Schemas } from "../api/client";
import { useWorkbench } from "../api/workbench";
import { Setting } from "../ui/parts";
import { endingWords } from "../ui/steeps";
import { clock, whole } from "../ui/words";
import { CoffeeShelf } from "./CoffeeShelf";
import { CounterChoice } from "./Counters";
import { STATIONS } from "./stations";
import type { Writer } from "../ui/units";
import { useNarrow } from "../ui/useMedia";
import { useUnits } from "../ui/useUnits";
import { WORDS } from "./words";

const TEXT = WORDS.chainStrip;

type Workbench = Schemas["WorkbenchView"];

/** The six cells of the chain with today's values; the open one is unfolded into the page. */
export function ChainStrip() {
  const bench = useWorkbench().data;
  const units = useUnits();
  const { pathname } = useLocation();
  const narrow = useNarrow();
  const [shelf, setShelf] = useState(false);
  const cells = bench ? valuesOf(bench, units) : {};
  const coffee = bench?.coffee;
  return (
    <header className="chain">
      <div className="brand">
        <Link to="/measure" className="mark" aria-label={TEXT.hakariToTheFirstStation}>
          <svg
            width="26"
            height="18"
            viewBox="0 0 26 18"
            fill="none"
            stroke="currentColor"
            strokeWidth="2.2"
            strokeLinecap="round"
            aria-hidden="true"
          >
            <path d="M1.5 5.5 24.5 3.5M16 4.5v11M11.5 16h9" />
            <circle cx="6" cy="10" r="2.6" fill="var(--persimmon)" stroke="none" />
          </svg>
          {TEXT.hakari}
        </Link>
        <CounterChoice />
        <button className="coffee" onClick={() => setShelf(true)} title={TEXT.chooseTheCoffee}>
          {coffee ? (
            <>
              {coffee.name}
              <br />
              {coffee.roast}
              {coffee.days_off_roast != null && TEXT.daysOffRoast(coffee.days_off_roast)}
            </>
          ) : (
            TEXT.whichCoffee
          )}
        </button>
      </div>
      <nav aria-label={TEXT.stations} className="chain-links">
        {STATIONS.slice(0, 6).map((s) => {
          const cell = cells[s.path];
          return (
            <Link key={s.path} to={s.path} className="cell" aria-current={pathname === s.path ? "page" : undefined}>
              <div className="station">
                <span className="digit">{s.key}</span>
                <span className="name">{s.name}</span>
              </div>
              <div className={`value figure${cell?.value ? "" : " none"}`}>
                {(narrow && cell?.short) || (cell?.value ?? "–")}
              </div>
              <div className="under">{cell?.under ?? ""}</div>
            </Link>
          );
        })}
      </nav>
      <CoffeeShelf open={shelf} close={() => setShelf(false)} chosen={coffee?.id} />
    </header>
  );
}

/** A cell's value with what stands under it, and the value as a phone has room for it. */
interface Cell {
  value: ReactNode;
  under: string;
  short?: ReactNode;
}

function valuesOf(b: Workbench, { dose, mass }: Writer): Record<string, Cell> {
  const { sample, grinder, plan, brew, slip, after } = b;
  const end = plan?.ending ? endingWords(plan.ending).done : TEXT.bareBed;
  const seen = brew?.bare_bed_s ?? slip?.drawdown_s;
  const bare = seen ?? brew?.estimated_bare_bed_s;
  return {
    "/measure": {
      value: sample ? `${whole(sample.d50_um)} µm` : null,
      under: sample
        ? TEXT.howSure(whole(sample.half_width_um), sample.photos, sample.source, sample.simulated)
        : TEXT.nothingMeasured,
    },
    "/grinders": {
      // The setting first: a long name is cut off, a setting never.
      value: grinder ? grinder.setting ? <Setting value={grinder.setting} /> : grinder.name : null,
      under: grinder ? (grinder.setting ? grinder.name : "") : TEXT.noneChosen,
    },
    "/plan": {
      value: plan ? `${dose(plan.dose_g)} to ${mass(plan.water_g)}` : null,
      short: plan ? dose(plan.dose_g) : null,
      under: plan ? `${plan.brewer}, ${plan.style}` : TEXT.noPlanYet,
    },
    "/brew": {
      value:
        bare != null
          ? `${seen == null ? "~" : ""}${clock(bare)}`
          : brew?.running
            ? TEXT.running
            : plan
              ? clock(plan.drawdown_s)
              : null,
      under: bare != null && plan ? TEXT.plan(end, clock(plan.drawdown_s)) : plan ? TEXT.planned(end) : TEXT.planFirst,
    },
    "/cup": {
      value: slip ? `${slip.tds_percent.toFixed(2)} %` : null,
      under: slip
        ? TEXT.extracted(slip.ey_percent.toFixed(1), slip.tds_measured)
        : b.state === "tasted"
          ? TEXT.tastedNotSaved
          : b.state === "to-taste"
            ? TEXT.notTastedYet
            : TEXT.brewFirst,
    },
    "/slips": {
      value: slip ? TEXT.slip(slip.number) : after ? TEXT.after(after.number) : b.slips ? TEXT.saved(b.slips) : null,
      short: b.slips ? b.slips : null,
      under: b.slips === 1 ? TEXT.n1Slip : TEXT.slips(b.slips),
    },
  };
}
