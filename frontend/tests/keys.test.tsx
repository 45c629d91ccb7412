// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useEffect } from "react";
import { MemoryRouter, useLocation } from "react-router-dom";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ActionsProvider, useActions } from "../src/app/actions";
import { useKeys } from "../src/app/keys";

const help = vi.fn();
const units = vi.fn();
const newPass = vi.fn();
const brew = vi.fn();
const clicked = vi.fn();
const undo = vi.fn();
const redo = vi.fn();

function Page() {
  useKeys(help, units, newPass);
  const { offer, notify } = useActions();
  useEffect(
    () =>
      offer([
        { key: "Space", label: "Brew", run: brew, main: true },
        { key: "x", label: "Leave out", run: () => notify("Left out.", undo, redo) },
        { key: "d", label: "Never", run: brew, disabled: true },
      ]),
    [offer, notify],
  );
  return (
    <>
      <output>{useLocation().pathname}</output>
      <input aria-label="Dose" />
      <input type="checkbox" aria-label="Rinse" />
      <button onClick={clicked}>Add</button>
      <div role="dialog">
        <button>Close</button>
      </div>
      <div className="ant-select">
        <input type="checkbox" aria-label="Coffee" />
      </div>
    </>
  );
}

const where = () => screen.getByRole("status").textContent;
/** Press a key; whether the application took it. */
const press = (key: string, on: Element = document.body, more: object = {}) => !fireEvent.keyDown(on, { key, ...more });

beforeEach(() => {
  [help, units, newPass, brew, clicked, undo, redo].forEach((f) => f.mockReset());
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter initialEntries={["/brew"]}>
        <ActionsProvider>
          <Page />
        </ActionsProvider>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  fireEvent.pointerDown(document.body);
});
afterEach(cleanup);

describe("keys of the whole application", () => {
  it.each([
    ["1", "/measure"], ["2", "/grinders"], ["3", "/plan"], ["4", "/brew"], ["5", "/cup"], ["6", "/slips"],
    ["7", "/practice"],
  ])("%s opens %s", (key, path) => {
    press(key);
    expect(where()).toBe(path);
  }); // prettier-ignore

  it("begin another pass", () => {
    press("n");
    press("N");
    expect(newPass).toHaveBeenCalledTimes(2);
  });

  it("open help and change the units", () => {
    press("?", document.body, { shiftKey: true });
    press("u");
    expect([help.mock.calls.length, units.mock.calls.length]).toEqual([1, 1]);
  });

  it("undo and redo, one after the other", async () => {
    press("x");
    press("z");
    await act(async () => undefined);
    expect([undo.mock.calls.length, redo.mock.calls.length]).toEqual([1, 0]);
    press("Z", document.body, { shiftKey: true });
    await act(async () => undefined);
    expect([undo.mock.calls.length, redo.mock.calls.length]).toEqual([1, 1]);
  });

  it("leave the browser its own, and what they do not know", () => {
    for (const held of [{ ctrlKey: true }, { metaKey: true }, { altKey: true }]) press("3", document.body, held);
    expect(where()).toBe("/brew");
    expect(press("q")).toBe(false);
    expect(press("d")).toBe(false);
    expect(brew).not.toHaveBeenCalled();
  });
});

describe("keys while something has the focus", () => {
  it("are letters in a field and belong to an open dialog", () => {
    for (const on of [screen.getByLabelText("Dose"), screen.getByText("Close")])
      for (const key of ["3", "z", "?", " ", "x"]) expect(press(key, on)).toBe(false);
    expect(where()).toBe("/brew");
    expect([help, brew, undo].some((f) => f.mock.calls.length)).toBe(false);
  });

  it("work beside a box to tick and a button, except Space where it was reached by Tab", () => {
    for (const on of [screen.getByLabelText("Rinse"), screen.getByText("Add")]) {
      brew.mockReset();
      fireEvent.pointerDown(on);
      expect(press(" ", on)).toBe(true);
      expect(brew).toHaveBeenCalledOnce();
      press("Tab", on);
      expect(press(" ", on)).toBe(false);
      expect(brew).toHaveBeenCalledOnce();
      press("3", on);
      expect(where()).toBe("/plan");
      press("4", on);
    }
  });

  it("do not open a closed list by a letter, and open one by the keys of lists", () => {
    const list = screen.getByLabelText("Coffee");
    const heard = vi.fn();
    list.addEventListener("keydown", heard);
    press("3", list);
    expect([where(), heard.mock.calls.length]).toEqual(["/plan", 0]);
    for (const key of ["ArrowDown", "Enter", "Escape"]) press(key, list);
    expect(heard).toHaveBeenCalledTimes(3);
    // An open list is searched by letters.
    list.closest(".ant-select")!.classList.add("ant-select-open");
    press("b", list);
    expect(heard).toHaveBeenCalledTimes(4);
  });
});
