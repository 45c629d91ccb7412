import type { Drill, Kind } from "../../api/practice";
import { clock } from "../../ui/words";

/** Every text of Practice that is not data. */
export const DRILL_WORDS: Record<Drill, { name: string; question: string }> = {
  size: { name: "Guess the size", question: "What is the median of these grounds?" },
  finer: { name: "Which is finer?", question: "How small a difference can you see?" },
  fines: { name: "More or fewer fines?", question: "Which of the two has more small grounds?" },
  pour: { name: "Pour", question: "Can you hold a rate, and follow a plan?" },
  words: { name: "Taste words", question: "What moves a cup that tastes of this?" },
  dial: { name: "Your dials", question: "Can you read and set each of your grinders?" },
};

export const KIND_WORDS: Record<Kind, { name: string; question: string; steps: string[] }> = {
  triangle: {
    name: "Triangle",
    question: "Can anybody tell two brews apart?",
    steps: [
      "Brew both, let them cool to the same heat, and have three cups alike.",
      "Two cups get one brew and one the other; the taster does not know which.",
      "The taster names the odd one. By guessing alone one in three is right.",
    ],
  },
  "three-grinds": {
    name: "Three grinds",
    question: "Which setting do you like, and how does time follow size?",
    steps: [
      "Brew the same recipe at all three settings.",
      "Note each time and how each cup tastes, side by side.",
      "Say which you liked. “None” is an answer too.",
    ],
  },
  thirds: {
    name: "Thirds",
    question: "When should the brew be stopped?",
    steps: [
      "Brew onto a scale and change the cup at each third of the drink.",
      "Weigh the cups; measure their strength, or judge it by tongue.",
      "Mix them back in order, and taste after each.",
    ],
  },
  "two-ways": {
    name: "Two ways",
    question: "Is one way better than the other, or only different today?",
    steps: [
      "Brew the two one after the other, in the order that is drawn.",
      "Note the same figure of both; that is a pair.",
      "Go on until the interval says enough.",
    ],
  },
  hand: {
    name: "How steady is my hand?",
    question: "What must a change exceed to be believed?",
    steps: [
      "Brew one plan several times, changing nothing.",
      "Note the time of each, and mass and strength if you measure them.",
      "Advice takes the spread from here: “brew it again first” then means yours.",
    ],
  },
  ladder: {
    name: "Ladder",
    question: "Which step of one thing tastes best?",
    steps: [
      "Make one cup a step, all else alike.",
      "Taste them in random order without knowing which is which; say how you like each, 1 to 5.",
      "The best step comes with its interval.",
    ],
  },
  sieve: {
    name: "Sieve",
    question: "Does taking the fines out change the cup?",
    steps: [
      "Weigh the ground coffee, sieve it, and weigh both parts.",
      "Brew it beside the same dose unsieved.",
      "Taste them as a triangle.",
    ],
  },
};

export const KINDS = Object.keys(KIND_WORDS) as Kind[];

export const CAUTION =
  "Hot cups scald. Many cups are much caffeine: take sips, and spit where there are more than three or four.";

export const WAY_WORDS: Record<string, string> = {
  "extract-more": "Extract more: finer, hotter, longer",
  "extract-less": "Extract less: coarser, cooler, shorter",
  stronger: "More coffee to the same water",
  weaker: "Add water, or take less coffee",
  "rinse-paper": "Rinse the paper",
  "paper-under-mesh": "A paper under the mesh, or let it settle",
  "fresher-or-other-water": "Fresher coffee, or other water",
};

export const POUR_WORDS: Record<string, string> = {
  slow: "Slow: 120 g in 40 s",
  steady: "Steady: 150 g in 30 s",
  fast: "Fast: 200 g in 25 s",
  "two-pours": "Bloom, wait, pour",
  plan: "The plan on the bench",
};

export const LADDER_WORDS: Record<string, { name: string; unit: string }> = {
  dilution: { name: "Water added", unit: "g" },
  heat: { name: "Water temperature", unit: "°C" },
  time: { name: "Time", unit: "s" },
  stir: { name: "Stirring", unit: "s" },
};

const LONG_S = 120;

/** A step of a ladder with its unit; long times as on a clock. */
export const ladderStep = (variable: string, value: number) =>
  variable === "time" && value >= LONG_S ? clock(value) : `${value} ${LADDER_WORDS[variable]!.unit}`;

export const QUANTITY_WORDS: Record<string, { name: string; unit: string; less: string; more: string }> = {
  time: { name: "Time to the bare bed", unit: "s", less: "quicker", more: "slower" },
  strength: { name: "Strength", unit: "%", less: "weaker", more: "stronger" },
  drink: { name: "Drink in the cup", unit: "g", less: "less", more: "more" },
  liking: { name: "Liking, 1 to 5", unit: "", less: "liked less", more: "liked more" },
};
