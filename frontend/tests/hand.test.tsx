// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

let sent: { what: string; step?: number | null; at_s?: number | null }[];
let answer: "away" | "refused" | "trouble" | "taken";

vi.stubGlobal("fetch", async (request: Request) => {
  if (answer === "away") throw new TypeError("the server is away");
  sent.push(await request.clone().json());
  const refusal = { code: "not-now", message: "That step is over.", remedy: "Go on." };
  const status = { refused: 409, trouble: 503 }[answer as string];
  return status
    ? new Response(JSON.stringify(refusal), { status, headers: { "Content-Type": "application/json" } })
    : new Response("{}", { status: 200, headers: { "Content-Type": "application/json" } });
});
const { useHand } = await import("../src/stations/brew/useHand");
const { noteAnswer } = await import("../src/api/reach");
const { ActionsProvider, useActions } = await import("../src/app/actions");

function Within({ children }: { children: ReactNode }) {
  return (
    <QueryClientProvider client={new QueryClient()}>
      <ActionsProvider>{children}</ActionsProvider>
    </QueryClientProvider>
  );
}
const hand = () =>
  renderHook(() => ({ hand: useHand(3, () => undefined), actions: useActions() }), { wrapper: Within }).result;
const done = (step: number, at_s: number) => ({ what: "done" as const, step, at_s });
const settle = () => act(() => new Promise((resolve) => setTimeout(resolve, 30)));
const heardAgain = async () => {
  act(() => noteAnswer(new Response()));
  await settle();
};

beforeEach(() => {
  [sent, answer] = [[], "taken"];
  localStorage.clear();
});
afterEach(cleanup);

describe("a tap", () => {
  it("goes to the server at once, which has the only clock", async () => {
    const { current } = hand();
    await act(() => current.hand.tap(done(0, 12)));
    expect(sent).toEqual([{ what: "done", step: 0, at_s: null }]);
    expect(localStorage.getItem("hakari.taps.3")).toBeNull();
  });

  it("waits with its time while the server is away, is there after a reload, and is sent in order", async () => {
    answer = "away";
    const first = hand();
    await act(() => first.current.hand.tap(done(0, 12), "Bloom, 0:12"));
    await act(() => first.current.hand.tap(done(1, 47), "Pour, 0:47"));
    expect(first.current.hand.waiting).toBe(2);
    cleanup();
    const reloaded = hand();
    expect(reloaded.current.hand.waiting).toBe(2);
    answer = "taken";
    await heardAgain();
    expect(sent).toEqual([done(0, 12), done(1, 47)]);
    expect(reloaded.current.hand.waiting).toBe(0);
  });

  it("that waits can be taken back before it is sent", async () => {
    answer = "away";
    const result = hand();
    await act(() => result.current.hand.tap(done(0, 12), "Bloom, 0:12"));
    await act(() => result.current.hand.tap(done(1, 47), "Pour, 0:47"));
    await act(async () => result.current.actions.undo());
    expect(result.current.hand.waiting).toBe(1);
    answer = "taken";
    await heardAgain();
    expect(sent).toEqual([done(0, 12)]);
  });

  it("that waits is not lost on a server in trouble, but sent again a little later", async () => {
    answer = "away";
    const result = hand();
    await act(() => result.current.hand.tap(done(0, 12)));
    answer = "trouble";
    await heardAgain();
    expect(result.current.hand.waiting).toBe(1);
    expect(localStorage.getItem("hakari.taps.3")).not.toBeNull();
    answer = "taken";
    await vi.waitFor(() => expect(result.current.hand.waiting).toBe(0), { timeout: 4000 });
    expect(sent).toEqual([done(0, 12), done(0, 12)]);
    expect(result.current.hand.error).toBeNull();
  });

  it("that is refused when it is sent at last is said and not tried again", async () => {
    answer = "away";
    const result = hand();
    await act(() => result.current.hand.tap(done(0, 12)));
    answer = "refused";
    await heardAgain();
    expect(result.current.hand.waiting).toBe(0);
    expect(result.current.hand.error).toMatchObject({ message: "That step is over." });
    expect(sent).toHaveLength(1);
  });
});
