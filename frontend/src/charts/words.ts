/** Every text of the charts that is not data, by the file that shows it. Sentences with a figure in them are functions. */
export const WORDS = {
  curves: {
    notSeenBelowM: (limit: string) => `not seen below ${limit} µm`,
    /** In two parts, for a line each where there is no room for one. */
    twoModesM: (first: string, second: string) => [`two modes: ${first},`, `${second} µm`],
  },
  cuts: {
    notSeen: "not seen",
    fines: (um: string, share: string) => `under ${um}: ${share}`,
    boulders: (um: string, share: string) => `over ${um}: ${share}`,
    atM: (um: string, share: string) => `${um} µm: ${share}`,
    finesAreBelow: "Fines are below",
    bouldersAreAbove: "Boulders are above",
  },
  dialDrawing: {
    toBeRead: "to be read",
    turnTheDial: "Turn the dial",
    turnTheRing: (name: string) => `Turn the ${name} ring`,
  },
  grainRuler: {
    sizesOfTheGrounds: "Sizes of the grounds",
    sizeCurveArrowKeysHoldABand: "Size curve: arrow keys hold a band of sizes, whose grounds are lit on the photo",
    toM: (held: string, held2: string) => `${held} to ${held2} µm`,
    noneHeld: "none held",
    yourOwnGroundsCutFromThePhoto: "Your own grounds, cut from the photo, each at its size.",
    knownOnlyByItsClassesThere: "Known only by its classes: there are no grounds to show.",
    thePersimmonBandIsTheOneYou: " The persimmon band is the one you are holding; its grounds are lit above.",
    pressOnTheCurveToLightABand: " Press on the curve to light a band of sizes on the photo.",
  },
  happened: {
    byAbout: (done: string, drawdown_s: string) => `${done} by about ${drawdown_s}`,
    bedBareAtAboutLastDrip: (drawdown_s: string, last_drip_s: string) =>
      `bed bare at about ${drawdown_s}, last drip ${last_drip_s}`,
    likelyTo: (low: string, high: string) => `, likely ${low} to ${high}`,
    poured: "poured",
    inTheCup: "in the cup",
    bareAt: (bare_bed_s: string) => `bare at ${bare_bed_s}`,
  },
  level: {
    waterInTheBrewerMm: "water in the brewer, mm",
    waterOverTheBedMm: "water over the bed, mm",
    theLevelStandsStillAStall: "the level stands still: a stall",
  },
  levelChart: {
    pouredInPours: (water: string, count: number, plan: string) => `Poured ${water} in ${count} pours; ${plan}`,
    bedBare: "bed bare",
    lastDropFalls: "last drop falls",
  },
  rail: {
    readThe: (name: string, atHand: string | null) => `Read the ${name}${atHand === null ? "" : `, at hand ${atHand}`}`,
    atHand: (setting: string) => `at hand${setting ? `, ${setting}` : ""}`,
    before: (label: string) => `before: ${label}`,
    measuredAtM: (setting: string, d50_um: number) => `measured at ${setting}: ${d50_um} µm`,
    notReached: (setting: string) => `not reached (${setting})`,
    n95IntervalToM: (low_um: number, high_um: number) => `95 % interval: ${low_um} to ${high_um} µm`,
  },
  rails: {
    theGrind: "the grind",
    onTheBench: "on the bench",
  },
  strengthChart: {
    thisCup: "this cup",
    thisCupEstimated: "this cup, estimated",
    thisCupStrengthExtraction: (tds_percent: string, ey_percent: string, name: string) =>
      `This cup: ${tds_percent} % strength, ${ey_percent} % extraction; target ${name}`,
    yourTarget: "your target",
    strength: "% strength",
    ofTheCoffeeThatIsInTheCup: "% of the coffee that is in the cup",
    slip: (number: number) => `slip ${number}`,
  },
};
