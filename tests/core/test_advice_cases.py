"""Forty and more cups as a barista would meet them: what should be tried first, and what must not be, in every order."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any

import pytest

from hakari.core.advice.advise import advise
from hakari.core.advice.answer import Advice
from hakari.core.advice.causes import CAUSES
from hakari.core.advice.estimates import SimulatedMoves, simulate_moves
from hakari.core.advice.evidence import TARGETS, Case, Outcome
from hakari.core.brew.brewers import BUILT_IN
from hakari.core.brew.schedule import Action, Heat, Plan, Pour, Steep
from hakari.core.grinder.curve import CurveSample
from hakari.core.grinder.grinder import Grinder
from hakari.core.grinder.kinds import NumberDial
from hakari.core.psd.grind_sources import grind_from_figures

ORDERS = ("grind-first", "grind-last", "technique-first", "start-coarse")
GRINDER = Grinder(
    "B", "flat", NumberDial(), (CurveSample(3, 480, 0.02), CurveSample(5, 660, 0.02), CurveSample(8, 940, 0.02)),
    (0.13, 0.1, 0.06), (0.9, 0.9, 0.9),
)  # fmt: skip
STAGED = (Pour(40, 10, 0.0), Pour(120, 20, 40.0), Pour(120, 20, 90.0))
CONE = Plan(BUILT_IN["ribbed-cone"], 17, 93, "light", STAGED, (Action(12, "swirl"),))
HARD = replace(CONE, pours=(STAGED[0], *(replace(p, strength="hard") for p in STAGED[1:])))
FLAT = replace(CONE, brewer=BUILT_IN["flat-bottom"])
PRESS = Plan(
    BUILT_IN["press-pot"], 30, 94, "medium", (Pour(500, 20, 0.0),), (), Heat("glass"), "metal", Steep(240, 0, 20)
)
STIRRED = replace(PRESS, filter_name="paper", steep=Steep(150, 60, 40))
TUBE = Plan(
    BUILT_IN["plunger-tube"], 18, 85, "medium", (Pour(110, 12, 0.0),), (), Heat(), "paper", Steep(75, 10, 25)
)  # ratio 1:6, to be diluted
COLD = Plan(
    BUILT_IN["cold-jar"],
    80,
    20,
    "medium",
    (Pour(800, 60, 0.0),),
    (),
    Heat("glass", False),
    "paper",
    Steep(14 * 3600, 20, 900),
    room_c=20,
)
BASE = Case(
    CONE, grind_from_figures(660, 1.0, 0.085), Outcome(), TARGETS["classical"], "grind-first", GRINDER, "5", "light"
)

COARSER, FINER = ("grind", "coarser"), ("grind", "finer")
PAIR = ("compensated", "coarser-shorter")
SOFTER, MORE, LESS = ("pours", "softer"), ("agitation", "more"), ("agitation", "less")
COOLER, HOTTER = ("temperature", "cooler"), ("temperature", "hotter")
LONGER_RATIO, SHORTER_RATIO = ("ratio", "longer"), ("ratio", "shorter")
RESEAT, RINSE = ("seating", "reseat"), ("seating", "rinse")
LONGER, SHORTER = ("time", "longer"), ("time", "shorter")
BYPASS, AGAIN, EVENLY, KEEP = ("bypass-water", "add"), ("repeat", "again"), ("repeat", "evenly"), ("none", "keep")
TASTE_FIRST, MORE_COFFEE = ("none", "taste"), ("dose", "more")
Remedy = tuple[str, str]


@dataclass(frozen=True)
class Cup:
    """Evidence, what may come first (in all styles, or by style), what must not, and the cause that must weigh most."""

    outcome: Outcome
    first: set[Remedy]
    never: set[Remedy] = field(default_factory=set)
    cause: str | None = None
    by_order: dict[str, set[Remedy]] = field(default_factory=dict)
    more: dict[str, Any] = field(default_factory=dict)

    def case(self, order: str) -> Case:
        plan = self.more.get("plan", BASE.plan)
        return replace(BASE, outcome=self.outcome, change_first=order, roast=plan.roast, **self.more)  # type: ignore[arg-type]


def out(
    bare: float | None = None,
    tds: float | None = None,
    drink: float | None = None,
    bed: tuple[str, ...] = (),
    **taste: int,
) -> Outcome:
    stalled, stuck = bool(taste.pop("stalled", 0)), bool(taste.pop("stuck", 0))
    return Outcome(bare, None, stalled or None, tds, drink, taste, bed, stuck)


WIDE, DUSTY = grind_from_figures(660, 1.6, 0.10), grind_from_figures(660, 1.0, 0.16)
MEDIUM, DARK = replace(CONE, roast="medium"), replace(CONE, roast="dark", water_c=97)
CUPS: dict[str, Cup] = {
    # Over and under, by taste, time and measure
    "late, bitter, mud": Cup(out(300, 1.56, 246, ("mud",), bitter=2, drying=1), {COARSER}, {FINER, HOTTER}, "too-fine"),
    "bitter and drying by taste alone": Cup(
        out(bitter=2, drying=1), {COARSER, COOLER}, {FINER, HOTTER, LONGER_RATIO}, "too-fine"
    ),
    "over by measure alone": Cup(out(260, 1.62, 246), {COARSER, PAIR}, {FINER, HOTTER, SHORTER_RATIO}, "too-fine"),
    "late and heavy": Cup(out(290, None, None, ("shiny",), heavy=2, muddled=1), {COARSER}, {FINER, HOTTER}, "too-fine"),
    "early, sour, thin, weak": Cup(out(130, 1.05, 250, sour=2, thin=1), {FINER}, {COARSER, COOLER}, "too-coarse"),
    "under by measure alone": Cup(out(150, 1.08, 250), {FINER}, {COARSER, COOLER, LONGER_RATIO}, "too-coarse"),
    "sour and sharp by taste alone": Cup(out(sour=2, sharp=1), {FINER, HOTTER, MORE}, {COARSER, COOLER}, "too-coarse"),
    "salty, far under": Cup(out(120, 0.95, 250, salty=2, thin=2), {FINER}, {COARSER, COOLER}, "too-coarse"),
    # Strength against extraction
    "strong, extraction right": Cup(
        out(200, 1.62, 220, strong=3), {LONGER_RATIO, BYPASS}, {FINER, SHORTER_RATIO}, "too-little-water"
    ),
    "weak, extraction right": Cup(
        out(200, 1.05, 325, weak=3),
        {SHORTER_RATIO},
        {COARSER, LONGER_RATIO, BYPASS},
        "too-much-water",
        {"grind-last": {SHORTER_RATIO, MORE_COFFEE}},
    ),
    "weak and sour": Cup(out(140, 1.0, 250, weak=2, sour=2), {FINER, HOTTER, MORE}, {COARSER, LONGER_RATIO, BYPASS}),
    "strong and sour": Cup(
        out(180, 1.65, 190, strong=2, sour=2), {LONGER_RATIO, FINER, BYPASS}, {COARSER, COOLER, SHORTER_RATIO}
    ),
    "strong and bitter": Cup(
        out(270, 1.75, 235, strong=2, bitter=2), {COARSER, LONGER_RATIO}, {FINER, HOTTER, SHORTER_RATIO}
    ),
    "weak and bitter": Cup(
        out(250, 1.08, 340, weak=2, bitter=2), {SHORTER_RATIO, COARSER, PAIR, COOLER}, {FINER, LONGER_RATIO, BYPASS}
    ),
    # Leave it, brew it again
    "in the box and sweet": Cup(out(200, 1.33, 248, sweet=2), {KEEP}),
    "in the box, late, no complaint": Cup(out(290, 1.34, 250, balanced=2), {KEEP}, {COARSER}),
    "one faint word": Cup(out(195, sour=1), {AGAIN}, {FINER}),
    "nothing said": Cup(Outcome(), {TASTE_FIRST}, {FINER, COARSER}, "hand"),
    # Stalls, easiest to check first
    "stalled, bitter, mud": Cup(
        out(480, None, None, ("mud",), stalled=1, bitter=2),
        {COARSER, PAIR},
        {FINER, HOTTER, MORE},
        "too-fine",
        {"technique-first": {COARSER, SOFTER, PAIR}},
    ),
    "stalled, clean flat bed": Cup(
        out(420, None, None, ("flat",), stalled=1), {RESEAT}, {FINER, COOLER, MORE}, "paper"
    ),
    "stalled after hard pours": Cup(
        out(420, None, None, ("mud", "cratered"), stalled=1),
        {COARSER},  # pouring softer is worth a second of three minutes here
        {FINER, MORE},
        "too-fine",
        more={"plan": HARD},
    ),
    "stalled on a choked flat": Cup(
        out(430, None, None, ("flat",), stalled=1),
        {("mesh", "under-paper"), RESEAT},
        {FINER, MORE},
        "narrow-brewer",
        more={"plan": FLAT},
    ),
    "stalled with a big dose": Cup(
        out(520, None, None, (), stalled=1),
        {("dose", "less"), COARSER},
        {FINER, ("dose", "more")},
        None,
        more={"plan": replace(CONE, dose_g=32, pours=tuple(replace(p, water_g=p.water_g * 32 / 17) for p in STAGED))},
    ),
    "dusty grind, late, drying": Cup(
        out(300, None, None, ("shiny", "mud"), drying=2),
        {COARSER, ("sieve", "fines")},
        {FINER, HOTTER, MORE},
        None,
        more={"grind": DUSTY},
    ),
    # Both at once
    "sour and bitter, holes": Cup(
        out(205, 1.31, 246, ("holes",), sour=2, bitter=2), {EVENLY}, {FINER, COARSER, HOTTER, COOLER}, "uneven"
    ),
    "sour and bitter, grounds on the wall": Cup(
        out(200, None, None, ("stranded",), sour=2, bitter=1), {EVENLY, MORE}, {COARSER, COOLER}, "uneven"
    ),
    "sour and bitter, wide grind": Cup(
        out(210, None, None, ("flat",), sour=2, bitter=2, muddled=1),
        {("sieve", "fines"), EVENLY},
        {FINER, HOTTER},
        "wide-grind",
        {"technique-first": {("sieve", "fines"), EVENLY, MORE}},
        {"grind": WIDE},
    ),
    # Heat
    "dark roast off the boil, harsh": Cup(
        out(195, harsh=2, bitter=1),
        {COOLER, COARSER},
        {HOTTER, FINER},
        None,
        {"technique-first": {COOLER}},
        {"plan": DARK},
    ),
    "light roast, cool water, sour": Cup(
        out(205, sour=2),
        {HOTTER, FINER},
        {COOLER, COARSER},
        "too-cool",
        {"technique-first": {HOTTER}},
        {"plan": replace(CONE, water_c=84)},
    ),
    "cold glass brewer, sour": Cup(
        out(190, sour=2, thin=1),
        {("preheat", "warm")},
        {COOLER, COARSER},
        "cold-brewer",
        more={"plan": replace(CONE, heat=Heat("ceramic", False))},
    ),
    # Paper, silt, gear, coffee, water
    "papery": Cup(out(200, 1.33, 246, papery=2), {RINSE}, {FINER, COARSER}, "papery"),
    "silty press": Cup(out(silty=2), {("filter", "paper-under")}, {FINER, MORE}, "silt", more={"plan": PRESS}),
    "stuck plunger": Cup(out(stuck=1, bitter=1), {COARSER}, {FINER, MORE}, "stuck-plunger", more={"plan": STIRRED}),
    "dirty gear, harsh": Cup(
        out(200, harsh=2), {("repeat", "clean")}, {FINER, HOTTER}, "dirty", more={"gear_clean": False, "plan": MEDIUM}
    ),
    "very young coffee, cratered": Cup(
        out(190, None, None, ("cratered",), sour=1, bitter=1),
        {("rest", "wait"), EVENLY},
        {FINER, COARSER},
        None,
        more={"days_off_roast": 1},
    ),
    "old coffee, hollow": Cup(
        out(200, 1.30, 246, hollow=2), {("coffee", "fresher")}, {COARSER, COOLER}, "stale", more={"days_off_roast": 70}
    ),
    "ground yesterday, hollow": Cup(
        out(200, 1.30, 246, hollow=2), {("coffee", "fresher")}, {COARSER}, "stale", more={"ground_age_h": 40}
    ),
    "alkaline water, hollow": Cup(
        out(200, 1.30, 246, hollow=2), {("water", "change")}, {COARSER, FINER}, "water", more={"water": "alkaline"}
    ),
    # Steeps
    "press, bitter": Cup(
        out(bitter=2, drying=1), {SHORTER, COARSER, COOLER}, {FINER, LONGER, MORE}, None, more={"plan": PRESS}
    ),
    "press, sour and thin": Cup(
        out(sour=2, thin=1), {LONGER, FINER, MORE}, {COARSER, SHORTER, LESS}, None, more={"plan": PRESS}
    ),
    "press, unstirred, hollow and sour": Cup(
        out(hollow=2, sour=1),
        {MORE, LONGER, FINER},
        {COARSER, SHORTER, LESS},
        None,
        {"technique-first": {MORE, LONGER}},
        {"plan": PRESS},
    ),
    "stirred short, muddled and bitter": Cup(
        out(muddled=2, bitter=2),
        {LESS, COARSER, SHORTER},
        {FINER, LONGER, MORE},
        None,
        {"technique-first": {LESS, SHORTER}},
        {"plan": STIRRED},
    ),
    "concentrate too strong": Cup(out(strong=2), {BYPASS}, {FINER, LONGER, MORE}, "undiluted", more={"plan": TUBE}),
    "diluted too far": Cup(
        replace(out(None, 1.1, 150, weak=2), added_water_g=60.0),
        {("dilution", "less")},
        {FINER, LONGER, BYPASS},
        "diluted-too-far",
        more={"plan": TUBE, "diluted": True},
    ),
    "pressed late and bitter": Cup(
        out(bitter=2),
        {SHORTER},
        {FINER, LONGER, COARSER},
        "pressed-late",
        more={"plan": replace(PRESS, steep=Steep(480, 0, 20)), "planned_steep_s": 240.0},
    ),
    "pressed early and sour": Cup(
        out(sour=2, thin=1),
        {LONGER},
        {FINER, SHORTER, COARSER},
        "pressed-early",
        more={"plan": replace(PRESS, steep=Steep(120, 0, 20)), "planned_steep_s": 240.0},
    ),
    "concentrate too bitter": Cup(
        out(bitter=3), {SHORTER, COARSER, COOLER}, {FINER, LONGER, HOTTER}, None, more={"plan": TUBE}
    ),
    "concentrate too sour": Cup(
        out(sour=3), {LONGER, FINER, HOTTER, MORE}, {COARSER, SHORTER, COOLER}, None, more={"plan": TUBE}
    ),
    "cold steep, thin and sour": Cup(
        out(thin=2, sour=1), {LONGER, FINER, MORE}, {COARSER, SHORTER, HOTTER}, None, more={"plan": COLD}
    ),
    "cold steep, bitter": Cup(
        out(bitter=2, drying=1), {SHORTER, COARSER}, {FINER, LONGER, COOLER}, None, more={"plan": COLD}
    ),
    # Without a dial or figures
    "bitter, no grinder known": Cup(
        out(290, bitter=2, drying=1), {COARSER}, {FINER, HOTTER}, "too-fine", more={"grinder": None, "setting": None}
    ),
    "asked for stronger": Cup(
        out(200, 1.33, 248),
        {SHORTER_RATIO, FINER, MORE_COFFEE},
        {LONGER_RATIO, COARSER, BYPASS},
        None,
        more={"target": TARGETS["stronger"]},
    ),
    "asked for lighter": Cup(
        out(200, 1.33, 248), {LONGER_RATIO, BYPASS}, {SHORTER_RATIO, FINER}, None, more={"target": TARGETS["lighter"]}
    ),
}


@cache
def simulated(name: str) -> SimulatedMoves:
    return simulate_moves(CUPS[name].case("grind-first"))


@cache
def advised(name: str, order: str) -> Advice:
    return advise(CUPS[name].case(order), simulated(name))


@pytest.mark.parametrize("order", ORDERS)
@pytest.mark.parametrize("name", CUPS)
def test_the_sensible_move_comes_first(name: str, order: str) -> None:
    cup, answer = CUPS[name], advised(name, order)
    moves = [(m.kind, m.direction) for m in answer.moves]
    assert moves[0] in cup.by_order.get(order, cup.first), [(m.kind, m.direction, m.end) for m in answer.moves[:4]]
    assert not cup.never & set(moves[:1])
    if cup.cause:
        assert answer.causes[0].cause == cup.cause, [(c.cause, round(c.weight, 2)) for c in answer.causes[:4]]
    first = answer.moves[0]
    assert first.reason and first.wrong_if and sum(c.weight for c in answer.causes) == pytest.approx(1)


def test_there_are_forty_cases_and_every_cause_is_reached() -> None:
    assert len(CUPS) >= 40
    weighty = {c.cause for name in CUPS for c in advised(name, "grind-first").causes[:3] if c.weight > 0.05}
    assert {c.name for c in CAUSES} - weighty == set()


def test_the_orders_differ() -> None:
    firsts = {s: [(m.kind, m.direction, m.end) for m in (advised(n, s).moves[0] for n in CUPS)] for s in ORDERS}
    for a in ORDERS:
        for b in ORDERS:
            assert a == b or firsts[a] != firsts[b], (a, b)
