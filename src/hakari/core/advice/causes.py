"""Why a cup came out as it did: a readable table, weighed as naive Bayes.

Each row has a prior weight, what each sign says for or against it as a log-odds per unit of the sign, and what mends it, the
likeliest remedy first. Rows are added here and nowhere else.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.advice.signs import Signs

Remedy = tuple[str, str]


@dataclass(frozen=True)
class Cause:
    """One row: its name, the sentence that a person reads, prior, signs, and remedies as (kind of move, direction).

    ``needs`` are signs of which one must be there for the row to come into question at all; ``of_a_steep`` is the sentence
    where nothing runs through a bed.
    """

    name: str
    reason: str
    prior: float
    signs: dict[str, float]
    remedies: tuple[Remedy, ...] = ()
    needs: tuple[str, ...] = ()
    of_a_steep: str = ""


CAUSES = (
    Cause("too-fine", "The grounds are too fine: more surface, more fines at the filter, a longer contact.", 1.0,
          {"over": 0.55, "under": -0.6, "slow": 0.5, "fast": -0.8, "stalled": 0.5, "ey-high": 0.7, "ey-low": -0.9,
           "bed-mud": 0.8, "bed-shiny": 0.5, "bed-flat": -0.5, "both": -0.5, "tds-high": 0.1, "stirred": -0.25, "dense": 0.15,
           "plunger-stuck": 0.6, "hard-pours": -0.3, "hot-for-roast": -0.25},
          (("grind", "coarser"), ("compensated", "coarser-shorter"), ("temperature", "cooler"), ("time", "shorter")),
          of_a_steep="The grounds are too fine: more surface, so the water takes too much in the time."),
    Cause("too-coarse", "The grounds are too coarse: the water runs by before it has taken enough.", 1.0,
          {"under": 0.55, "over": -0.6, "fast": 0.6, "slow": -0.8, "stalled": -1.5, "ey-low": 0.7, "ey-high": -0.9,
           "weak": 0.2, "hollow": 0.1, "bed-mud": -0.6, "both": -0.5, "tds-low": 0.2, "plunger-stuck": -2.0,
           "cold-brewer": -0.5},
          (("grind", "finer"), ("temperature", "hotter"), ("agitation", "more"), ("time", "longer")),
          of_a_steep="The grounds are too coarse: the water does not take enough in the time."),
    Cause("too-hot", "The water is hot for this roast, so it takes the bitter end too.", 0.3,
          {"over": 0.45, "under": -0.5, "ey-high": 0.4, "ey-low": -0.6, "slow": -0.3, "hot-for-roast": 0.9,
           "stalled": -1.0, "bed-mud": -0.4},
          (("temperature", "cooler"), ("grind", "coarser")), ("warm-water",)),
    Cause("too-cool", "The water is cool for this roast, so it leaves sweetness behind.", 0.3,
          {"under": 0.45, "over": -0.5, "ey-low": 0.4, "ey-high": -0.6, "fast": -0.3, "cool-for-roast": 1.0},
          (("temperature", "hotter"), ("preheat", "warm"), ("grind", "finer")), ("warm-water",)),
    Cause("cold-brewer", "A cold brewer takes the first heat out of the water.", 0.5,
          {"cold-brewer": 1.6, "under": 0.45, "ey-low": 0.3, "over": -0.6, "ey-high": -0.6},
          (("preheat", "warm"), ("temperature", "hotter")), ("cold-brewer",)),
    Cause("too-little-water", "The ratio is short: the drink is strong whatever is extracted.", 0.5,
          {"strong": 0.6, "tds-high": 0.7, "tds-low": -1.0, "weak": -0.9, "ey-high": -0.4, "stalled": -0.8},
          (("ratio", "longer"), ("bypass-water", "add"), ("dilution", "more"), ("dose", "less"))),
    Cause("too-much-water", "The ratio is long: the drink is thin whatever is extracted.", 0.4,
          {"weak": 0.6, "tds-low": 0.7, "tds-high": -1.0, "strong": -0.9, "ey-low": -0.4, "fast": -0.2, "thin": 0.1},
          (("ratio", "shorter"), ("dose", "more"), ("compensated", "more-coffee"), ("grind", "finer"))),
    Cause("undiluted", "A concentrate is drunk diluted: its strength is set in the cup.", 1.5,
          {"strong": 0.7, "tds-high": 0.5, "weak": -2.0, "under": -0.2, "over": -0.15},
          (("bypass-water", "add"), ("ratio", "longer")), ("concentrate",)),
    Cause("diluted-too-far", "More water went into the cup than its strength needs.", 0.5,
          {"weak": 0.9, "tds-low": 0.7, "strong": -2.0, "tds-high": -1.0, "under": -0.1},
          (("dilution", "less"), ("ratio", "shorter")), ("diluted",)),
    Cause("pressed-late", "It was pressed later than planned, so it steeped for longer.", 1.0,
          {"over": 0.6, "under": -1.0, "pressed-late": 0.8},
          (("time", "shorter"),), ("pressed-late",)),
    Cause("pressed-early", "It was pressed sooner than planned, so it steeped for less.", 1.0,
          {"under": 0.6, "weak": 0.3, "over": -1.0, "pressed-early": 0.8},
          (("time", "longer"),), ("pressed-early",)),
    Cause("uneven", "Part of the bed was washed more than the rest: sour and bitter together.", 0.4,
          {"both": 0.9, "bed-holes": 0.8, "bed-cratered": 0.7, "bed-mounded": 0.5, "bed-stranded": 0.6,
           "bed-flat": -0.5, "hollow": 0.3, "gassy": 0.3},
          (("repeat", "evenly"), ("agitation", "more"), ("pours", "softer")),
          of_a_steep="Part of the grounds gave more than the rest: sour and bitter together."),
    Cause("wide-grind", "The grind is wide: small grounds give up everything while large ones have hardly begun.", 0.2,
          {"wide": 0.9, "both": 0.6, "muddled": 0.4, "hollow": 0.3, "bed-holes": -0.4, "bed-cratered": -0.4},
          (("sieve", "fines"), ("repeat", "evenly"), ("agitation", "more")), ("wide",)),
    Cause("paper", "The paper is badly seated or slow, so it drains late without being ground finer.", 0.3,
          {"slow": 0.45, "stalled": 1.1, "over": -0.3, "bed-mud": -0.9, "bed-shiny": -0.6, "bed-flat": 0.7,
           "ey-high": -0.2, "fast": -1.0, "dusty": -0.4},
          (("seating", "reseat"), ("filter", "other-lot")), ("paper",)),
    Cause("papery", "The paper was not rinsed, and is tasted.", 0.15,
          {"papery": 1.6}, (("seating", "rinse"),), ("papery",)),
    Cause("poured-hard", "Pours that fall hard or late wash fines down into the filter.", 0.25,
          {"hard-pours": 1.3, "slow": 0.4, "stalled": 0.6, "bed-mud": 0.4, "bed-cratered": 0.6, "fast": -0.8,
           "muddled": 0.2, "under": -0.3},
          (("pours", "softer"), ("agitation", "less")), ("hard-pours",)),
    Cause("dusty", "There is much dust in this grind for its size; it closes the filter and turns bitter first.", 0.25,
          {"dusty": 0.9, "slow": 0.35, "stalled": 0.5, "bed-mud": 0.5, "bed-shiny": 0.6, "drying": 0.2, "fast": -0.8,
           "under": -0.3},
          (("sieve", "fines"), ("grind", "coarser"), ("pours", "softer")), ("dusty",)),
    Cause("narrow-brewer", "Little of the paper lies open in this brewer, and it chokes.", 0.4,
          {"narrow": 1.0, "slow": 0.45, "stalled": 1.1, "fast": -1.0, "bed-flat": 0.6},
          (("mesh", "under-paper"), ("brewer", "cone"), ("seating", "reseat")), ("narrow",)),
    Cause("big-dose", "The bed is deep for this brewer, so it drains late.", 0.25,
          {"big-dose": 0.8, "slow": 0.45, "stalled": 0.7, "fast": -1.0},
          (("dose", "smaller"), ("grind", "coarser")), ("big-dose",)),
    Cause("too-little-agitation", "The water was not brought to all of the grounds.", 0.25,
          {"under": 0.3, "hollow": 0.4, "ey-low": 0.4, "still": 0.6, "over": -0.5, "ey-high": -0.7, "bed-stranded": 0.7,
           "fast": -0.2},
          (("agitation", "more"), ("time", "longer"))),
    Cause("too-much-agitation", "Stirring, swirling or hard pouring took more than was wanted.", 0.3,
          {"over": 0.3, "muddled": 0.5, "stirred": 0.75, "ey-high": 0.4, "bed-mud": 0.3, "under": -0.5, "ey-low": -0.7},
          (("agitation", "less"), ("pours", "softer")), ("stirred",),
          "Stirring or swirling took more than was wanted."),
    Cause("too-long", "It steeped for long.", 0.5,
          {"over": 0.5, "ey-high": 0.6, "under": -0.6, "ey-low": -0.8, "long-steep": 0.6},
          (("time", "shorter"), ("grind", "coarser"), ("temperature", "cooler")), ("steep",)),
    Cause("too-short", "It did not steep for long enough.", 0.5,
          {"under": 0.5, "ey-low": 0.6, "over": -0.6, "ey-high": -0.8, "weak": 0.15, "short-steep": 0.6},
          (("time", "longer"), ("agitation", "more"), ("grind", "finer")), ("steep",)),
    Cause("silt", "Fines come through the filter: pour off without stirring, leave the last mouthful.", 0.6,
          {"silty": 1.5, "mesh": 0.3, "muddled": 0.1},
          (("filter", "paper-under"), ("grind", "coarser"), ("agitation", "less")), ("silty",)),
    Cause("stuck-plunger", "The plunger is hard to move: the grounds are too fine for it. Never force it.", 1.2,
          {"plunger-stuck": 2.6, "over": 0.1}, (("grind", "coarser"),), ("plunger-stuck",)),
    Cause("young", "Coffee this fresh gasses: it throws the bed about and keeps water off.", 0.4,
          {"gassy": 1.4, "both": 0.3, "under": 0.2, "bed-cratered": 0.4, "bed-holes": 0.3},
          (("rest", "wait"), ("agitation", "more")), ("gassy",),
          "Coffee this fresh gasses, which keeps water off the grounds."),
    Cause("stale", "The coffee is old, or was ground long ago: what is gone no brewing brings back.", 0.5,
          {"stale": 1.1, "flat": 0.7, "hollow": 0.4, "thin": 0.15, "sweet": -0.6, "over": -0.1},
          (("coffee", "fresher"),), ("stale",)),
    Cause("water", "The water itself: hard or alkaline makes it flat, very soft makes it sharp.", 0.5,
          {"odd-water": 1.3, "flat": 0.6, "salty": 0.4, "hollow": 0.3, "sweet": -0.4},
          (("water", "change"),), ("odd-water",)),
    Cause("dirty", "Old oils in brewer or grinder taste rancid.", 0.5,
          {"dirty": 1.6, "bitter": 0.15, "harsh": 0.3, "muddled": 0.2}, (("repeat", "clean"),), ("dirty",)),
    Cause("hand", "Inside the noise of the hand: two brews of one plan differ by this much.", 1.3,
          {"over": -0.5, "under": -0.5, "slow": -0.5, "fast": -0.5, "stalled": -2.0, "ey-high": -0.9, "ey-low": -0.9,
           "tds-high": -0.6, "tds-low": -0.6, "sweet": 0.3, "balanced": 0.6},
          (("repeat", "again"),)),
)  # fmt: skip


@dataclass(frozen=True)
class WeighedCause:
    """A cause with its weight among all causes, 0 to 1."""

    cause: str
    weight: float
    reason: str
    remedies: tuple[Remedy, ...] = ()


def weigh(signs: Signs) -> tuple[WeighedCause, ...]:
    """Weights of all causes, heaviest first; they add to 1.

    A row that needs a sign which is not there weighs next to nothing. The weights are shown; none ranks a change.

    Parameters
    ----------
    signs : Signs
        Evidence as numbers.

    Returns
    -------
    tuple[WeighedCause, ...]
        Weights of all causes, heaviest first.
    """
    logs = np.array([_log_odds(c, signs) for c in CAUSES])
    p = np.exp(logs - logs.max())
    p /= p.sum()
    order = np.argsort(-p)
    return tuple(
        WeighedCause(CAUSES[i].name, float(p[i]), _reason(CAUSES[i], signs), CAUSES[i].remedies) for i in order
    )


def _reason(cause: Cause, signs: Signs) -> str:
    return cause.reason if signs["flows"] else cause.of_a_steep or cause.reason


def _log_odds(cause: Cause, signs: Signs) -> float:
    if cause.needs and not any(signs[s] > 0 for s in cause.needs):
        return float(np.log(1e-6))
    return float(np.log(cause.prior)) + sum(w * signs[s] for s, w in cause.signs.items())
