import { describe, expect, it } from "vitest";
import { CHOICES, keptFrom, METRIC, nextChoice, shownIn, writer } from "../src/ui/units";

const US = { mass: "oz", temperature: "F" } as const;

describe("units", () => {
  it("prints no more digits of a weight than were weighed", () => {
    expect([17, 17.5, 17.04].map(writer(METRIC).dose)).toEqual(["17 g", "17.5 g", "17 g"]);
  });

  it("writes ounces and °F by the table of a kitchen scale", () => {
    const w = writer(US);
    // 1 oz = 28.35 g, 8 oz = 226.8 g; 93 °C = 199.4 °F, 100 °C = 212 °F.
    expect([w.mass(28.35), w.mass(226.8), w.dose(17), w.heat(93), w.heat(100)]).toEqual([
      "1.00 oz",
      "8.0 oz",
      "0.60 oz",
      "199 °F",
      "212 °F",
    ]);
  });

  it("walks round its choices", () => {
    let [now] = nextChoice(METRIC);
    for (let k = 1; k < CHOICES.length; k++) [now] = nextChoice(now);
    expect(now).toEqual(METRIC);
  });

  it("keeps the unit that was typed, and shows it in the one that is read", () => {
    expect(keptFrom("205", "heat", US)).toBe("205 F");
    expect(keptFrom("off the boil", "heat", US)).toBe("off the boil");
    expect(keptFrom("0.6", "mass", US)).toBe("0.6 oz");
    expect(keptFrom("17", "mass", METRIC)).toBe("17");
    expect(shownIn("205 F", "heat", US)).toBe("205");
    expect(shownIn("205 F", "heat", METRIC)).toBe("96.1");
    expect(shownIn("93", "heat", US)).toBe("199");
    expect(shownIn("10 oz", "mass", METRIC)).toBe("283.5");
    expect(shownIn("17", "mass", US)).toBe("0.60");
    expect(shownIn("300 ml", "mass", US)).toBe("300 ml");
  });

  it("does not change what is shown and kept again", () => {
    for (const u of CHOICES.map(([c]) => c))
      for (const text of ["0.60 oz", "8.0 oz", "17", "17.5"]) {
        const shown = shownIn(text, "mass", u);
        expect(shownIn(keptFrom(shown, "mass", u), "mass", u)).toBe(shown);
      }
  });
});
