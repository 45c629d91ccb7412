// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { ApiError } from "../src/api/client";
import { Choice } from "../src/ui/Choice";
import { isBeside, QueryBoundary, Setting, settingText, Trouble, troubleWith, Typed } from "../src/ui/parts";
import { useLastGood } from "../src/ui/useLastGood";
import { useSettled } from "../src/ui/useSettled";
import { useTyping } from "../src/ui/useTyping";

afterEach(cleanup);
const refusal = (field: string | null) => new ApiError(422, "malformed", "The dose is text.", "Type grams.", field);

describe("a field", () => {
  it("is named by its label and says its trouble to whoever hears it", () => {
    render(<Typed label="Coffee" value="x" onChange={() => undefined} unit="g" trouble="Type grams." />);
    const field = screen.getByLabelText<HTMLInputElement>("Coffee");
    expect(field.getAttribute("aria-invalid")).toBe("true");
    expect(document.getElementById(field.getAttribute("aria-describedby")!)?.textContent).toBe("Type grams.");
  });

  it("gives the keys back to the station on Enter, and in a form leaves Enter to it", () => {
    const field = <Typed label="Coffee" value="18" onChange={() => undefined} />;
    const { rerender } = render(field);
    screen.getByLabelText("Coffee").focus();
    fireEvent.keyDown(screen.getByLabelText("Coffee"), { key: "Enter" });
    expect(document.activeElement).toBe(document.body);
    rerender(<form>{field}</form>);
    screen.getByLabelText("Coffee").focus();
    fireEvent.keyDown(screen.getByLabelText("Coffee"), { key: "Enter" });
    expect(document.activeElement).toBe(screen.getByLabelText("Coffee"));
  });

  it("takes over what was typed when typing ends, keeps what it refuses, and gives up on Escape", () => {
    const take = vi.fn();
    const { result } = renderHook(() => useTyping("2:20", take, (text) => text.includes("x")));
    const type = (value: string) => act(() => result.current.field.onChange({ target: { value } } as never));
    type("2:3x");
    act(() => result.current.field.onBlur());
    expect([result.current.wrong, result.current.field.value, take.mock.calls.length]).toEqual([true, "2:3x", 0]);
    act(() => result.current.field.onKeyDown({ key: "Escape" } as never));
    expect(result.current.field.value).toBe("2:20");
    type(" 2:40 ");
    act(() => result.current.field.onBlur());
    expect(take.mock.calls).toEqual([["2:40"]]);
    // What is as it was is not taken over again.
    type("2:20");
    act(() => result.current.field.onBlur());
    expect(take).toHaveBeenCalledOnce();
  });
});

describe("a choice", () => {
  function Liked({ seen }: { seen: (value: number) => void }) {
    const [value, setValue] = useState<number>();
    const options = [1, 2, 3].map((v) => ({ value: v, label: `${v} of 3`, disabled: v === 3 }));
    return <Choice label="How much" options={options} value={value} choose={(v) => (setValue(v), seen(v))} />;
  }

  it("is a group of radio buttons that hands on the value itself, not its text", () => {
    const seen = vi.fn();
    render(<Liked seen={seen} />);
    const buttons = screen.getAllByRole<HTMLInputElement>("radio");
    expect(screen.getByRole("radiogroup").getAttribute("aria-label")).toBe("How much");
    // One name makes the arrow keys go from one to the next.
    expect(new Set(buttons.map((b) => b.name)).size).toBe(1);
    expect(buttons.map((b) => [b.checked, b.disabled])).toEqual([
      [false, false],
      [false, false],
      [false, true],
    ]);
    fireEvent.click(screen.getByLabelText("2 of 3"));
    expect(seen.mock.calls).toEqual([[2]]);
    expect(buttons.map((b) => b.checked)).toEqual([false, true, false]);
  });
});

describe("what went wrong", () => {
  it("is said with its remedy, and can be tried again", () => {
    const retry = vi.fn();
    render(<Trouble error={refusal(null)} retry={retry} />);
    expect(screen.getByRole("alert").textContent).toContain("The dose is text. Type grams.");
    fireEvent.click(screen.getByText("Try again"));
    expect(retry).toHaveBeenCalledOnce();
  });

  it("is shown at its field, also where the field lies within a part of what was sent", () => {
    expect(troubleWith(refusal("dose_g"), "dose_g")).toBe("The dose is text. Type grams.");
    expect(troubleWith(refusal("steep.dose_g"), "dose_g")).not.toBeNull();
    expect(troubleWith(refusal("overdose_g"), "dose_g")).toBeNull();
    expect(troubleWith(new Error("lost"), "dose_g")).toBeNull();
    expect(isBeside(refusal("ratio"), ["dose_g", "ratio"])).toBe(true);
    expect(isBeside(refusal("water_c"), ["dose_g", "ratio"])).toBe(false);
  });

  it("takes the place of what cannot be shown, and nothing else does", () => {
    const boundary = (error: unknown, isPending: boolean) => (
      <QueryBoundary query={{ error, isPending, refetch: () => undefined }}>grounds</QueryBoundary>
    );
    const { rerender, container } = render(boundary(null, false));
    expect(container.textContent).toBe("grounds");
    rerender(boundary(null, true));
    expect(screen.getByRole("status").textContent).toContain("Fetching");
    rerender(boundary(refusal(null), true));
    expect(screen.getByRole("alert")).toBeTruthy();
    expect(container.textContent).not.toContain("grounds");
  });
});

describe("what follows typing", () => {
  it("rests a moment, and shows the last good answer meanwhile", () => {
    vi.useFakeTimers();
    const settled = renderHook(({ text }) => useSettled(text, 250), { initialProps: { text: "1" } });
    for (const text of ["18", "18.", "18.5"]) {
      settled.rerender({ text });
      act(() => vi.advanceTimersByTime(200));
      expect(settled.result.current).toBe("1");
    }
    act(() => vi.advanceTimersByTime(60));
    expect(settled.result.current).toBe("18.5");
    vi.useRealTimers();
    const last = renderHook(({ data }) => useLastGood(data), { initialProps: { data: 1 as number | undefined } });
    last.rerender({ data: undefined });
    expect(last.result.current).toBe(1);
    last.rerender({ data: 2 });
    expect(last.result.current).toBe(2);
  });
});

describe("a setting", () => {
  it.each([
    ["4 1/2", "4½"],
    ["3/4", "¾"],
    ["22", "22"],
    ["D8", "D8"],
    ["5 3/8", "5 3/8"],
    ["11/2", "11/2"],
  ])("%s is written %s, on the page and in a title", (value, shown) => {
    const { container } = render(<Setting value={value} />);
    expect(container.textContent).toBe(shown);
    expect(settingText(value)).toBe(shown);
  });
});
