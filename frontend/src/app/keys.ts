import { useEffect } from "react";
import { useNavigate } from "react-router-dom";
import { useActions } from "./actions";
import { STATIONS } from "./stations";

/** A control that was reached by Tab keeps its Space; one that was only clicked does not hold the main action up. */
let tabbed = false;
window.addEventListener("pointerdown", () => (tabbed = false), true);
window.addEventListener("keydown", (event) => event.key === "Tab" && (tabbed = true), true);

/** Whether a key belongs to what has the focus: typing, or a control that Space works. */
function taken(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  if (!target) return false;
  if (
    target.closest("input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable=true], [role=dialog]")
  )
    return true;
  return (
    event.key === " " &&
    tabbed &&
    Boolean(target.closest("button, a, input, [role=button], [role=slider], [role=radio]"))
  );
}

const OF_LISTS = [" ", "Enter", "Tab", "Escape", "ArrowUp", "ArrowDown", "Shift"];

/** Whether the focus is on a closed list, which needs only the keys that open it; it would open at any letter. */
function offClosedList(event: KeyboardEvent): boolean {
  const list = (event.target as HTMLElement | null)?.closest(".ant-select");
  return Boolean(list && !list.classList.contains("ant-select-open") && !OF_LISTS.includes(event.key));
}

/** The keys of the whole application; a station's own never shadow them. */
export function useKeys(showHelp: () => void, changeUnits: () => void, newPass: () => void) {
  const navigate = useNavigate();
  const { press, undo, redo } = useActions();
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (offClosedList(event)) event.stopPropagation();
      else if (event.eventPhase === Event.CAPTURING_PHASE || taken(event)) return;
      const station = STATIONS.find((s) => s.key === event.key);
      if (station) navigate(station.path);
      else if (event.key === "?") showHelp();
      else if (event.key.toLowerCase() === "z") (event.shiftKey ? redo : undo)();
      else if (event.key.toLowerCase() === "u") changeUnits();
      else if (event.key.toLowerCase() === "n") newPass();
      else if (!press(event.key === " " ? "Space" : event.key)) return;
      event.preventDefault();
    }
    document.addEventListener("keydown", onKey, true);
    window.addEventListener("keydown", onKey);
    return () => {
      document.removeEventListener("keydown", onKey, true);
      window.removeEventListener("keydown", onKey);
    };
  }, [press, navigate, showHelp, changeUnits, newPass, undo, redo]);
}
