import { Popover } from "antd";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router-dom";
import type { Schemas } from "../api/client";
import { useDiscardedPasses, usePassWrites } from "../api/passes";
import { useOpenPasses } from "../api/workbench";
import { presentOf } from "../stations/brew/present";
import { useHand } from "../stations/brew/useHand";
import { useUnits } from "../ui/useUnits";
import { dayAndTime } from "../ui/dates";
import { clock } from "../ui/words";
import { useActions } from "./actions";
import { WORDS } from "./words";

const TEXT = WORDS.tray;
const TICK_MS = 250;
/** From another station a pour is begun at most so much before its time. */
const BRINGS_FORWARD_S = 15;

type Open = Schemas["OpenPass"];
type Running = Open & { running: Schemas["RunningBrew"] };

/** Where a pass that is brought to hand goes on. */
const GOES_ON: Record<Open["state"], string> = {
  planned: "/brew",
  brewing: "/brew",
  "to-taste": "/cup",
  tasted: "/cup",
  kept: "/cup",
  discarded: "/plan",
};

/** The open passes beside the one at hand, and every running brew with its next act; nothing where there are none. */
export function Tray({ onBrew }: { onBrew: boolean }) {
  const bench = useOpenPasses();
  const all = bench.data?.open ?? [];
  const atHand = bench.data?.id;
  // The one at hand is in the strip; its clock and next act are seen on Brew itself.
  const shown = all.filter((p) => p.id !== atHand || (p.running && !onBrew));
  if (shown.length === 0) return null;
  const running = shown.filter((p): p is Running => p.running != null);
  const others = shown.filter((p) => !p.running);
  return (
    <section className="tray" aria-label={TEXT.openBrews}>
      {running.map((p) => (
        <RunningPass key={p.id} pass={p} heardAt={bench.dataUpdatedAt} />
      ))}
      {others.map((p) => (
        <Waiting key={p.id} pass={p} />
      ))}
      <AllPasses passes={all} atHand={atHand} />
    </section>
  );
}

function useBring() {
  const { takeUp } = usePassWrites();
  const navigate = useNavigate();
  return async (pass: Open) => {
    await takeUp(pass.id);
    navigate(GOES_ON[pass.state]);
  };
}

/** What a pass is called, in as few words as tell it from another. */
function useName() {
  const { dose } = useUnits();
  return (p: Open) => [p.coffee, p.brewer, p.dose_g != null && dose(p.dose_g)].filter(Boolean).join(", ") || TEXT.aBrew;
}

/** A running brew: its clock, what it asks for, and the act that ends its step. */
function RunningPass({ pass, heardAt }: { pass: Running; heardAt: number }) {
  const units = useUnits();
  const bring = useBring();
  const nameOf = useName();
  const { running } = pass;
  const hand = useHand(running.id, () => undefined);
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => tick((n) => n + 1), TICK_MS);
    return () => clearInterval(timer);
  }, []);
  const elapsed = running.elapsed_s + (Math.max(0, Date.now() - heardAt) / 1000) * running.speed;
  const steps = [running.step, running.next].filter((s) => s != null);
  const now = presentOf(steps, 0, elapsed, units);
  const done = () =>
    void hand.tap({ what: now.says, step: running.now, at_s: elapsed }, `${now.tap}, ${clock(elapsed)}`);
  const until = now.until != null && running.step?.kind !== "drain" && running.step?.kind !== "last-drip";
  return (
    <div className="tray-run" data-late={now.late ? true : undefined}>
      <button
        className="tray-pass"
        onClick={() => void bring(pass)}
        title={TEXT.bringToHand(nameOf(pass))}
        data-testid="running-brew"
      >
        <time className="figure tray-clock">{clock(Math.floor(elapsed))}</time>
        <span className="tray-name">{nameOf(pass)}</span>
        {running.step && (
          <span className="tray-now">
            {now.above.replace(/:$/, "")} <b className="figure">{now.huge}</b>
            {now.unit ? ` ${now.unit}` : ""}
            {now.late ? `, ${TEXT.late(clock(now.late.s))}` : ""}
            {until && !now.held && elapsed < now.until! ? `, ${TEXT.due(clock(now.until!))}` : ""}
          </span>
        )}
      </button>
      {running.step && (now.says === "done" || elapsed > now.until! - BRINGS_FORWARD_S) && (
        <button className="tray-act" onClick={done}>
          {now.tap}
        </button>
      )}
    </div>
  );
}

function Waiting({ pass }: { pass: Open }) {
  const bring = useBring();
  const nameOf = useName();
  return (
    <button className="tray-pass" onClick={() => void bring(pass)} title={TEXT.bringToHand(nameOf(pass))}>
      <span className={`tray-state ${pass.state}`}>{TEXT.states[pass.state]}</span>
      <span className="tray-name">{nameOf(pass)}</span>
    </button>
  );
}

/** All of them as a list, where one can be discarded and brought back. */
function AllPasses({ passes, atHand }: { passes: Open[]; atHand: number | null | undefined }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="bottomRight"
      destroyOnHidden
      content={<PassList passes={passes} atHand={atHand} close={() => setOpen(false)} />}
    >
      <button className="tray-all" aria-label={TEXT.all} aria-expanded={open}>
        {TEXT.more}
      </button>
    </Popover>
  );
}

function PassList({ passes, atHand, close }: { passes: Open[]; atHand: number | null | undefined; close: () => void }) {
  const bring = useBring();
  const nameOf = useName();
  const { notify } = useActions();
  const writes = usePassWrites();
  const discarded = useDiscardedPasses(true).data ?? [];
  async function discard(pass: Open) {
    await writes.discard(pass.id);
    notify(TEXT.discarded(nameOf(pass)), () => writes.restore(pass.id));
  }
  async function take(pass: Open) {
    close();
    await bring(pass);
  }
  return (
    <div className="tray-list">
      <h2>{TEXT.openBrews}</h2>
      {passes.length === 0 && <p className="quiet">{TEXT.noneOpen}</p>}
      <ul className="rows">
        {passes.map((p) => (
          <li key={p.id}>
            <button className="link" onClick={() => void take(p)}>
              {nameOf(p)}
            </button>
            <span className="quiet">
              {TEXT.states[p.state]}
              {p.id === atHand ? `, ${TEXT.atHand}` : ""}, {dayAndTime(p.begun_at)}
            </span>
            <button className="link" aria-label={TEXT.discardIt(nameOf(p))} onClick={() => void discard(p)}>
              {TEXT.discard}
            </button>
          </li>
        ))}
      </ul>
      <p className="quiet">{TEXT.openBrewsHelp}</p>
      <h2 className="above-m">{TEXT.discardedLately}</h2>
      {discarded.length === 0 && <p className="quiet">{TEXT.noneDiscarded}</p>}
      <ul className="rows">
        {discarded.map((p) => (
          <li key={p.id}>
            <span>{nameOf(p)}</span>
            <span className="quiet">{dayAndTime(p.begun_at)}</span>
            <button className="link" aria-label={TEXT.bringItBack(nameOf(p))} onClick={() => void writes.restore(p.id)}>
              {TEXT.bringBack}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
