import { useDeferredValue, useLayoutEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { useNavigate } from "react-router-dom";
import { useActions, useStationActions } from "../../app/actions";
import type { Schemas } from "../../api/client";
import { useSlips, useSlipSteps, useSlipWrites } from "../../api/slips";
import { useChangeWorkbench } from "../../api/workbench";
import { useExperiments } from "../../api/practice";
import { QueryBoundary } from "../../ui/parts";
import { SettingStep, stepActions } from "../../ui/SettingStep";
import { ExperimentRows } from "../practice/ExperimentRows";
import { Choice } from "../../ui/Choice";
import { dayOfDate } from "../../ui/dates";
import { capital } from "../../ui/words";
import { Compare, MOST_COMPARED } from "./Compare";
import { Months } from "./Months";
import { SlipPaper } from "./SlipPaper";
import "./slips.css";
import { WORDS } from "./words";

const TEXT = WORDS.slipsStation;

type Slip = Schemas["SlipView"];

/** Station 6: what have I tried? Each pass is a slip; a dial-in is a thread of them. */
export default function SlipsStation() {
  const [search, setSearch] = useState("");
  const [by, setBy] = useState<ListedBy>("thread");
  const { query, slips, total, earlier } = useSlips(
    useDeferredValue(search.trim()),
    by === "liking" ? "liked" : "newest",
  );
  const all = useExperiments().data ?? [];
  const [chosen, setChosen] = useState<number>();
  const navigate = useNavigate();
  const writes = useSlipWrites();
  const change = useChangeWorkbench();
  const { notify } = useActions();
  const [side, setSide] = useState<Slip[]>([]);
  const [comparing, setComparing] = useState(false);
  const threads = useMemo(() => GROUPED[by](slips ?? []), [slips, by]);
  const experiments = all.filter((e) => `${e.name} ${e.coffee}`.toLowerCase().includes(search.trim().toLowerCase()));
  const slip = slips?.find((s) => s.id === chosen) ?? slips?.at(-1);

  const steps = useSlipSteps(slip?.id).data;
  async function again(s: Slip, setting?: string) {
    await writes.brew(s.id, "again", setting);
    navigate("/plan");
  }
  async function remove(s: Slip) {
    await writes.remove(s.id);
    notify(TEXT.slipDeleted(s.number), () => writes.restore(s.id));
  }
  async function open(s: Slip) {
    await change.mutateAsync({ slip_id: s.id });
    navigate("/cup");
  }
  useStationActions(
    slips ? (search ? TEXT.found(total) : TEXT.saved(total)) : "",
    slip
      ? [
          ...stepActions(steps, (setting) => void again(slip, setting)),
          { key: "O", label: TEXT.openInTheCup, run: () => void open(slip) },
          {
            key: "C",
            label: side.length > 1 ? TEXT.compare(side.length) : TEXT.compare2,
            run: () => setComparing(true),
            disabled: side.length < 2,
          },
          { key: "D", label: TEXT.deleteSlip(slip.number), run: () => void remove(slip) },
          { key: "Space", label: TEXT.brewSlipAgain(slip.number), main: true, run: () => void again(slip) },
        ]
      : [{ key: "Space", label: TEXT.makeAPlan, main: true, run: () => navigate("/plan") }],
  );

  return (
    <QueryBoundary query={query}>
      {slips?.length === 0 && !search ? (
        <div className="empty">
          <h1>{TEXT.noSlipsYet}</h1>
          <p>{TEXT.eachBrewYouJudgeIsSavedHere}</p>
        </div>
      ) : (
        <div className="slips-page">
          <input
            className="slip-search"
            type="search"
            aria-label={TEXT.findSlips}
            placeholder={TEXT.findByCoffeeBrewerSetting}
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
          <Choice
            label={TEXT.listedBy}
            className="listed-by"
            options={LISTED_BY.map(([value, label]) => ({ value, label }))}
            value={by}
            choose={setBy}
          />
          {by === "months" && <Months />}
          {by !== "months" && slip && steps?.steps?.length ? (
            <section className="slip-step-control">
              <span className="quiet">{TEXT.slipAgainOneStep(slip.number, steps.grinder ?? "")}</span>
              <SettingStep steps={steps} take={(setting) => void again(slip, setting)} />
            </section>
          ) : null}
          {threads.length === 0 && <p className="quiet">{TEXT.noSlipSaysThatClearTheSearch}</p>}
          {by !== "months" &&
            threads.map((t) => (
              <section key={t.title} className="thread-section">
                <div className="thread-head">
                  <h1>{t.title}</h1>
                  {by === "thread" && <span className="quiet">{summary(t.slips)}</span>}
                </div>
                <Thread>
                  {t.slips.map((s, i) => (
                    <SlipPaper
                      key={s.id}
                      slip={s}
                      first={i === 0 || by !== "thread"}
                      chosen={s.id === slip?.id}
                      choose={() => setChosen(s.id)}
                      best={by === "thread" && s.id === best(t.slips)}
                      beside={side.some((k) => k.id === s.id)}
                      putBeside={() =>
                        setSide(
                          side.some((k) => k.id === s.id)
                            ? side.filter((k) => k.id !== s.id)
                            : [...side, s].slice(-MOST_COMPARED),
                        )
                      }
                    />
                  ))}
                </Thread>
              </section>
            ))}
          {by !== "months" && query.hasNextPage && (
            <button className="link" disabled={query.isFetchingNextPage} onClick={earlier}>
              {TEXT.showEarlierSlips(total - (slips?.length ?? 0))}
            </button>
          )}
          <Compare
            slips={comparing ? [...side].sort((a, b) => a.number - b.number) : []}
            close={() => setComparing(false)}
          />
          {experiments.length > 0 && (
            <section aria-labelledby="experiments-head" className="slips-experiments">
              <div className="thread-head">
                <h1 id="experiments-head">{TEXT.experiments}</h1>
              </div>
              <ExperimentRows rows={experiments} />
            </section>
          )}
          <p className="quiet">{TEXT.whatChangedSinceTheSlipBefore}</p>
        </div>
      )}
    </QueryBoundary>
  );
}

type ListedBy = "thread" | "day" | "liking" | "months";
const LISTED_BY: [ListedBy, string][] = [
  ["thread", TEXT.byThread],
  ["day", TEXT.byDay],
  ["liking", TEXT.byLiking],
  ["months", TEXT.months],
];
interface Group {
  title: string;
  slips: Slip[];
}

/** Slips under one heading each, those that came last first. */
function grouped(slips: Slip[], titleOf: (s: Slip) => string): Group[] {
  const groups = new Map<string, Slip[]>();
  for (const s of slips) groups.set(titleOf(s), [...(groups.get(titleOf(s)) ?? []), s]);
  return [...groups].map(([title, of]) => ({ title, slips: of })).reverse();
}

const GROUPED: Record<ListedBy, (slips: Slip[]) => Group[]> = {
  thread: threadsOf,
  day: (slips) => grouped(slips, (s) => capital(dayOfDate(s.created_at))),
  liking: (slips) => grouped(slips, (s) => TEXT.likedHead(s.liked ?? 0)),
  months: () => [],
};

function threadsOf(slips: Slip[]): Group[] {
  const threads = new Map<string, Slip[]>();
  for (const s of slips) {
    const title = TEXT.inThe(s.coffee, s.brewer, TEXT.sizes[s.size]);
    threads.set(title, [...(threads.get(title) ?? []), s]);
  }
  return [...threads]
    .map(([title, of]) => ({ title, slips: of }))
    .sort((a, b) => b.slips.at(-1)!.number - a.slips.at(-1)!.number);
}

/** The best pass of a thread: in the target, then fewest complaints and most praise. */
function best(slips: Slip[]): number | undefined {
  const praise = (s: Slip) =>
    (s.in_target ? 10 : 0) +
    (s.taste.sweet ?? 0) +
    (s.taste.balanced ?? 0) -
    Object.entries(s.taste).reduce((sum, [w, n]) => sum + (w === "sweet" || w === "balanced" ? 0 : n), 0);
  const told = slips.filter((s) => Object.keys(s.taste).length > 0);
  return told.length > 1 ? told.reduce((a, b) => (praise(b) >= praise(a) ? b : a)).id : undefined;
}

/** The slips of a dial-in from left to right; the newest is what one comes to see. */
function Thread({ children }: { children: ReactNode[] }) {
  const row = useRef<HTMLDivElement>(null);
  const count = children.length;
  useLayoutEffect(() => {
    if (row.current) row.current.scrollLeft = row.current.scrollWidth;
  }, [count]);
  return (
    <div className="thread" ref={row}>
      {children}
    </div>
  );
}

function summary(slips: Slip[]): string {
  const changes = slips.filter((s) => s.changed.length > 0).length;
  const last = slips.at(-1);
  const into = last?.in_target ? TEXT.inTheTargetNow : "";
  return `${slips.length} ${slips.length === 1 ? "pass" : "passes"}, ${changes} ${changes === 1 ? "change" : "changes"}${into}`;
}
