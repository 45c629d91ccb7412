// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

interface Sent {
  method: string;
  address: string;
  body: { about: string; fields: { dose: string } } | null;
}
let sent: Sent[];
let away: boolean;
let kept: { about: string | null; fields: object | null };
let lasts: number;

// Before the modules that take hold of fetch.
vi.stubGlobal("fetch", async (asked: Request | string, options: RequestInit = {}) => {
  const request = typeof asked === "string" ? new Request(new URL(asked, "http://here"), options) : asked;
  if (away) throw new TypeError("the server is away");
  if (lasts) await new Promise((resolve) => setTimeout(resolve, lasts));
  const text = request.method === "PUT" ? await request.clone().text() : "";
  sent.push({ method: request.method, address: new URL(request.url).pathname, body: text ? JSON.parse(text) : null });
  if (request.method === "DELETE") return new Response(null, { status: 204 });
  return new Response(JSON.stringify(kept), { status: 200, headers: { "Content-Type": "application/json" } });
});
const { useDraft, sendUnsentDrafts } = await import("../src/api/drafts");

const writes = () => sent.filter((s) => s.method !== "GET");
function drafted(about = "plan 7") {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  return renderHook(() => useDraft<{ dose: string }>("plan", about), { wrapper }).result;
}
const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

beforeEach(() => {
  vi.useFakeTimers();
  [sent, away, kept, lasts] = [[], false, { about: null, fields: null }, 0];
  localStorage.clear();
});
afterEach(async () => {
  await pass(1000);
  cleanup();
  vi.useRealTimers();
});

describe("a draft", () => {
  it("is shown at once and sent when typing rests, the last state alone", async () => {
    const draft = drafted();
    await pass(10);
    for (const dose of ["1", "18", "18.5"]) act(() => draft.current.keep({ dose }));
    expect(draft.current.draft).toEqual({ dose: "18.5" });
    expect(writes()).toEqual([]);
    await pass(200);
    expect(writes().map((s) => s.body)).toEqual([
      expect.objectContaining({ about: "plan 7", fields: { dose: "18.5" } }),
    ]);
  });

  it("never gives way to an older one that was still on its way", async () => {
    lasts = 300;
    const draft = drafted();
    await pass(400);
    act(() => draft.current.keep({ dose: "18" }));
    await pass(200);
    act(() => draft.current.keep({ dose: "20" }));
    await pass(200);
    await act(async () => void draft.current.discard());
    await pass(1500);
    expect(writes().map((s) => s.body?.fields.dose ?? s.method)).toEqual(["18", "20", "DELETE"]);
  });

  it("of something else stays until something is typed here", async () => {
    kept = { about: "plan 6", fields: { dose: "15" } };
    const draft = drafted();
    await pass(10);
    expect(draft.current.draft).toBeNull();
    expect(draft.current.other).toEqual({ dose: "15" });
    act(() => draft.current.keep({ dose: "16" }));
    expect(draft.current.other).toBeNull();
  });

  it("waits on the device while the server is away, survives a reload, and is sent when it is heard", async () => {
    const draft = drafted();
    await pass(10);
    away = true;
    act(() => draft.current.keep({ dose: "17" }));
    await pass(300);
    expect(writes()).toEqual([]);
    const afterReload = drafted();
    await pass(10);
    expect(afterReload.current.draft).toEqual({ dose: "17" });
    away = false;
    sendUnsentDrafts();
    await pass(300);
    expect(writes().map((s) => s.body?.fields)).toEqual([{ dose: "17" }]);
    sendUnsentDrafts();
    await pass(300);
    expect(writes()).toHaveLength(1);
  });

  it("is gone for good when it is discarded before it was sent", async () => {
    const draft = drafted();
    await pass(10);
    act(() => draft.current.keep({ dose: "17" }));
    await act(async () => void draft.current.discard());
    await pass(500);
    expect(draft.current.draft).toBeNull();
    expect(writes().map((s) => s.method)).toEqual(["DELETE"]);
  });
});
