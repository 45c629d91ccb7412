// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter, useLocation } from "react-router-dom";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError } from "../src/api/client";
import { ActionsProvider, useActions, useStationActions, useTold, type Action } from "../src/app/actions";
import { useKeys } from "../src/app/keys";

function Within({ children }: { children: ReactNode }) {
  return (
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter initialEntries={["/plan"]}>
        <ActionsProvider>{children}</ActionsProvider>
      </MemoryRouter>
    </QueryClientProvider>
  );
}

const station = (actions: Action[]) =>
  renderHook(
    () => {
      useStationActions("here", actions);
      useKeys(
        () => undefined,
        () => undefined,
        () => undefined,
      );
      return { ...useActions(), told: useTold(), at: useLocation().pathname };
    },
    { wrapper: Within },
  ).result;

const press = (key: string, target: Element = document.body) => act(() => fireEvent.keyDown(target, { key }));
const added = <Tag extends "input" | "button" | "div">(tag: Tag, attributes: Record<string, string> = {}) => {
  const element = document.body.appendChild(document.createElement(tag));
  Object.entries(attributes).forEach(([name, value]) => element.setAttribute(name, value));
  return element;
};

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  cleanup();
  document.body.innerHTML = "";
  vi.useRealTimers();
});

describe("undo", () => {
  it("takes the last thing back first, one after the other, and does it again in turn", async () => {
    const result = station([]);
    const log: string[] = [];
    const slowly = (word: string) => async () => {
      await new Promise((resolve) => setTimeout(resolve, 50));
      log.push(word);
    };
    act(() => result.current.notify("first", slowly("first back"), slowly("first again")));
    act(() => result.current.notify("second", slowly("second back"), slowly("second again")));
    await press("z");
    await press("z");
    await act(() => vi.advanceTimersByTimeAsync(200));
    expect(log).toEqual(["second back", "first back"]);
    expect(result.current.told?.words).toBe("Undone: first");
    await act(() => fireEvent.keyDown(document.body, { key: "Z", shiftKey: true }));
    await act(() => vi.advanceTimersByTimeAsync(100));
    expect(log.at(-1)).toBe("first again");
    // Each change is undone once.
    await press("z");
    await act(() => vi.advanceTimersByTimeAsync(100));
    expect(log.at(-1)).toBe("first back");
  });

  it("says what can no longer be taken back, and takes back what came before", async () => {
    const result = station([]);
    const before = vi.fn();
    act(() => result.current.notify("earlier", before));
    act(() =>
      result.current.notify("later", () => Promise.reject(new ApiError(409, "stale", "Changed.", "Look.", null))),
    );
    await press("z");
    await act(() => vi.advanceTimersByTimeAsync(1));
    expect(result.current.told?.words).toBe("Changed. Look.");
    await press("z");
    await act(() => vi.advanceTimersByTimeAsync(1));
    expect(before).toHaveBeenCalledOnce();
  });

  it("is offered for a while", async () => {
    const result = station([]);
    act(() => result.current.notify("done", () => undefined));
    await act(() => vi.advanceTimersByTimeAsync(7_900));
    expect(result.current.told?.words).toBe("done");
    await act(() => vi.advanceTimersByTimeAsync(200));
    expect(result.current.told).toBeNull();
  });
});

describe("the keys of a station", () => {
  const run = vi.fn();
  const off = vi.fn();
  const ACTIONS = [
    { key: "K", label: "Save", run },
    { key: "Space", label: "Brew", main: true, run: () => run("main") },
    { key: "D", label: "Delete", run: off, disabled: true },
  ];
  beforeEach(() => void [run, off].forEach((f) => f.mockClear()));

  it("do what can be done now, and the digits open stations", async () => {
    const result = station(ACTIONS);
    await press("k");
    await press("d");
    expect(run).toHaveBeenCalledOnce();
    expect(off).not.toHaveBeenCalled();
    await press("6");
    expect(result.current.at).toBe("/slips");
  });

  it("are letters while something is typed, and nothing in a dialog", async () => {
    station(ACTIONS);
    await press("k", added("input"));
    await press("k", added("div", { role: "dialog" }).appendChild(document.createElement("button")));
    expect(run).not.toHaveBeenCalled();
    await press("k", added("input", { type: "checkbox" }));
    await press("k", added("input", { type: "radio" }));
    expect(run).toHaveBeenCalledTimes(2);
  });

  it("leave Space to a control that was reached by Tab, not to one that was clicked", async () => {
    station(ACTIONS);
    const button = added("button");
    fireEvent.pointerDown(button);
    await press(" ", button);
    expect(run).toHaveBeenLastCalledWith("main");
    run.mockClear();
    await press("Tab", button);
    await press(" ", button);
    expect(run).not.toHaveBeenCalled();
  });

  it("reach the station past a closed list, which keeps the keys that open it", async () => {
    station(ACTIONS);
    const list = added("div", { class: "ant-select" }).appendChild(document.createElement("input"));
    await press("k", list);
    expect(run).toHaveBeenCalledOnce();
    await press("Enter", list);
    list.parentElement!.classList.add("ant-select-open");
    await press("k", list);
    expect(run).toHaveBeenCalledOnce();
  });
});
