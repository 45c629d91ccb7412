// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { useState, type ComponentProps } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { METRIC, writer, type Units } from "../src/ui/units";

let units: Units = METRIC;
vi.mock("../src/ui/useUnits", () => ({ useUnits: () => writer(units) }));
vi.mock("../src/stations/cup/Guessing", () => ({ Guessing: () => null }));
const { Checklist } = await import("../src/stations/brew/Checklist");
const { Notes } = await import("../src/stations/brew/Notes");
const { StepList } = await import("../src/stations/brew/StepList");
const { Alternatives } = await import("../src/stations/cup/Alternatives");
const { Since } = await import("../src/stations/cup/Since");
const { PourTable } = await import("../src/stations/plan/PourTable");
const { TargetTime } = await import("../src/stations/plan/TargetTime");

beforeEach(() => {
  units = METRIC;
  localStorage.clear();
});
afterEach(cleanup);
const type = (field: HTMLElement, text: string) => {
  field.focus();
  fireEvent.change(field, { target: { value: text } });
  fireEvent.blur(field);
};

describe("the table of pours", () => {
  type Set = ComponentProps<typeof PourTable>["set"];
  const pour = (water_g: number, duration_s: number, start_s: number) => ({
    water_g, duration_s, start_s, start_when: null, strength: "normal", where: "spiral",
  }); // prettier-ignore
  const plan = (steep: object | null = null) =>
    ({
      document: { pours: [pour(50, 10, 0), pour(100, 20, 40), pour(150, 30, 90)], actions: [], steep },
      prediction: { pour_starts_s: [0, 40, 90] },
    }) as never;
  /** As the station does: what was set is what is shown next. */
  function Table({ seen, steep = null }: { seen: Set; steep?: object | null }) {
    const [own, setOwn] = useState<Parameters<Set>[0] | null>(null);
    return (
      <PourTable
        plan={plan(steep)}
        pours={own?.pours ?? null}
        actions={own?.actions}
        set={(next) => (setOwn(next), seen(next))}
      />
    );
  }
  const seen = vi.fn<Set>();
  const last = () => seen.mock.calls.at(-1)![0];
  const waters = () => last().pours!.map((p) => p.water_g);
  const field = (label: string) => screen.getByLabelText<HTMLInputElement>(label);

  beforeEach(() => seen.mockReset());

  it("shows running totals; the last is all of the water and is not typed here", () => {
    render(<Table seen={seen} />);
    expect([field("Pour 1 to").value, field("Pour 2 to").value]).toEqual(["50", "150"]);
    expect(screen.queryByLabelText("Pour 3 to")).toBeNull();
    expect(screen.getByText("300")).toBeTruthy();
  });

  it("keeps all of the water when a total is typed, and what cannot be read stays as it was typed", () => {
    render(<Table seen={seen} />);
    type(field("Pour 2 to"), "180");
    expect(waters()).toEqual([50, 130, 120]);
    type(field("Pour 1 to"), "60,0");
    expect(waters()).toEqual([60, 120, 120]);
    seen.mockReset();
    type(field("Pour 1 to"), "lots");
    expect([seen.mock.calls.length, field("Pour 1 to").value]).toEqual([0, "lots"]);
    expect(screen.getByRole("alert").textContent).toContain("scale");
    fireEvent.keyDown(field("Pour 1 to"), { key: "Escape" });
    expect([field("Pour 1 to").value, screen.queryByRole("alert")]).toEqual(["60", null]);
  });

  it("takes ounces where ounces are shown", () => {
    units = { mass: "oz", temperature: "F" };
    render(<Table seen={seen} />);
    expect(field("Pour 1 to").value).toBe("1.76");
    type(field("Pour 1 to"), "2");
    expect(waters()[0]).toBeCloseTo(56.7, 1);
    expect(waters().reduce((a, b) => a + b)).toBeCloseTo(300, 6);
  });

  it("splits, removes and moves pours without losing water", () => {
    render(<Table seen={seen} />);
    for (const name of [/^Split pour 3/, /^Remove pour 2/, /^.*pour 3 before pour 2/i]) {
      fireEvent.click(screen.getByRole("button", { name }));
      expect(waters().reduce((a, b) => a + b)).toBeCloseTo(300, 6);
      const starts = last().pours!.map((p) => p.start_s ?? 0);
      expect(starts).toEqual([...starts].sort((a, b) => a - b));
    }
    expect(screen.getAllByRole("row").length).toBe(1 + 3);
  });

  it("lets a pour wait for an event in a dripper, never in a steep", () => {
    render(<Table seen={seen} />);
    const waits = screen.getByLabelText<HTMLSelectElement>(/Pour 2 waits/);
    fireEvent.change(waits, { target: { value: "drained" } });
    expect(last().pours![1]).toMatchObject({ start_when: "drained", start_s: null });
    expect(screen.queryByLabelText("Pour 2 starts at")).toBeNull();
    fireEvent.change(waits, { target: { value: "" } });
    expect(last().pours![1]).toMatchObject({ start_when: null, start_s: 40 });
    cleanup();
    render(<Table seen={seen} steep={{ seconds: 240 }} />);
    expect(screen.queryByLabelText(/waits/)).toBeNull();
  });
});

describe("the target time", () => {
  const found = (more: object) => ({ setting: "18", drawdown_s: 200, fits: true, why_not: null, ...more }) as never;
  const shown = (of: object | null, more: object = {}) => {
    const [take, turn] = [vi.fn(), vi.fn()];
    const answer = of ? found(of) : null;
    render(<TargetTime value="3:20" found={answer} setting="20" trouble={null} take={take} turn={turn} {...more} />);
    return { take, turn };
  };

  it("offers the setting that brings it, and turns to it", () => {
    const { turn } = shown({});
    expect(document.body.textContent).toContain("3:20 at 18");
    fireEvent.click(screen.getByRole("button"));
    expect(turn).toHaveBeenCalledWith("18");
  });

  it.each([
    ["is where the dial stands", { setting: "20" }, /3:20 at 20/],
    ["is out of reach", { fits: false, setting: "9", drawdown_s: 260 }, /4:20 at 9/],
    ["cannot be told", { setting: null, why_not: "This grinder has no curve yet." }, /no curve yet/],
  ])("offers nothing to turn where it %s, and says so", (_, of, words) => {
    shown(of);
    expect(screen.queryByRole("button")).toBeNull();
    expect(document.body.textContent).toMatch(words);
  });

  it("is typed like any field, and shows no answer beside its trouble", () => {
    const { take } = shown({}, { trouble: "Type a time like 3:20." });
    expect(screen.getByRole("alert").textContent).toBe("Type a time like 3:20.");
    expect(screen.queryByRole("button")).toBeNull();
    type(screen.getByRole("textbox"), "3:40");
    expect(take.mock.calls).toEqual([["3:40"]]);
  });
});

describe("before and during a brew", () => {
  const checks = ["rinse", "scale", "kettle"].map((key) => ({ key, words: `Check the ${key}.`, why: "" })) as never[];
  const order = () => screen.getAllByRole("listitem").map((item) => /the (\w+)/.exec(item.textContent)![1]);
  const forget = (key: string) =>
    fireEvent.click(
      within(screen.getAllByRole("listitem").find((item) => item.textContent.includes(key))!).getByRole("button"),
    );

  it("what is forgotten most often comes first, also the next morning", () => {
    render(<Checklist checks={checks} />);
    expect(order()).toEqual(["rinse", "scale", "kettle"]);
    for (const key of ["kettle", "scale", "kettle"]) forget(key);
    expect(order()).toEqual(["kettle", "scale", "rinse"]);
    cleanup();
    render(<Checklist checks={checks} />);
    expect(order()).toEqual(["kettle", "scale", "rinse"]);
    cleanup();
    // What this device kept may be damaged.
    localStorage.setItem("hakari.forgotten", "{not json");
    render(<Checklist checks={checks} />);
    expect(order()).toEqual(["rinse", "scale", "kettle"]);
  });

  it("ticks are off and on again", () => {
    render(<Checklist checks={checks} />);
    const box = screen.getAllByRole<HTMLInputElement>("checkbox")[1]!;
    fireEvent.click(box);
    expect(screen.getAllByRole<HTMLInputElement>("checkbox").map((b) => b.checked)).toEqual([false, true, false]);
    fireEvent.click(box);
    expect(box.checked).toBe(false);
  });

  it("a step says when it is due, then the weight while it is poured, then when it was done", () => {
    const step = (kind: string, at_s: number, ends_s: number, done_s: number | null = null) =>
      ({ kind, at_s, ends_s, done_s, by: done_s === null ? null : "tap", words: kind }) as never;
    const list = (now: number, elapsed: number, standing: "brewer" | "cup" | null) => {
      cleanup();
      const steps = [step("pour", 0, 10, now > 0 ? 11 : null), step("pour", 40, 60), step("drain", 60, 185)];
      const heard = { weight_g: [20, 87.4] } as never;
      render(<StepList steps={steps} now={now} elapsed={elapsed} heard={heard} standing={standing} />);
      return screen.getAllByRole("listitem").map((item) => item.textContent.replace(/\s+/g, " ").trim());
    };
    expect(list(1, 45, "brewer")).toEqual(["0:00 pour0:11", "0:40 pour87…", "3:05 drain"]);
    // Under the cup the scale does not show the pour.
    expect(list(1, 45, "cup")[1]).toBe("0:40 pour");
    const held = () => screen.getAllByRole("listitem").map((item) => item.className);
    list(1, 30, null);
    expect(held()).toEqual(["over", "", ""]);
    list(1, 45, null);
    expect(held()).toEqual(["over", "held", ""]);
  });
});

describe("other moves", () => {
  const state = { ey_percent: 18, tds_percent: 1.2, drawdown_s: 180 };
  const offered = (kind: string, words: string) =>
    ({
      kind,
      direction: "finer",
      words,
      from: "20",
      to: "18",
      before: state,
      after: { ...state, ey_percent: 19.5 },
    }) as never;
  const moves = ["grind", "time", "ratio", "dose", "pours", "agitation", "temperature"].map((kind) =>
    offered(kind, `change ${kind}`),
  );
  const advice = (more: object = {}) =>
    ({
      moves, status: "change",
      causes: [
        { cause: "too-coarse", weight: 0.7, reason: "It ran fast." },
        { cause: "channels", weight: 0.2, reason: "" },
        { cause: "cool-water", weight: 0.02, reason: "" },
      ],
      ruled_out: [
        { kind: "temperature", direction: "hotter", reason: "It is bitter already." },
        { kind: "temperature", direction: "hotter", reason: "And hot." },
        { kind: "none", direction: "no", reason: "Something." },
      ],
      ...more,
    }) as never; // prettier-ignore
  const pick = vi.fn();
  const setTarget = vi.fn();
  const show = (more: object = {}, target = { name: "classical", own: ["18", "22", "1.2", "1.4"] }) =>
    render(
      <Alternatives
        advice={advice(more)}
        picked={0}
        pick={pick}
        target={target}
        setTarget={setTarget}
        trouble={null}
        targets={[{ name: "classical", ey_percent: [18, 22], tds_percent: [1.15, 1.35] }] as never}
        changeFirst="grind-first"
        setChangeFirst={() => undefined}
        lean={null}
        setLean={() => undefined}
      />,
    );
  const words = () => screen.queryAllByRole("button", { name: /^Change / }).map((b) => b.textContent);

  it("are all but the one that is offered, a few at first, each with what it would do", () => {
    show();
    expect(words()).toEqual(["Change time", "Change ratio", "Change dose", "Change pours"]);
    expect(document.body.textContent).toMatch(/18\.0.*19\.5/);
    fireEvent.click(screen.getByRole("button", { name: /more/ }));
    expect(words().length).toBe(6);
    fireEvent.click(screen.getByRole("button", { name: "Change dose" }));
    expect(pick).toHaveBeenCalledWith(3);
  });

  it("come with the likely causes, in per cent, without those that hardly count", () => {
    show();
    const text = document.body.textContent;
    expect([text.includes("Too coarse"), text.includes("70 %"), text.includes("Channels"), text.includes("Cool water")]).toEqual(
      [true, true, true, false],
    ); // prettier-ignore
  });

  it("say once what would do harm, and why when asked", () => {
    show();
    const not = screen.getByRole("button", { name: /hotter water/ });
    expect(not.textContent!.match(/hotter water/g)!.length).toBe(1);
    expect(document.body.textContent).not.toContain("bitter already");
    fireEvent.click(not);
    expect(document.body.textContent).toContain("bitter already");
  });

  it.each(["keep", "taste-first"])("look for no cause where the cup is to %s", (status) => {
    show({ status });
    expect(document.body.textContent).not.toContain("Too coarse");
  });

  it("take a target of one's own with a comma as with a point", () => {
    show({}, { name: "own", own: ["18", "22", "1.2", "1.4"] });
    const field = screen.getByLabelText<HTMLInputElement>(/Strength from/i);
    fireEvent.change(field, { target: { value: "1,25" } });
    expect(setTarget).toHaveBeenCalledWith({ name: "own", own: ["18", "22", "1.25", "1.4"] });
  });
});

describe("what changed since the slip before", () => {
  const said = (things: string[], compared?: "better" | "worse" | "alike") => {
    cleanup();
    render(<Since slip={4} things={things} compared={compared} />);
    return screen.getByTestId("since");
  };

  it("names one change, warns of several at once, and says how the cup compares", () => {
    expect(said(["the grind"]).textContent).toContain("the grind");
    expect(said(["the grind"]).className).not.toContain("several");
    const both = said(["the grind", "the water"], "worse");
    expect(both.className).toContain("several");
    for (const part of ["the grind; the water", "2", "worse", "4"]) expect(both.textContent).toContain(part);
    expect(said([]).textContent).toContain("4");
    expect(said([], "better").textContent).toEqual(said([]).textContent);
  });
});

describe("what was seen", () => {
  const offered = (of: { steeps: boolean; hot: boolean }) => {
    render(<Notes notes={[]} note={() => {}} over {...of} />);
    const names = screen.getAllByRole("button").map((b) => b.textContent);
    cleanup();
    return names;
  };
  it("asks for no bed in a steep, and for no bloom in cold water", () => {
    expect(offered({ steeps: false, hot: true })).toHaveLength(10);
    expect(offered({ steeps: true, hot: true })).toEqual(["lively bloom", "dead bloom", "overflowed", "spilt"]);
    expect(offered({ steeps: true, hot: false })).toEqual(["overflowed", "spilt"]);
    expect(offered({ steeps: false, hot: false })).not.toContain("lively bloom");
  });
});
