import { Dropdown } from "antd";
import { Link, useNavigate } from "react-router-dom";
import { Key } from "../ui/parts";
import { useNarrow, useSmall } from "../ui/useMedia";
import { useUnits } from "../ui/useUnits";
import { useOffered, type Action } from "./actions";
import { WORDS } from "./words";

const TEXT = WORDS.actionBar;

interface Props {
  dark: boolean;
  toggleTheme: () => void;
  changeUnits: () => void;
  showHelp: () => void;
  showDevices: () => void;
}

/** What can be done here: all of it beside the main action; on a phone or an upright tablet the rest is a menu away. */
export function ActionBar(props: Props) {
  const { where, actions } = useOffered();
  const small = useSmall();
  const shown = actions.filter((a) => !a.inPage);
  const main = shown.find((a) => a.main);
  const others = shown.filter((a) => !a.main);
  return (
    <footer className="actions">
      {small ? (
        <InTheHand {...props} main={main} others={others} />
      ) : (
        <OnDesk {...props} where={where} others={others} />
      )}
      {main && (
        <button className="main-act" onClick={main.run} disabled={main.disabled && !main.waits} aria-busy={main.waits}>
          {main.label} <Key>{main.key}</Key>
        </button>
      )}
    </footer>
  );
}

/** How many other actions the bar of a phone and of a tablet shows beside the main one. */
const BESIDE_MAIN = { phone: 1, tablet: 3 };
const LONGEST_BESIDE = 16;

function InTheHand({
  dark,
  toggleTheme,
  changeUnits,
  showHelp,
  showDevices,
  main,
  others,
}: Props & { main?: Action; others: Action[] }) {
  const { unitOf } = useUnits();
  const navigate = useNavigate();
  const narrow = useNarrow();
  const room = (narrow ? BESIDE_MAIN.phone : BESIDE_MAIN.tablet) + (main ? 0 : 1);
  const fitting = main
    ? others.filter((a) => !narrow || a.label.length + main.label.length <= 2 * LONGEST_BESIDE)
    : others;
  const beside = fitting.slice(0, room);
  const rest = others.filter((a) => !beside.includes(a));
  return (
    <>
      <Dropdown
        trigger={["click"]}
        placement="topLeft"
        getPopupContainer={(button) => button.parentElement!}
        menu={{
          items: [
            ...rest.map((a) => ({ key: a.key, label: a.label, disabled: a.disabled, onClick: a.run })),
            ...(rest.length ? [{ type: "divider" as const }] : []),
            { key: "practice", label: TEXT.practice, onClick: () => void navigate("/practice") },
            { key: "theme", label: dark ? TEXT.lightPaper : TEXT.darkBench, onClick: toggleTheme },
            { key: "units", label: TEXT.units(unitOf("mass"), unitOf("heat")), onClick: changeUnits },
            { key: "devices", label: TEXT.devices, onClick: showDevices },
            { key: "help", label: TEXT.backUp, onClick: showHelp },
          ],
        }}
      >
        <button className="act more-act">{TEXT.more}</button>
      </Dropdown>
      {beside.map((a) => (
        <button key={a.key} className="act" onClick={a.run} disabled={a.disabled}>
          {a.label}
        </button>
      ))}
    </>
  );
}

function OnDesk({
  dark,
  toggleTheme,
  changeUnits,
  showHelp,
  showDevices,
  where,
  others,
}: Props & { where: React.ReactNode; others: Action[] }) {
  const { unitOf } = useUnits();
  return (
    <>
      <div className="where">{where}</div>
      <Link to="/practice" className="act plain">
        {TEXT.practice} <Key>7</Key>
      </Link>
      {others.map((a) => (
        <button key={a.key} className="act" onClick={a.run} disabled={a.disabled}>
          {a.label} <Key>{a.key}</Key>
        </button>
      ))}
      <button
        className="icon-act"
        onClick={toggleTheme}
        aria-label={dark ? TEXT.lightPaper : TEXT.darkBench}
        title={dark ? TEXT.lightPaper : TEXT.darkBench}
      >
        <svg width="17" height="17" viewBox="0 0 17 17" fill="none" stroke="currentColor" strokeWidth="1.5">
          <circle cx="8.5" cy="8.5" r="6" />
          <path d="M8.5 2.5a6 6 0 0 1 0 12Z" fill="currentColor" />
        </svg>
      </button>
      <button
        className="icon-act units"
        onClick={changeUnits}
        aria-label={TEXT.units(unitOf("mass"), unitOf("heat"))}
        title={TEXT.unitsU}
      >
        {unitOf("mass")} {unitOf("heat")}
      </button>
      <button className="icon-act" onClick={showDevices} aria-label={TEXT.devices} title={TEXT.devicesPhonesAndTablets}>
        <svg width="17" height="17" viewBox="0 0 17 17" fill="none" stroke="currentColor" strokeWidth="1.5">
          <rect x="4.5" y="1.5" width="8" height="14" rx="1.8" />
          <path d="M7.5 13h2" />
        </svg>
      </button>
      <button
        className="icon-act"
        onClick={showHelp}
        aria-label={TEXT.keyboardShortcutsAndBackUp}
        title={TEXT.keyboardShortcutsAndBackUp}
      >
        <Key>?</Key>
      </button>
    </>
  );
}
