import { Modal } from "antd";
import { useCallback, useEffect, useState, type ReactNode } from "react";
import { useLocation, useNavigate } from "react-router-dom";
import type { Schemas } from "../api/client";
import { useTouched } from "../api/touched";
import { usePassWrites } from "../api/passes";
import { useSeeChanges, useWorkbench } from "../api/workbench";
import { sendUnsentDrafts } from "../api/drafts";
import { useSendingWaitingPhotos } from "../api/photosWaiting";
import { useReach } from "../api/reach";
import { Key } from "../ui/parts";
import { ActionBar } from "./ActionBar";
import { useActions, useOffered, useTold } from "./actions";
import { Away } from "./Away";
import { BackUp } from "./BackUp";
import { Counters } from "./Counters";
import { Devices } from "./Devices";
import { ChainStrip } from "./ChainStrip";
import { Tray } from "./Tray";
import { useKeys } from "./keys";
import { STATIONS } from "./stations";
import { useUnitsChange } from "./useUnitsChange";
import { WORDS } from "./words";

const TEXT = WORDS.shell;

interface Props {
  dark: boolean;
  toggleTheme: () => void;
  children: ReactNode;
}

/** Chain strip on top, the station in the middle, what can be done at the bottom. */
export function Shell({ dark, toggleTheme, children }: Props) {
  const { pathname } = useLocation();
  const station = STATIONS.find((s) => pathname === s.path || pathname.startsWith(`${s.path}/`));
  const [help, setHelp] = useState(false);
  const [devices, setDevices] = useState(false);
  const showHelp = useCallback(() => setHelp(true), []);
  const changeUnits = useUnitsChange();
  useSeeChanges(pathname.slice(1));
  useKeys(showHelp, changeUnits, useNewPass());
  const { notify } = useActions();
  const touched = useTouched("samples");
  const arrived = useCallback(
    (job: Schemas["MeasuringJob"]) => {
      void touched(job);
      notify(job.error ? `${job.error.message} ${job.error.remedy}` : TEXT.thePhotoThatWaitedIsMeasured);
    },
    [notify, touched],
  );
  useSendingWaitingPhotos(arrived);
  const { away } = useReach();
  useEffect(() => {
    if (!away) sendUnsentDrafts();
  }, [away]);
  return (
    <div className="shell">
      <div>
        <ChainStrip />
        <Tray onBrew={pathname === "/brew"} />
        <Away />
      </div>
      <main className="page">
        <h1 className="unseen">{station?.name ?? TEXT.hakari}</h1>
        {children}
      </main>
      <ActionBar
        dark={dark}
        toggleTheme={toggleTheme}
        changeUnits={changeUnits}
        showHelp={showHelp}
        showDevices={() => setDevices(true)}
      />
      <Toast />
      <AllKeys open={help} close={() => setHelp(false)} />
      <Modal
        open={devices}
        onCancel={() => setDevices(false)}
        footer={null}
        title={TEXT.devicesAndCounters}
        width={520}
        destroyOnHidden
      >
        <Devices station={station} />
        <Counters />
      </Modal>
    </div>
  );
}

/** Plan another pass: like the one at hand, which stays as it is; one that has not begun is planned on. */
function useNewPass() {
  const navigate = useNavigate();
  const { begin } = usePassWrites();
  const state = useWorkbench().data?.state;
  return useCallback(() => {
    void (async () => {
      if (state !== undefined && state !== "planned") await begin();
      navigate("/plan");
    })();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `begin` is another function at each render and does the same
  }, [state, navigate]);
}

function Toast() {
  const { undo } = useActions();
  const told = useTold();
  if (!told) return null;
  return (
    <div className="toast" role="status">
      {told.words}
      {told.undo && (
        <button onClick={undo}>
          {TEXT.undo} <Key>Z</Key>
        </button>
      )}
    </div>
  );
}

function AllKeys({ open, close }: { open: boolean; close: () => void }) {
  const { actions } = useOffered();
  const everywhere: [string, string][] = [
    ...STATIONS.map((s) => [s.key, s.name] as [string, string]),
    ["Space", TEXT.theMainAction],
    ["N", TEXT.aNewPassPlanIt],
    ["U", "Units"],
    ["Z", "Undo"],
    ["Shift+Z", "Redo"],
    ["?", TEXT.keyboardShortcuts],
  ];
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.keysAndBackUp} width={600} destroyOnHidden>
      <div className="all-keys">
        <KeyList title={TEXT.everywhere} keys={everywhere} />
        <KeyList title={TEXT.here} keys={actions.map((a) => [a.key, a.label])} />
      </div>
      <BackUp />
    </Modal>
  );
}

function KeyList({ title, keys }: { title: string; keys: [string, string][] }) {
  return (
    <section>
      <h3 className="quiet keys-head">{title}</h3>
      <ul className="rows">
        {keys.map(([key, what]) => (
          <li key={key}>
            <span>{what}</span>
            <span>
              <Key>{key}</Key>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
