"""What a change of one thing does to time, yield and strength: rules of practice with their usual size, as a table."""

from dataclasses import dataclass, replace

import numpy as np
import pytest
from benchmarks.predicting import Reference

from hakari.core.brew.brewers import BUILT_IN
from hakari.core.brew.schedule import Action, Heat, Plan, Pour, Steep
from hakari.core.brew.styles import draft, style_of
from hakari.core.extraction.extract import extract
from hakari.core.extraction.result import Extraction
from hakari.core.flow.result import Flow
from hakari.core.flow.simulate import simulate_flow
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_figures

GRIND = grind_from_figures(700, 1.1, 0.08)
PRESS_GRIND = grind_from_figures(750, 1.1, 0.08)
DRIPPERS = ("ribbed-cone", "part-ribbed-cone", "smooth-cone", "flat-bottom")
ANY = (-np.inf, np.inf)
Range = tuple[float, float]


def drip(brewer: str, dose_g: float = 17.0, water_g: float = 280.0, water_c: float = 93.0) -> Plan:
    """Return a staged brew."""
    made = draft(style_of("staged"), dose_g, water_g, BUILT_IN[brewer], {})
    return Plan(BUILT_IN[brewer], dose_g, water_c, "light", made.pours, made.actions)


def in_pours(brewer: str, count: int) -> Plan:
    """Return a brew without a bloom in equal pours, each after the one before has drained."""
    each = 280.0 / count
    first = Pour(each, 30.0 / count**0.5, 0.0)
    rest = (Pour(each, 30.0 / count**0.5, start_when="drained"),) * (count - 1)
    return replace(drip(brewer), pours=(first, *rest), actions=())


def handled(brewer: str, *actions: Action) -> Plan:
    return replace(drip(brewer), actions=actions)


def press(seconds: float = 240.0, dose_g: float = 30.0, stir_s: float = 0.0) -> Plan:
    return Plan(
        BUILT_IN["press-pot"], dose_g, 95, "medium", (Pour(500, 15, 0.0),), heat=Heat("glass", True, True),
        filter_name="metal", steep=Steep(seconds, stir_s, 20),
    )  # fmt: skip


WELL = (Action(10.0, "swirl"), Action(60.0, "stir"), Action(100.0, "swirl"))


@dataclass(frozen=True)
class Row:
    """One change: time to the bare bed in %, yield in points, strength in points, and the most that the strength may be."""

    name: str
    before: Plan
    after: Plan
    time: Range = ANY
    ey: Range = ANY
    tds: Range = ANY
    most_tds: float = np.inf
    grinds: tuple[Grind, Grind] = (GRIND, GRIND)


def rows_of(brewer: str) -> list[Row]:
    base = drip(brewer)
    finer, clean = grind_from_figures(630, 1.1, 0.08), grind_from_figures(700, 1.1, 0.04)
    at_17 = drip(brewer, 280 / 17)
    return [
        Row("10 % finer", base, base, (4, 12), (0.8, 1.6), grinds=(GRIND, finer)),
        Row("4 to 8 % fines", base, base, (15, 35), (0.3, 1.2), grinds=(clean, GRIND)),
        Row("1:17 to 1:14 by coffee", at_17, drip(brewer, 20), (3, 20), (-1.8, -0.5), (0.10, 0.25)),
        Row("1:17 to 1:10 by coffee", at_17, drip(brewer, 28), (5, 45), (-5, -2), most_tds=2.3),
        Row("dose ×1.5, same ratio", base, drip(brewer, 25.5, 420), (20, 60), (0.3, 1.5)),
        Row("10 °C cooler", base, drip(brewer, water_c=83), (4, 10), (-1.8, -0.8)),
        Row("one to four pours", in_pours(brewer, 1), in_pours(brewer, 4), (0, np.inf), (0.5, 2.5)),
        Row("stirred and swirled", handled(brewer), handled(brewer, *WELL), (-10, 15), (0.3, 1.5)),
    ]


ROWS = [(f"{brewer}: {row.name}", row) for brewer in DRIPPERS for row in rows_of(brewer)] + [
    (
        f"smooth against ribbed cone, {dose} g",
        Row("", drip("ribbed-cone", dose, water), drip("smooth-cone", dose, water), (5, 40), (0, 5), (0, 1)),
    )
    for dose, water in ((15, 250), (17, 280), (20, 330))
] + [
    (row.name, row)
    for row in (
        Row("steep 2 to 4 min", press(120), press(240), ey=(2, 5), grinds=(PRESS_GRIND, PRESS_GRIND)),
        Row("steep stirred throughout", press(), press(stir_s=240), ey=(1.5, 4), grinds=(PRESS_GRIND, PRESS_GRIND)),
        Row("press 1:17 to 1:14 by coffee", press(dose_g=500 / 17), press(dose_g=500 / 14), ey=(-1.2, -0.3),
            tds=(0.15, 0.30), grinds=(PRESS_GRIND, PRESS_GRIND)),
    )
]  # fmt: skip


def brewed(plan: Plan, grind: Grind = GRIND) -> tuple[Flow, Extraction]:
    flow = simulate_flow(plan, grind)
    return flow, extract(plan, grind, flow)


@pytest.mark.parametrize("row", [row for _, row in ROWS], ids=[name for name, _ in ROWS])
def test_a_change_has_its_usual_size(row: Row) -> None:
    (before, weak), (after, cup) = (brewed(p, g) for p, g in zip((row.before, row.after), row.grinds, strict=True))
    slower = 100 * (after.bare_bed_s / before.bare_bed_s - 1)
    changes = {"time": slower, "ey": cup.ey_percent - weak.ey_percent, "tds": cup.tds_percent - weak.tds_percent}
    for name, change in changes.items():
        low, high = getattr(row, name)
        assert low <= change <= high, f"{name} {change:+.2f}, usually {low} to {high}"
    assert cup.tds_percent <= row.most_tds


def test_thirds_of_the_drink() -> None:
    _, cup = brewed(drip("ribbed-cone"))
    solids = np.array([t / (100 - t) for t in cup.tds_by_third_percent])
    for share, (low, high) in zip(100 * solids / solids.sum(), ((55, 68), (20, 30), (9, 16)), strict=True):
        assert low <= share <= high


def test_the_slurry_stays_between_kettle_and_room() -> None:
    hot, _ = brewed(drip("ribbed-cone", water_c=95))
    assert hot.celsius.max() < 95
    wet = (hot.t_s > 60) & (hot.level_mm > 5)
    assert 84 <= hot.celsius[wet].mean() <= 92
    # A cold brewer and a warm room: never outside the two.
    for plan in (replace(drip("flat-bottom", water_c=20), heat=Heat("ceramic", False), room_c=30), press()):
        flow, _ = brewed(plan)
        low, high = sorted((plan.room_c, plan.water_c))
        assert flow.celsius.min() >= low - 1e-9 and flow.celsius.max() <= high + 1e-9


SOLVED: dict[str, tuple[float, float, float]] = {}


def solved(plan: Plan, grind: Grind) -> tuple[float, float, float]:
    """Each plan once: it takes the integrator many seconds, and the rows begin from the same one."""
    key = f"{plan} {grind}"
    if key not in SOLVED:
        SOLVED[key] = Reference(plan, grind).solve("RK23")  # half the work; strength differs by 0.02 %
    return SOLVED[key]


@pytest.mark.parametrize("name", ["10 % finer", "1:17 to 1:10 by coffee", "10 °C cooler"])
def test_the_stepped_model_agrees_with_solve_ivp(name: str) -> None:
    """The same equations with every pool of every size class in every layer, given to SciPy's integrator."""
    row = next(r for r in rows_of("flat-bottom") if r.name == name)
    for plan, grind in zip((row.before, row.after), row.grinds, strict=True):
        still = replace(plan, actions=())  # a swirl is a jump, which an integrator does not take
        flow, cup = brewed(still, grind)
        bare_s, tds, ey = solved(still, grind)
        assert flow.bare_bed_s == pytest.approx(bare_s, rel=0.01)
        assert (cup.tds_percent, cup.ey_percent) == pytest.approx((tds, ey), rel=0.01)
