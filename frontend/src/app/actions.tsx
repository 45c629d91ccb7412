import { useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from "react";
import { ApiError } from "../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.actions;

/** One thing that can be done here and now, with its key. */
export interface Action {
  key: string;
  label: string;
  run: () => void;
  main?: boolean;
  disabled?: boolean;
  /** It waits for what is being calculated: a press in that moment is obeyed when that is done. */
  waits?: boolean;
  /** The page itself shows its button; the bar leaves it out and the key works. */
  inPage?: boolean;
}

interface Undoable {
  words: string;
  /** Typing in one field is one act: what comes soon after with the same name belongs to it. */
  act?: string;
  at?: number;
  undo?: () => Promise<unknown> | void;
  redo?: () => Promise<unknown> | void;
}

/** What the open station offers, as it is shown. */
interface Offered {
  where: ReactNode;
  actions: Action[];
}

/** Functions that stay the same, so that no component is drawn again for them. */
interface Actions {
  set: (where: ReactNode, actions: Action[]) => void;
  /** What the open station can do at this moment: keys go by this, which is never a render behind what is seen. */
  offer: (actions: Action[]) => void;
  /** Do what a key stands for now; false when it stands for nothing. */
  press: (key: string) => boolean;
  notify: (words: string, undo?: () => Promise<unknown> | void, redo?: () => Promise<unknown> | void) => void;
  /** Have an act that shows itself undone and redone, without a word about it. */
  remember: (act: string, words: string, undo: () => void, redo: () => void) => void;
  undo: () => void;
  redo: () => void;
}

const Context = createContext<Actions | null>(null);
const OfferedContext = createContext<Offered>({ where: null, actions: [] });
const ToldContext = createContext<Undoable | null>(null);
const TOLD_MS = 8000;
/** So soon after one another keys in one field are one act. */
const ONE_ACT_MS = 1500;

export function ActionsProvider({ children }: { children: ReactNode }) {
  const [shown, setShown] = useState<Offered>({ where: null, actions: [] });
  const [told, setTold] = useState<Undoable | null>(null);
  const offered = useRef<Action[]>([]);
  const pressed = useRef<string | null>(null);
  const offer = useCallback((a: Action[]) => {
    offered.current = a;
    const held = a.find((each) => each.key === pressed.current);
    if (held?.waits) return;
    pressed.current = null;
    // After the render that it was waited for, so that it sees what was calculated.
    if (held && !held.disabled) queueMicrotask(held.run);
  }, []);
  const press = useCallback((key: string) => {
    const action = offered.current.find((a) => a.key.toUpperCase() === key.toUpperCase() && (a.waits || !a.disabled));
    pressed.current = action?.waits ? action.key : null;
    if (!action?.waits) action?.run();
    return action !== undefined;
  }, []);
  const done = useRef<Undoable[]>([]);
  const undone = useRef<Undoable[]>([]);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const set = useCallback((where: ReactNode, actions: Action[]) => setShown({ where, actions }), []);
  const notify = useCallback(
    (words: string, undo?: () => Promise<unknown> | void, redo?: () => Promise<unknown> | void) => {
      const entry = { words, undo, redo };
      if (undo) {
        done.current.push(entry);
        undone.current = [];
      }
      setTold(entry);
    },
    [],
  );
  const remember = useCallback((act: string, words: string, undo: () => void, redo: () => void) => {
    const last = done.current.at(-1);
    const at = performance.now();
    undone.current = [];
    if (last?.act === act && at - (last.at ?? 0) < ONE_ACT_MS)
      done.current[done.current.length - 1] = { ...last, redo, at };
    else done.current.push({ words, undo, redo, act, at });
  }, []);
  // One that cannot be taken back any more says so, and the ones before it still can.
  const refused = useCallback(
    (error: unknown) =>
      setTold({ words: error instanceof ApiError ? `${error.message} ${error.remedy}` : TEXT.thatCouldNotBeDone }),
    [],
  );
  // Whatever a station does not show itself is still said.
  const queries = useQueryClient();
  useEffect(() => {
    const unheard = (event: PromiseRejectionEvent) => {
      if (!(event.reason instanceof ApiError)) return;
      event.preventDefault();
      refused(event.reason);
    };
    window.addEventListener("unhandledrejection", unheard);
    const stop = queries.getMutationCache().subscribe((event) => {
      if (event.type === "updated" && event.action.type === "error") refused(event.action.error);
    });
    return () => {
      window.removeEventListener("unhandledrejection", unheard);
      stop();
    };
  }, [queries, refused]);
  const undo = useCallback(() => {
    const last = done.current.pop();
    if (!last) return;
    if (last.redo) undone.current.push(last);
    // One after the other, however quickly the key is pressed.
    queue.current = queue.current
      .then(() => last.undo?.())
      .then(() => setTold({ words: TEXT.undone(last.words) }))
      .catch(refused);
  }, [refused]);
  const redo = useCallback(() => {
    const last = undone.current.pop();
    if (!last?.redo) return;
    done.current.push(last);
    queue.current = queue.current
      .then(() => last.redo?.())
      .then(() => setTold(last))
      .catch(refused);
  }, [refused]);
  useEffect(() => {
    if (!told) return;
    const timer = setTimeout(() => setTold(null), TOLD_MS);
    return () => clearTimeout(timer);
  }, [told]);
  const value = useMemo(
    () => ({ set, offer, press, notify, remember, undo, redo }),
    [set, offer, press, notify, remember, undo, redo],
  );
  return (
    <Context.Provider value={value}>
      <OfferedContext.Provider value={shown}>
        <ToldContext.Provider value={told}>{children}</ToldContext.Provider>
      </OfferedContext.Provider>
    </Context.Provider>
  );
}

export function useActions(): Actions {
  const found = useContext(Context);
  if (!found) throw new Error("useActions outside its provider");
  return found;
}

/** What the open station offers, to be shown. */
export const useOffered = () => useContext(OfferedContext);

/** What was done last, for as long as it is said. */
export const useTold = () => useContext(ToldContext);

/** What a station offers; shown in the action bar and bound to keys while the station is open. */
export function useStationActions(where: ReactNode, actions: Action[]) {
  const { set, offer, press } = useActions();
  useLayoutEffect(() => offer(actions));
  useLayoutEffect(() => () => offer([]), [offer]);
  // Functions change at every render; what is shown changes only with these words.
  const shown = JSON.stringify([
    typeof where === "string" ? where : "",
    actions.map((a) => [a.key, a.label, a.main, a.disabled, a.waits, a.inPage]),
  ]);
  useEffect(() => {
    set(
      where,
      actions.map((a) => ({ ...a, run: () => void press(a.key) })),
    );
    return () => set(null, []);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `shown` stands for where and actions
  }, [shown, set, press]);
}
