import { describe, expect, it, vi } from "vitest";
import { dayAndTime, dayOfDate, fullDate } from "../src/ui/dates";

const NOW = new Date(2026, 11, 2, 9, 0);
const at = (...date: [number, number, number, number, number]) => new Date(...date).toISOString();
const inLanguage = (language: string, look: () => void) => {
  vi.stubGlobal("navigator", { language });
  look();
  vi.unstubAllGlobals();
};

describe("a date", () => {
  it("is as far from today as it helps to say, by the device's language", () => {
    inLanguage("en-GB", () => {
      expect(dayAndTime(at(2026, 11, 2, 7, 24), NOW)).toBe("today 7:24");
      expect(dayAndTime(at(2026, 11, 1, 7, 24), NOW)).toBe("yesterday 7:24");
      expect(dayOfDate(at(2026, 10, 27, 7, 24), NOW)).toMatch(/^Fri,? 27 Nov$/);
      expect(dayAndTime(at(2026, 2, 3, 7, 24), NOW)).toBe("3 Mar 2026");
      expect(fullDate(at(2026, 2, 3, 7, 24))).toBe("3 Mar 2026 7:24");
    });
    inLanguage("de", () => expect(dayAndTime(at(2026, 11, 1, 7, 24), NOW)).toBe("gestern 7:24"));
    inLanguage("en-US", () => expect(dayAndTime(at(2026, 11, 2, 7, 24), NOW)).toMatch(/^today 7:24.AM$/));
  });
});
