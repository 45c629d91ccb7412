// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

const uploadPhotos = vi.fn();
const measured = vi.fn();
const keepForLater = vi.fn();
vi.mock("../src/api/measurements", () => ({ uploadPhotos, measured }));
vi.mock("../src/api/photosWaiting", () => ({ keepForLater }));
vi.stubGlobal(
  "fetch",
  async () => new Response("{}", { status: 200, headers: { "Content-Type": "application/json" } }),
);
const { ApiError } = await import("../src/api/client");
const { ActionsProvider, useTold } = await import("../src/app/actions");
const { useUpload } = await import("../src/stations/measure/upload");

const Within = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={new QueryClient()}>
    <ActionsProvider>{children}</ActionsProvider>
  </QueryClientProvider>
);
const begun = () => renderHook(() => ({ upload: useUpload(), said: useTold()?.words }), { wrapper: Within }).result;
const photos = (...names: string[]) => names.map((name) => new File(["grounds"], name));
const settle = () => act(() => new Promise((resolve) => setTimeout(resolve, 10)));
const away = new ApiError(0, "no-server", "The photos did not arrive.", "Send them again.", null);
const photo = (error: object | null) => ({ file_name: "a.jpg", state: error ? "refused" : "done", error });

beforeEach(() => {
  [uploadPhotos, measured, keepForLater].forEach((f) => f.mockReset());
  uploadPhotos.mockResolvedValue({ id: 1, finished: false, photos: [] });
  measured.mockResolvedValue({ id: 1, finished: true, sample_id: 4, photos: [photo(null)] });
});
afterEach(cleanup);

describe("sending photos", () => {
  it("ends with the sample that they became", async () => {
    const result = begun();
    act(() => result.current.upload.send({ files: photos("a.jpg"), sample: 3 }));
    expect(result.current.upload.state.stage).toBe("sending");
    await settle();
    expect(uploadPhotos.mock.calls[0]![1]).toMatchObject({ scale: "card", sample_id: "3" });
    expect([result.current.upload.state.stage, result.current.upload.sampleId]).toEqual(["idle", 4]);
  });

  it("says which of several could not be used, and keeps the sample of the others", async () => {
    const wrong = { code: "no-card", message: "No card.", remedy: "Show it.", field: null };
    measured.mockResolvedValue({ id: 1, finished: true, sample_id: 4, photos: [photo(null), photo(wrong)] });
    const result = begun();
    act(() => result.current.upload.send({ files: photos("a.jpg", "b.jpg") }));
    await settle();
    expect(result.current.said).toBe("1 of 2 photos could not be used");
    expect(result.current.upload.refused).toHaveLength(1);
    expect(result.current.upload.sampleId).toBe(4);
  });

  it("shows why none could be used, and nothing of it stays after that", async () => {
    const wrong = { code: "no-card", message: "No card.", remedy: "Show it.", field: null };
    measured.mockResolvedValue({ id: 1, finished: true, sample_id: null, error: wrong, photos: [photo(wrong)] });
    const result = begun();
    act(() => result.current.upload.send({ files: photos("a.jpg") }));
    await settle();
    expect(result.current.upload.state).toMatchObject({
      stage: "refused",
      error: { message: "No card.", code: "no-card" },
    });
    act(() => result.current.upload.clear());
    expect(result.current.upload.state.stage).toBe("idle");
    expect(result.current.upload.last?.files).toHaveLength(1); // to be tried with another scale
  });

  it("lets them wait on the device while the server is away, where the device can keep them", async () => {
    uploadPhotos.mockRejectedValue(away);
    keepForLater.mockResolvedValue(true);
    const result = begun();
    act(() => result.current.upload.send({ files: photos("a.jpg", "b.jpg") }));
    await settle();
    expect(keepForLater).toHaveBeenCalledOnce();
    expect([result.current.upload.state.stage, result.current.said]).toEqual([
      "idle",
      "The photos wait on this device",
    ]);
    keepForLater.mockResolvedValue(false);
    act(() => result.current.upload.send({ files: photos("a.jpg") }));
    await settle();
    expect(result.current.upload.state).toMatchObject({ stage: "refused", error: away });
  });

  it("does not send twice what the server has already, when it goes away while measuring", async () => {
    measured.mockRejectedValue(away);
    const result = begun();
    act(() => result.current.upload.send({ files: photos("a.jpg") }));
    await settle();
    expect(keepForLater).not.toHaveBeenCalled();
    expect(result.current.upload.state.stage).toBe("refused");
  });
});
