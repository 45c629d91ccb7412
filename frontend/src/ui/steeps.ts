import type { Schemas } from "../api/client";

export type Ending = NonNullable<Schemas["SteepDocument"]["ending"]>;

interface Words {
  /** After a time on a chart or in a result. */
  done: string;
  /** What the predicted time is the end of. */
  until: string;
  /** Beside a field for the time. */
  field: string;
  before: string;
  now: string;
  care: string;
  early: string;
  tap: string;
}

/** How a steep ends, in the words of each brewer. */
const ENDINGS: Record<Ending, Words> = {
  press: {
    done: "pressed",
    until: "to the end of the press",
    field: "Pressed by",
    before: "Leave it. Press at",
    now: "Press slowly, until about",
    care: "Hard to move? Release, pause, try again; never force it.",
    early: "Press now",
    tap: "Pressed",
  },
  skim: {
    done: "skimmed",
    until: "until the crust is broken and skimmed",
    field: "Skimmed by",
    before: "Leave it. Break the crust at",
    now: "Break the crust and skim, until about",
    care: "Let it settle, then sip from the top: it is hot.",
    early: "Break it now",
    tap: "Skimmed",
  },
  "draw-off": {
    done: "drawn off",
    until: "until it is drawn off",
    field: "Drawn off by",
    before: "Leave it. Draw off at",
    now: "Draw off slowly, until about",
    care: "Keep it cold from now on, in clean vessels.",
    early: "Draw off now",
    tap: "Drawn off",
  },
  "draw-down": {
    done: "drawn down",
    until: "until it is drawn down",
    field: "Drawn down by",
    before: "Leave it. Take it off the heat at",
    now: "Off the heat: it draws down until about",
    care: "Glass, flame and vacuum: let the maker's instructions lead.",
    early: "Off the heat now",
    tap: "Drawn down",
  },
  "off-heat": {
    done: "off the heat",
    until: "until it is taken off the heat",
    field: "Off the heat by",
    before: "Let it run. Take it off the heat at",
    now: "Take it off the heat",
    care: "The pot and its steam scald.",
    early: "Off the heat now",
    tap: "Off the heat",
  },
};

export const endingWords = (ending: Ending | null | undefined): Words => ENDINGS[ending ?? "press"];
