// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

/** What the device keeps. */
const kept = new Map<string, unknown>();
let full = false;
vi.mock("idb-keyval", () => ({
  createStore: () => "store",
  entries: async () => [...kept.entries()].sort(([a], [b]) => a.localeCompare(b)),
  set: async (key: string, value: unknown) => {
    if (full) throw new Error("no room");
    kept.set(key, value);
  },
  del: async (key: string) => void kept.delete(key),
}));
const uploadPhotos = vi.fn();
const measured = vi.fn();
vi.mock("../src/api/measurements", () => ({ uploadPhotos, measured }));
vi.stubGlobal("fetch", async () => new Response("{}"));
const { ApiError } = await import("../src/api/client");
const { noteAnswer, noteAway } = await import("../src/api/reach");
const { keepForLater, usePhotosWaiting, useSendingWaitingPhotos } = await import("../src/api/photosWaiting");

const photos = (...names: string[]) => names.map((name) => new File(["grounds"], name));
const settle = () => act(() => new Promise((resolve) => setTimeout(resolve, 15)));
const away = new ApiError(0, "no-server", "The photos did not arrive.", "Send them again.", null);
const refusal = new ApiError(422, "not-a-picture", "This file is not a picture.", "Use a JPEG.", null);
const then = vi.fn();
const page = () => {
  const view = renderHook(() => (useSendingWaitingPhotos(then), usePhotosWaiting()));
  return view.result;
};
const namesSent = () => uploadPhotos.mock.calls.map(([files]) => (files as File[]).map((f) => f.name).join());

beforeEach(async () => {
  kept.clear();
  full = false;
  [uploadPhotos, measured, then].forEach((f) => f.mockReset());
  uploadPhotos.mockImplementation(async () => ({ id: 1, finished: false }));
  measured.mockImplementation(async (job) => ({ ...job, finished: true }));
  act(() => noteAway());
});
afterEach(cleanup);

describe("photos that could not be sent", () => {
  it("are counted, and go in the order in which they were taken as soon as the server is heard", async () => {
    const result = page();
    await act(() => keepForLater(photos("a.jpg", "b.jpg"), { scale: "card" }));
    await new Promise((resolve) => setTimeout(resolve, 5));
    await act(() => keepForLater(photos("c.jpg"), { scale: "card", sample_id: "4" }));
    await settle();
    expect([result.current.photos, uploadPhotos.mock.calls.length]).toEqual([3, 0]);
    act(() => noteAnswer(new Response()));
    await settle();
    expect(namesSent()).toEqual(["a.jpg,b.jpg", "c.jpg"]);
    expect(uploadPhotos.mock.calls[1]![1]).toEqual({ scale: "card", sample_id: "4" });
    expect([then.mock.calls.length, result.current.photos, kept.size]).toEqual([2, 0, 0]);
  });

  it("are still there after a reload", async () => {
    await keepForLater(photos("a.jpg"), {});
    const result = page();
    await settle();
    expect(result.current.photos).toBe(1);
  });

  it("stay when the server is away again, and none is sent twice", async () => {
    const result = page();
    await act(() => keepForLater(photos("a.jpg"), {}));
    uploadPhotos.mockRejectedValueOnce(away);
    act(() => noteAnswer(new Response()));
    await settle();
    expect([result.current.photos, then.mock.calls.length]).toEqual([1, 0]);
    act(() => noteAway());
    act(() => noteAnswer(new Response()));
    await settle();
    expect([result.current.photos, then.mock.calls.length, uploadPhotos.mock.calls.length]).toEqual([0, 1, 2]);
  });

  it("that the server will not have say why, hold the others up no longer, and can be discarded", async () => {
    const result = page();
    await act(() => keepForLater(photos("bad.txt"), {}));
    await new Promise((resolve) => setTimeout(resolve, 5));
    await act(() => keepForLater(photos("good.jpg"), {}));
    uploadPhotos.mockRejectedValueOnce(refusal);
    act(() => noteAnswer(new Response()));
    await settle();
    expect(namesSent()).toEqual(["bad.txt", "good.jpg"]);
    expect(result.current).toMatchObject({ photos: 1, refused: "This file is not a picture. Use a JPEG." });
    act(() => result.current.discard());
    await settle();
    expect([result.current.photos, result.current.refused, kept.size]).toEqual([0, undefined, 0]);
  });

  it("are on the server's disk once sent, though their measuring is not followed to its end", async () => {
    const result = page();
    await act(() => keepForLater(photos("a.jpg"), {}));
    measured.mockRejectedValue(away);
    act(() => noteAnswer(new Response()));
    await settle();
    expect([result.current.photos, kept.size, then.mock.calls.length]).toEqual([0, 0, 0]);
  });

  it("that this device has no room for are said so", async () => {
    full = true;
    expect(await keepForLater(photos("a.jpg"), {})).toBe(false);
    expect(page().current.photos).toBe(0);
  });
});
