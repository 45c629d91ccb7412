import { describe, expect, it } from "vitest";
import { dialOf, draftOf, type Dial } from "../src/stations/grinders/dialDraft";

const DIALS: Dial[] = [
  { kind: "clicks", finer: "down", zero: "2", clicks_per_turn: 30, minimum: 0, maximum: 90 },
  { kind: "numbers", finer: "up", zero: null, minimum: 1, maximum: 11, parts: 3 },
  { kind: "stepless", finer: "down", zero: null, minimum: 0, maximum: 8, readable: 0.1 },
  { kind: "turns", finer: "down", zero: "0.0.2", numbers_per_turn: 10, clicks_per_number: 4, minimum: "0.0.0", maximum: "2.9.3" },
  { kind: "rings", finer: "down", zero: null, coarse: ["A", "B", "C"], fine: ["1", "2"], fine_span: 1 },
  { kind: "seconds", finer: "up", zero: null, minimum: 2, maximum: 45 },
]; // prettier-ignore

/** As the server reads what was typed. */
const read = (dial: Dial) =>
  Object.fromEntries(
    Object.entries(dial).map(([name, value]) =>
      typeof value === "string" && /^[\d.]+$/.test(value) && !["zero", "minimum", "maximum"].includes(name)
        ? [name, Number(value)]
        : dial.kind !== "turns" && ["minimum", "maximum"].includes(name)
          ? [name, Number(value)]
          : [name, value],
    ),
  );

describe("a dial that is typed", () => {
  it.each(DIALS)("of $kind comes back as it was", (dial) => {
    expect(read(dialOf(dial.kind, draftOf(dial), dial.finer as "up" | "down", dial.zero ?? ""))).toEqual(dial);
  });

  it("keeps what was typed of one kind while another is looked at", () => {
    const draft = draftOf(DIALS[0]);
    expect(dialOf("numbers", draft, "down", "").kind).toBe("numbers");
    expect(read(dialOf("clicks", draft, "down", "2"))).toEqual(DIALS[0]);
  });

  const labels = (text: string) => {
    const dial = dialOf(
      "rings",
      { ...draftOf(undefined), rings: { coarse: text, fine: "1–9", span: "1" } },
      "down",
      "",
    );
    return dial.kind === "rings" ? dial.coarse : [];
  };
  it("reads labels from letter to letter, number to number, or one by one", () => {
    expect(labels("A–D")).toEqual(["A", "B", "C", "D"]);
    expect(labels("b - d")).toEqual(["b", "c", "d"]);
    expect(labels("8-12")).toEqual(["8", "9", "10", "11", "12"]);
    expect(labels("I, II;III IV")).toEqual(["I", "II", "III", "IV"]);
    expect(labels("D–A")).toEqual([]);
    expect(labels("1–9999")).toHaveLength(60);
  });
});
