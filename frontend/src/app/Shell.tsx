import { Modal } from "antd";
import { useCallback, useState, type ReactNode } from "react";
import { Link } from "react-router-dom";
import { Key } from "../ui/parts";
import { useActions } from "./actions";
import { BackUp } from "./BackUp";
import { Devices } from "./Devices";
import { ChainStrip } from "./ChainStrip";
import { useKeys } from "./keys";
import { STATIONS } from "./stations";
import { useUnitsChange } from "./useUnitsChange";
import { useUnits } from "../ui/useUnits";

interface Props {
  dark: boolean;
  toggleTheme: () => void;
  children: ReactNode;
}

/** Chain strip on top, the station in the middle, what can be done at the bottom. */
export function Shell({ dark, toggleTheme, children }: Props) {
  const [help, setHelp] = useState(false);
  const [devices, setDevices] = useState(false);
  const showHelp = useCallback(() => setHelp(true), []);
  const changeUnits = useUnitsChange();
  useKeys(showHelp, changeUnits);
  return (
    <div className="shell">
      <ChainStrip />
      <main className="page">{children}</main>
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
        title="Devices"
        width={520}
        destroyOnHidden
      >
        <Devices />
      </Modal>
    </div>
  );
}

interface BarProps {
  dark: boolean;
  toggleTheme: () => void;
  changeUnits: () => void;
  showHelp: () => void;
  showDevices: () => void;
}

function ActionBar({ dark, toggleTheme, changeUnits, showHelp, showDevices }: BarProps) {
  const { unitOf } = useUnits();
  const { where, actions } = useActions();
  const main = actions.find((a) => a.main && !a.inPage);
  return (
    <footer className="actions">
      <div className="where">{where}</div>
      <Link to="/practice" className="act" style={{ textDecoration: "none" }}>
        Practice <Key>7</Key>
      </Link>
      {actions
        .filter((a) => !a.main && !a.inPage)
        .map((a) => (
          <button key={a.key} className="act" onClick={a.run} disabled={a.disabled}>
            {a.label} <Key>{a.key}</Key>
          </button>
        ))}
      <button
        className="icon-act"
        onClick={toggleTheme}
        aria-label={dark ? "Light paper" : "Dark bench"}
        title={dark ? "Light paper" : "Dark bench"}
      >
        <svg width="17" height="17" viewBox="0 0 17 17" fill="none" stroke="currentColor" strokeWidth="1.5">
          <circle cx="8.5" cy="8.5" r="6" />
          <path d="M8.5 2.5a6 6 0 0 1 0 12Z" fill="currentColor" />
        </svg>
      </button>
      <button
        className="icon-act units"
        onClick={changeUnits}
        aria-label={`Units: ${unitOf("mass")}, ${unitOf("heat")}`}
        title="Units (U)"
      >
        {unitOf("mass")} {unitOf("heat")}
      </button>
      <button className="icon-act" onClick={showDevices} aria-label="Devices" title="Devices: phones and tablets">
        <svg width="17" height="17" viewBox="0 0 17 17" fill="none" stroke="currentColor" strokeWidth="1.5">
          <rect x="4.5" y="1.5" width="8" height="14" rx="1.8" />
          <path d="M7.5 13h2" />
        </svg>
      </button>
      <button
        className="icon-act"
        onClick={showHelp}
        aria-label="Keyboard shortcuts and back-up"
        title="Keyboard shortcuts and back-up"
      >
        <Key>?</Key>
      </button>
      {main && (
        <button className="main-act" onClick={main.run} disabled={main.disabled}>
          {main.label} <Key>{main.key}</Key>
        </button>
      )}
    </footer>
  );
}

function Toast() {
  const { told, undo } = useActions();
  if (!told) return null;
  return (
    <div className="toast" role="status">
      {told.words}
      {told.undo && <button onClick={undo}>Undo (Z)</button>}
    </div>
  );
}

function AllKeys({ open, close }: { open: boolean; close: () => void }) {
  const { actions } = useActions();
  const everywhere: [string, string][] = [
    ...STATIONS.map((s) => [s.key, s.name] as [string, string]),
    ["Space", "the main action"],
    ["N", "a new pass: plan it"],
    ["U", "Units"],
    ["Z", "Undo"],
    ["Shift+Z", "Redo"],
    ["?", "Keyboard shortcuts"],
  ];
  return (
    <Modal open={open} onCancel={close} footer={null} title="Keys and back-up" width={600} destroyOnHidden>
      <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: "0 36px" }}>
        <KeyList title="Everywhere" keys={everywhere} />
        <KeyList title="Here" keys={actions.map((a) => [a.key, a.label])} />
      </div>
      <BackUp />
    </Modal>
  );
}

function KeyList({ title, keys }: { title: string; keys: [string, string][] }) {
  return (
    <section>
      <h3 className="quiet" style={{ margin: "6px 0" }}>
        {title}
      </h3>
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
