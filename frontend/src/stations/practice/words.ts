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

/** Every text of Practice that is not data, by the file that shows it. Sentences with a figure in them are functions. */
export const WORDS = {
  dialDrill: {
    thatIsIt: "That is it",
    whereDoesItStand: "Where does it stand?",
    setItTo: "Set it to",
    from: "From",
    go: "go",
    whereAreYou: ". Where are you?",
    whichOfTheTwoGrindsFiner: "Which of the two grinds finer?",
    setting: "Setting",
    itIs: "It is",
  },
  drillPage: {
    thereIsNoSuchDrill: "There is no such drill",
    setUpAGrinder: "Set up a grinder",
    setUpAGrinderFirstItsDial: "Set up a grinder first; its dial is asked here.",
    choosing: "Choosing",
    right: "Right.",
    notThisTime: "Not this time.",
  },
  drillParts: {
    allOfPractice: "All of Practice",
    next: "Next",
    howItGoes: "How it goes",
    answers: "Answers",
    good: "Good",
    youGuessBy: (bias_percent: boolean) => `You guess ${bias_percent ? "small" : "large"}, by`,
    n95Interval: "95 % interval",
    youTellApart: "You tell apart",
    toldRightThreeTimesInFour: "Told right three times in four. Measure says it beside what a photo tells apart.",
    fromTwelvePairsOnTheSmallest: "From twelve pairs on, the smallest difference that you see is said here.",
    beginThisDrillAgain: "Begin this drill again",
  },
  experimentForms: {
    oneBrew: "One brew",
    theOther: "The other",
    mesh: "Mesh",
    settingsToTry: "Settings to try",
    median: "Median",
    predictedTime: "Predicted time",
    predictedStrength: "Predicted strength",
    predictedThirds: "Predicted thirds",
    cup: "Cup",
    changeItAt: "Change it at",
    third: "third",
    gInAll: (drink_g: string) => `${drink_g} g in all`,
    brews: "Brews",
    whatChanges: "What changes",
    rounds: "Rounds",
    steps: "Steps",
    typeThreeToSevenDifferent: "Type three to seven different numbers with a semicolon between them.",
    typeAWholeNumber: "Type a whole number.",
    hard30: "hard, 30 %",
    fair50: "fair, 50 %",
    easy70: "easy, 70 %",
    howEasyWillItBeToTell: "How easy will it be to tell?",
    whoPours: "Who pours?",
    somebodyWhoDoesNotTaste: "Somebody who does not taste",
    iAmAlone: "I am alone",
    notesUnderTheCupsShuffled: "Notes under the cups, shuffled with closed eyes: the program cannot check that order.",
    theProgramDrawsTheOrderAnd:
      "The program draws the order and shows it to the one who pours alone; it opens when the round is answered.",
    thePlanOnTheBench: "the plan on the bench",
    slip: (number: number, brewer: string, setting: string) => `slip ${number}: ${brewer}, ${setting}`,
    oneWay: "One way",
    theOtherWay: "The other way",
    planOf: (label: string) => `Plan of ${label}`,
    itsPlanIfItIsOneOfThese: "its plan, if it is one of these",
    whatIsCompared: "What is compared?",
    aDifferenceMattersFrom: "A difference matters from",
    onItCanBeChangedLater: "on; it can be changed later.",
  },
  experimentPage: {
    deleted: (name: string) => `${name} deleted`,
    allOfPractice: "All of Practice",
    deleteWord: "Delete",
    goOnWithIt: "Go on with it",
    finish: "Finish",
    whatItSays: "What it says",
    soFar: "So far",
    print: "Print",
    export: "Export",
    nameOfTheExperiment: "Name of the experiment",
    note: "Note",
    itIsOnTheBench: "It is on the bench",
    put: "Put",
    onTheBench: "on the bench",
  },
  eyePair: {
    left: "Left",
    right: "Right",
    isIt: (label: string) => `${label} is it`,
    whichOfTheTwoIsFiner: "Which of the two is finer?",
    whichOfTheTwoHasMoreSmall: "Which of the two has more small grounds?",
    groundsOnThe: (side: string) => `Grounds on the ${side}`,
    finer: "finer",
    moreSmallOnes: "more small ones",
    theyWereApart: (off_percent: string, finer: boolean) =>
      `They were ${off_percent} % apart${finer ? " in size" : " in the share of the covered area"}.`,
    oneIsShownALittleLargerThan:
      "One is shown a little larger than it is, so that the difference is known. The pairs come closer as you get them right.",
    smallOnesAreBelowAThirdOf:
      "Small ones are below a third of the median; both are shown so that their medians look alike.",
  },
  eyeSize: {
    showWhatItIs: "Show what it is",
    wasMeasuredAtM: (right: string, d50_ci95_um: string) => `was measured at ${right} µm, ${d50_ci95_um}`,
    isMByThePicturesTruth: (right: string) => `is ${right} µm, by the picture's truth`,
    youSay: "You say",
    itYouWere: (known: string, off: string, off_percent: boolean) =>
      `It ${known}: you were ${off} % ${off_percent ? "over" : "under"}.`,
    dragTheMarkToTheMedianByMass:
      "Drag the mark to the median by mass you see. Half the mass lies in fewer grounds than the eye thinks.",
    groundsSimulated: "Grounds, simulated",
    yourGuessOfTheMedian: "Your guess of the median",
    measured: "measured",
  },
  firstExperiment: {
    ribbedCone: "ribbed cone",
    flatBottom: "flat bottom",
    oneWay: "one way",
    theOtherWay: "the other way",
  },
  handBrews: {
    pourRate: "Pour rate",
    ofWord: "of",
    brews: "brews",
    brews2: "Brews",
    spread: "Spread",
    fromBrewToBrew: "From brew to brew",
    mean: "Mean",
    n95Interval: "95 % interval",
    believeAChangeFrom: "Believe a change from",
    to: (ci95_sd: string, ci95_sd2: string) => `${ci95_sd} to ${ci95_sd2}`,
  },
  ladderRounds: {
    ofRoundsTasted: (name: string, values: string, done: number, rounds: number) =>
      `${name}: ${values} · ${done} of ${rounds} rounds tasted`,
    round: (done: number) => `Round ${done}`,
    roundHowDoYouLikeEach: (done: number) => `Round ${done}: how do you like each?`,
    noteTheStepUnderEachCupShuffle:
      "Note the step under each cup, shuffle them with closed eyes, taste, then turn them over one by one.",
    cup: (label: string) => `Cup ${label}`,
    n1NotAtAll5VeryMuch: "1 not at all, 5 very much",
    openTheRound: "Open the round",
    allRoundsAreTasted: "All rounds are tasted.",
    addARound: "Add a round",
    likingByStep: "Liking by step",
  },
  newExperiment: {
    allOfPractice: "All of Practice",
    begin: "Begin",
    name: "Name",
    beforeYouBegin: "Before you begin",
    coffee: "Coffee",
    plan: "Plan",
  },
  notedTable: {
    which: "which",
    change: "change",
    removeRow: (i: number) => `Remove row ${i}`,
  },
  pourDrill: {
    tiltToPourKeepTheLineInThe: "Tilt to pour, keep the line in the band",
    allOfPractice: "All of Practice",
    pourAgain: "Pour again",
    stopHere: "Stop here",
    whatToPour: "What to pour",
    wantedNowGGS: (elapsed: string, points: string, rateGS: string) =>
      `${elapsed} · wanted now ${points} g · ${rateGS} g/s`,
    inTheBandOfTheTimeGOffOn: (in_band_share: number, off_g: string, rate_g_s: string, rate_sd_g_s: string) =>
      `In the band ${in_band_share} % of the time, ${off_g} g off on average; ${rate_g_s} g/s with a spread of ${rate_sd_g_s}.`,
    pressAndDragDownInTheKettle:
      "Press and drag down in the kettle to tilt it, or hold the arrow keys. The clock starts with the first water. Kettle and practice scale are simulated.",
    pouredOnARealScale: "Poured on a real scale?",
    judgeItsLog: "Judge its log",
    csvWithTimeSAndPouredG: "(CSV with time_s and poured_g).",
    of100: "of 100",
    kettleTilt: "Kettle: tilt",
    wantedWeightWithItsBandAnd: "Wanted weight with its band, and what was poured",
  },
  pouringSheet: {
    iPourShowWhatGoesIntoTheCups: "I pour: show what goes into the cups",
    forTheOneWhoPours: "For the one who pours",
    theTasterLooksAwayWriteThe: "The taster looks away. Write the codes on the cups, fill them, and close this.",
    whatGoesIntoTheCups: "What goes into the cups",
    itIsNotedThatThisWasOpened: "It is noted that this was opened.",
  },
  practiceHome: {
    dueInDrillsExperimentsUnder: (reduce: number, count: number) =>
      `${reduce} due in drills, ${count} experiments under way`,
    practise: (replace: string) => `Practise: ${replace}`,
    drills: "Drills",
    experiments: "Experiments",
    underWay: "Under way",
    done: "Done",
    needsAGrinder: "needs a grinder",
    nothingDue: "nothing due",
  },
  resultWords: {
    nothingNotedYet: "nothing noted yet",
    byGuessingAloneOrMoreOfCome: (rights: number, rounds: number, p_value: string) =>
      `By guessing alone, ${rights} or more of ${rounds} come ${p_value} of the time.`,
    theOddCupWasToldNotGuessed: (can_tell: number, low: number | undefined, high: number | undefined) =>
      `The odd cup was told, not guessed, in about ${can_tell} % of rounds (95 % interval ${low} to ${high} %).`,
    ofRightTheyCanBeToldApart: (rights: number, rounds: number) =>
      `${rights} of ${rounds} right: they can be told apart`,
    ifItGoesOnLikeThisAboutMore: (more_rounds: number) =>
      ` If it goes on like this, about ${more_rounds} more rounds settle it.`,
    ifItGoesOnLikeThisNoReasonable: " If it goes on like this, no reasonable number of rounds settles it.",
    ofRightNotConvincingYet: (rights: number, rounds: number) => `${rights} of ${rounds} right: not convincing yet`,
    ofTheDoseWasTakenOut: (removed_share: string) => `${removed_share} of the dose was taken out. `,
    isMissingWeighAgainOrLook: (lost_share: string) =>
      `${lost_share} is missing: weigh again, or look into the sieve. `,
    weighedNotTastedYet: "weighed, not tasted yet",
    stepsOfInSizeMadeNoDifference: (span: string) =>
      ` Steps of ${span} in size made no difference to you: such a step is not worth chasing.`,
    youTastedADifferenceAtSteps: (span: string) =>
      ` You tasted a difference at steps of ${span} in size; a triangle tells whether you would again.`,
    theTimeBy: (v: boolean, v2: string) => `${v ? "shortened" : "lengthened"} the time by ${v2} %`,
    theModelSays: (time_per_size_predicted: string) => `; the model says ${time_per_size_predicted} %`,
    brewsTookThanPredicted: (time_off_percent: string, time_off_percent2: boolean) =>
      ` Brews took ${time_off_percent} % ${time_off_percent2 ? "longer" : "less"} than predicted.`,
    noFavouriteNamedYet: "no favourite named yet",
    noneWasLikedMore: "none was liked more",
    wasLikedMost: (liked: string) => `${liked} was liked most`,
    ofWhatWasDissolved: (shares: string) => `${shares} % of what was dissolved`,
    withoutTheLastCupTheDrink: (
      mixed_tds_percent: string,
      mixed_ey_percent: string,
      mixed_tds_percent2: string,
      mixed_ey_percent2: string,
    ) =>
      `Without the last cup the drink has ${mixed_tds_percent} % and ${mixed_ey_percent} % is extracted; with it ${mixed_tds_percent2} % and ${mixed_ey_percent2} %.`,
    enoughNoDifferenceWorthHaving: "Enough: no difference worth having",
    aboutMoreIt: (more_pairs: number, more_pairs2: boolean) =>
      ` About ${more_pairs} more ${more_pairs2 ? "pair settles" : "pairs settle"} it.`,
    keepGoing: "Keep going",
    noTimesNotedYet: "no times noted yet",
    sFromBrewToBrew: (sd: string) => `±${sd} s from brew to brew`,
    fromBrewsTheSpreadLiesBetween: (
      repeats: number,
      low: number | undefined,
      high: number | undefined,
      believed_from: number,
    ) =>
      `From ${repeats} brews; the spread lies between ${low} and ${high} s. One brew against another: believe a change of time from ${believed_from} s on.`,
    wasLikedMostSoFar: (best: string) => `${best} was liked most, so far`,
    likingDoesNotBendClearlyEnough:
      "Liking does not bend clearly enough to have a best step within the ladder. Taste another round, or make the ladder longer.",
    isBest: (best: string) => `${best} is best`,
    thePeakLiesBetweenAnd95: (low: string | undefined, high: string | undefined) =>
      `The peak lies between ${low} and ${high} (95 % interval).`,
    soFewRoundsSettleNothingEven: "So few rounds settle nothing: even all rights could be guessed.",
    forFourTimesInFiveTakeRounds: (rounds_for_80: number) => ` For four times in five take ${rounds_for_80} rounds.`,
    ofRightsSettleItIfTheOddCup: (
      rights_needed: number,
      rounds: number,
      share: number,
      power: number,
      wanted: string,
    ) =>
      `${rights_needed} of ${rounds} rights settle it. If the odd cup can be told in ${share} % of rounds, that happens ${power} % of the time.${wanted}`,
  },
  spark: {
    lastAnswersOfThemGood: (count: number, count2: number) => `Last ${count} answers, ${count2} of them good`,
  },
  thirdsCups: {
    firstThird: "First third",
    middleThird: "Middle third",
    lastThird: "Last third",
    fourthCup: "Fourth cup",
    fifthCup: "Fifth cup",
    sixthCup: "Sixth cup",
    cups: "Cups",
    howTheStrengthIsKnown: "How the strength is known",
    measured: "measured",
    judgedByTongue: "judged by tongue",
    judgedByTongueTheSharesAre: "Judged by tongue, the shares are rough; the order of the cups is what holds.",
    mixedBackInOrder: "Mixed back in order",
    cup: "Cup",
    shareOfWhatWasDissolved: "Share of what was dissolved",
    stoppedHere: "Stopped here",
    extracted: "Extracted",
    predicted: (share_percent: string) => `${share_percent} % predicted`,
  },
  threeGrinds: {
    brews: "Brews",
    predicted: (predicted_s: string) => `, ${predicted_s} predicted`,
    howTheyTaste: "How they taste",
    tasteAt: (setting: string) => `Taste at ${setting}`,
    whichDidYouLike: "Which did you like?",
    noDifference: "no difference",
  },
  triangleRounds: {
    all: "All",
    roundsAreTasted: "rounds are tasted.",
    addSixMore: "Add six more",
    roundsSoFar: "Rounds so far",
    round: "Round",
    taster: "Taster",
    cups: "Cups",
    named: "Named",
    right: "Right",
    shuffled: "shuffled",
    yes: "yes",
    no: "no",
    weighed: "Weighed",
    takenOut: "Taken out",
    itWasNotTheOddOne: "it was not the odd one",
    itWasTheOddOne: "it was the odd one",
    round2: (number: number) => `Round ${number}`,
    roundOf: (number: number, rounds: number) => `Round ${number} of ${rounds}`,
    stickANoteUnderEachOfThree:
      "Stick a note under each of three cups: two with one brew, one with the other. Close your eyes, shuffle them, taste from the left, decide which is odd. Then turn it over.",
    cupsInTheOrderOfTasting: "Cups in the order of tasting",
    taster2: (i: number) => `Taster ${i}`,
    oddCupOf: (t: string, i: number) => `Odd cup of ${t || `taster ${i}`}`,
    anotherTaster: "Another taster",
    oneTasterLess: "One taster less",
    openTheRound: "Open the round",
  },
  twoWays: {
    typeTimesLike305Or185: "Type times like 3:05 or 185.",
    typeANumberForBoth: "Type a number for both.",
    pairBrewFirstThen: (count: number, names: string, names2: string) =>
      `Pair ${count}: brew ${names} first, then ${names2}`,
    addThePair: "Add the pair",
    removeTheLastPair: "Remove the last pair",
    aDifferenceMattersFrom: "A difference matters from",
    differences: (d: string) => `Differences ${d}`,
    doesNotMatter: "does not matter",
  },
  wordDrill: {
    aCupTastes: "A cup tastes",
    first: "First:",
  },
};
