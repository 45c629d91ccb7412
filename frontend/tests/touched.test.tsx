// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { describe, expect, it } from "vitest";
import { keyOf, useRefresh, useRephrase, useTouched } from "../src/api/touched";

type Topic = Parameters<typeof keyOf>[0];
type Resource = Parameters<typeof useTouched>[0];

const ASKED: Topic[] = [
  "workbenches", "samples", "distributions", "grinders", "translations", "guide", "setting-cards", "recipes", "methods",
  "plans", "brews", "fits", "slips", "learning", "experiments", "drills", "devices", "coffees",
]; // prettier-ignore
const PREDICTED: Topic[] = ["plan-previews", "plan-matches", "cup-previews"];
const STAYING: Topic[] = ["drafts", "outlines", "scales", "this-device"];

/** Which of everything that was asked for is asked for again. */
async function againAfter(hook: () => (answer: string) => Promise<unknown>): Promise<Topic[]> {
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  for (const topic of [...ASKED, ...PREDICTED, ...STAYING]) queries.setQueryData(keyOf(topic, 7), "known");
  await renderHook(hook, { wrapper }).result.current("answer");
  return queries
    .getQueryCache()
    .getAll()
    .filter((q) => q.state.isInvalidated)
    .map((q) => q.queryKey[0] as Topic);
}

const after = (resource: Resource) => againAfter(() => useTouched(resource));

describe("what a write asks for again", () => {
  it.each<[Resource, Topic[], Topic[]]>([
    ["recipes", ["recipes"], ["plans", "samples", "grinders", "slips"]],
    ["devices", ["devices"], ["plans", "samples", "grinders", "slips"]],
    // A photo becomes a point of a curve, by which settings are read and plans are predicted.
    ["samples", ["samples", "distributions", "grinders", "translations", "plans"], ["slips", "learning", "devices"]],
    [
      "grinders",
      ["grinders", "translations", "guide", "setting-cards", "samples", "plans"],
      ["learning", "distributions"],
    ],
    // A brew fits the flow, which the next prediction rests on; it changes nothing of grinders and photos.
    ["brews", ["brews", "plans", "fits", "slips", "learning"], ["samples", "grinders", "distributions", "methods"]],
    ["slips", ["slips", "learning", "plans", "fits", "grinders"], ["distributions", "devices", "methods"]],
    ["windows", ["guide", "translations", "methods", "samples"], ["brews", "slips", "distributions"]],
  ])("of %s is what it changes", async (resource, changed, unchanged) => {
    const again = await after(resource);
    expect(again).toEqual(expect.arrayContaining(["workbenches", ...changed]));
    expect(again.filter((topic) => unchanged.includes(topic))).toEqual([]);
  });

  it("never is what is being typed, nor what belongs to a photo for good", async () => {
    for (const resource of ["samples", "workbenches", "slips"] as const)
      expect((await after(resource)).filter((t) => STAYING.includes(t))).toEqual([]);
  });

  it("are predictions where curves or brews changed, not where another grind, which they name, is on the bench", async () => {
    for (const resource of ["samples", "grinders", "brews", "learning"] as const)
      expect(await after(resource)).toEqual(expect.arrayContaining(PREDICTED));
    for (const resource of ["workbenches", "recipes", "devices"] as const)
      expect((await after(resource)).filter((t) => PREDICTED.includes(t))).toEqual([]);
  });

  it("hands the answer on", async () => {
    const queries = new QueryClient();
    const wrapper = ({ children }: { children: ReactNode }) => (
      <QueryClientProvider client={queries}>{children}</QueryClientProvider>
    );
    await expect(renderHook(() => useTouched("plans"), { wrapper }).result.current({ id: 3 })).resolves.toEqual({
      id: 3,
    });
  });

  it("is everything in words where the units change", async () => {
    const again = await againAfter(() => useRephrase());
    expect(again).toEqual(expect.arrayContaining([...ASKED, ...PREDICTED]));
    expect(again).not.toContain("drafts");
  });

  it("is everything but what is typed where another counter's work is shown", async () => {
    const again = await againAfter(() => useRefresh());
    expect(again).toEqual(expect.arrayContaining(ASKED));
    expect(again).not.toContain("drafts");
    expect(again).not.toContain("outlines");
  });
});
