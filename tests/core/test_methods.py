"""Every style and method: plans that add up, steeps by their laws, cold and diluted drinks by mass and heat."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.brew.amounts import amounts
from hakari.core.brew.brewers import BUILT_IN, built_in
from hakari.core.brew.dilution import dilute, drops_per_second, over_ice, rescue_g, steps_to
from hakari.core.brew.schedule import Action, Heat, Plan, Pour, Steep, check_plan
from hakari.core.brew.styles import STYLES, draft
from hakari.core.brew.units import parse_celsius, parse_number
from hakari.core.errors import InputError
from hakari.core.extraction import percolation
from hakari.core.extraction.extract import extract, extract_all
from hakari.core.extraction.immersion import participating_fraction
from hakari.core.extraction.immersion import steep as steep_extraction
from hakari.core.extraction.mass_transfer import exchange, exchanges_of, full_tanks
from hakari.core.extraction.percolation import percolate
from hakari.core.extraction.prediction import predict
from hakari.core.extraction.soluble_fractions import BOUND_G_PER_G, SOLUBLE_SHARE, make_pools
from hakari.core.flow.percolation import simulate_percolation
from hakari.core.flow.simulate import simulate_flow
from hakari.core.psd.grind_sources import grind_from_figures

GRIND = grind_from_figures(750, 1.1, 0.08)


def planned(style, brewer=None, dose=None, options=None) -> Plan:
    b = built_in(brewer or style.brewers[0])
    g = dose or float(np.clip(17, *style.dose_g))
    made = draft(style, g, style.ratio * g, b, options or {})
    heat = Heat(b.material, style.water_c > 50)
    room = 22.0 if made.room_c is None else made.room_c
    return Plan(b, g, style.water_c, "medium", made.pours, made.actions, heat, b.filter_name, made.steep, room)


EVERY = [
    (s, brewer, {o.name: v}) for s in STYLES.values() for brewer in s.brewers for o in s.options or ()
    for v, _ in o.values
] + [(s, s.brewers[0], {}) for s in STYLES.values()]  # fmt: skip


@pytest.mark.parametrize(("style", "brewer", "options"), EVERY, ids=lambda v: getattr(v, "name", None) or str(v))
def test_every_choice_of_every_style_pours_what_was_asked(style, brewer: str, options: dict[str, str]) -> None:
    b = built_in(brewer)
    for dose in (style.dose_g[0], sum(style.dose_g) / 2, style.dose_g[1]):
        made = draft(style, dose, style.ratio * dose, b, options)
        poured = sum(p.water_g for p in made.pours)
        assert poured + made.dilution_g + made.ice_g == pytest.approx(style.ratio * dose)
        check_plan(planned(style, brewer, dose, options))


@pytest.mark.parametrize("name", STYLES)
def test_every_default_plan_is_plausible_and_conserves_its_water(name: str) -> None:
    plan = planned(STYLES[name])
    # The grind that each wants: the middle of its method's window, finer or coarser as the style says.
    p = predict(plan, GRIND)
    f = p.flow
    poured = f.poured_g[-1]
    assert np.abs(f.poured_g - f.drink_g - f.absorbed_g - f.standing_g).max() < 1e-3 * poured
    assert f.finished and not f.stalled and p.cup.drink_g < poured
    assert (9 if name == "concentrate" else 12) < p.cup.ey_percent < p.cup.ey_total_percent + 1e-9 < 29
    assert p.cup.ey_percent == pytest.approx(p.cup.tds_percent * p.cup.drink_g / plan.dose_g)
    solids = p.cup.tds_percent * p.cup.drink_g / 100
    thirds = np.array(p.cup.tds_by_third_percent) / 100
    assert (thirds / (1 - thirds) * (p.cup.drink_g - solids) / 3).sum() == pytest.approx(solids, rel=1e-6)


def steeped(seconds: float, stir: float = 0.0, celsius: float = 93.0, ratio: float = 16.0, lid=True) -> Plan:
    pot = replace(BUILT_IN["press-pot"], material="plastic")
    return Plan(
        pot, 20, celsius, "medium", (Pour(20 * ratio, 5, 0.0),), heat=Heat("plastic", True, lid), filter_name="metal",
        steep=Steep(seconds, stir, 10.0), room_c=celsius if celsius < 40 else 22.0,
    )  # fmt: skip


def test_a_steep_tends_to_balance_and_never_beyond() -> None:
    yields = [
        extract(p, GRIND, simulate_flow(p, GRIND)).ey_total_percent for p in map(steeped, (60, 240, 900, 3600, 36000))
    ]
    assert all(a < b for a, b in zip(yields[:-1], yields[1:], strict=True))
    # Balance: of 16 g a gram, one is in the grounds and is as strong as the rest; the solid keeps as much as some more would.
    all_of_it = 100 * SOLUBLE_SHARE["medium"] * 16 / (16 + BOUND_G_PER_G)
    endless = steeped(48 * 3600, 60.0, 90.0)
    total = steep_extraction(endless, GRIND, simulate_flow(endless, GRIND), reach=1.0).ey_total_percent
    assert total == pytest.approx(all_of_it, rel=0.005) and total <= all_of_it + 1e-6
    # One endless step lands on balance exactly, from either side.
    pools = make_pools(GRIND, "medium")
    endlessly = np.full_like(pools.rate_per_s, np.inf)
    held = SOLUBLE_SHARE["medium"]
    tanks = full_tanks(pools, 2)
    (row,) = exchanges_of(pools, endlessly[None], np.array([15.0])).rows(slice(None), 1)
    exchange(tanks, *row)
    left, solids = tanks[0, :-1], tanks[0, -1]
    in_grounds = (1 + BOUND_G_PER_G) * solids / 15.0
    assert left * held == pytest.approx(np.broadcast_to(in_grounds, left.shape), rel=1e-9)
    assert solids + in_grounds == pytest.approx([held, held])
    # Without liquid nothing happens.
    before = tanks.copy()
    (row,) = exchanges_of(pools, endlessly[None], np.array([0.0])).rows(slice(None), 1)
    exchange(tanks, *row)
    assert np.array_equal(tanks, before)


def test_brews_extracted_side_by_side_are_each_as_alone() -> None:
    plans = [planned(style) for style in STYLES.values()]
    # Short and long, with a valve that opens and without, by drops and steeped; more than are washed at a time.
    brews = [
        (p, g, simulate_flow(p, g, step_s=s)) for p in plans for g in (GRIND, GRIND.scaled(0.8)) for s in (0.5, 1.0)
    ]
    assert len(brews) > 3 * percolation.TOGETHER
    for brew, cup in zip(brews, extract_all(brews), strict=True):
        alone = extract(*brew)
        assert (cup.ey_percent, cup.tds_percent) == pytest.approx((alone.ey_percent, alone.tds_percent), rel=1e-12)
        assert cup.tds_by_third_percent == pytest.approx(alone.tds_by_third_percent, rel=1e-9)
        assert cup.ey_by_size_percent == pytest.approx(alone.ey_by_size_percent, rel=1e-9)
    assert extract_all([]) == []


def test_stirring_heat_and_fineness_speed_a_steep() -> None:
    def ey(plan: Plan, grind=GRIND) -> float:
        return extract(plan, grind, simulate_flow(plan, grind)).ey_percent

    assert ey(steeped(240, 30)) > ey(steeped(240)) > ey(steeped(240, 0, 80))
    assert ey(steeped(240), grind_from_figures(600, 1.1, 0.1)) > ey(steeped(240), grind_from_figures(1000, 1.1, 0.05))
    assert participating_fraction(steeped(240)) < participating_fraction(steeped(240, 30)) < 1


def test_worked_values_of_steeps() -> None:
    press = [extract(steeped(240), g, simulate_flow(steeped(240), g)).ey_percent for g in
             (grind_from_figures(um, 1.1, 0.08 * (um / 700) ** -1.3) for um in (700, 825, 950))]  # fmt: skip
    assert min(press) > 14.3 and max(press) < 17.5
    coarse = grind_from_figures(1100, 1.1, 0.05)
    for ratio, low, high in ((8.0, 19.5, 21.8), (12.0, 22.0, 24.5)):
        jar = replace(steeped(14 * 3600, 15, 20.0, ratio), brewer=BUILT_IN["cold-jar"])
        assert low < extract(jar, coarse, simulate_flow(jar, coarse)).ey_percent < high


def test_percolation_leaves_no_less_in_the_cup_than_a_steep_of_the_same_contact(monkeypatch) -> None:
    cone = BUILT_IN["smooth-cone"]
    pours = (Pour(40, 8, 0.0), Pour(120, 20, 40.0), Pour(120, 20, 85.0))
    heat = Heat("plastic", True, True)
    drip = Plan(cone, 17, 93, "medium", pours, heat=heat)
    flow = simulate_percolation(drip, GRIND)
    washed = percolate(drip, GRIND, flow, evenness=1.0)
    pot = replace(BUILT_IN["press-pot"], material="plastic", held_g_per_g=float((280 - flow.drink_g[-1]) / 17))
    same = Plan(pot, 17, 93, "medium", (Pour(280, 8, 0.0),), heat=heat, steep=Steep(float(flow.bare_bed_s) - 10, 0, 10))
    still = simulate_flow(same, GRIND)
    # As both really are: a bed that is passed by in part, and a tank with a crust.
    assert washed.ey_percent >= steep_extraction(same, GRIND, still).ey_percent
    # As both would be at best: all of the bed's liquid moves, and all of the grounds take part.
    monkeypatch.setattr(percolation, "RENEWAL_TURNS", 1e-6)
    ideal = percolate(drip, GRIND, flow, evenness=1.0)
    assert ideal.ey_percent >= steep_extraction(same, GRIND, still, reach=1.0).ey_percent
    assert ideal.ey_percent > washed.ey_percent


def test_a_closed_valve_steeps_and_an_open_one_is_a_dripper() -> None:
    style = STYLES["steep-and-release"]
    closed = planned(style)
    f = simulate_flow(closed, GRIND)
    opened = next(a.at_s for a in closed.actions if a.do == "open-valve")
    assert f.drink_g[f.t_s < opened].max() == 0 and f.drink_g[-1] > 0
    assert extract(closed, GRIND, f).ey_percent > 15
    never = replace(closed, actions=())
    as_cone = replace(never, brewer=replace(never.brewer, way="drip"))
    assert simulate_flow(never, GRIND).bare_bed_s == simulate_flow(as_cone, GRIND).bare_bed_s


def test_thicker_paper_is_slower_metal_is_quicker() -> None:
    base = planned(STYLES["staged"])
    times = [
        simulate_flow(replace(base, filter_name=f), GRIND).bare_bed_s
        for f in ("metal", "cloth", "paper", "thick-paper")
    ]
    assert all(a < b for a, b in zip(times[:-1], times[1:], strict=True)), times


@given(st.floats(50, 300), st.floats(1.5, 8), st.floats(0, 500))
def test_dilution_keeps_solids_and_heat(concentrate: float, tds: float, water: float) -> None:
    step = dilute(concentrate, tds, 70.0, water, 90.0)
    assert step.tds_percent * step.cup_g == pytest.approx(tds * concentrate)
    assert step.celsius * step.cup_g == pytest.approx(concentrate * 70 + water * 90)
    steps = steps_to(concentrate, tds, 70.0, 1.3, 90.0)
    assert steps[-1].tds_percent == pytest.approx(1.3, rel=0.01) and steps[0].added_g == 0
    weak = dilute(concentrate, tds, 70.0, 20 * concentrate, 90.0)
    if weak.tds_percent < 1.3 < tds:
        back = rescue_g(weak.cup_g, weak.tds_percent, 1.3, tds)
        assert (weak.cup_g * weak.tds_percent + back * tds) / (weak.cup_g + back) == pytest.approx(1.3)


def test_ice_and_drops() -> None:
    celsius, melted = over_ice(170, 80, 110)
    assert melted == 110 and 15 < celsius < 25
    cold, part = over_ice(50, 20, 400)
    assert cold == 0 and part == pytest.approx(50 * 4.19 * 20 / 334)
    assert drops_per_second(500, 5 * 3600) * 0.05 * 5 * 3600 == pytest.approx(500)


@given(st.floats(8, 60), st.floats(8, 20))
def test_any_two_amounts_give_the_rest(dose: float, ratio: float) -> None:
    cone = BUILT_IN["ribbed-cone"]
    a = amounts(cone, dose, ratio, None, None)
    for given_ in (
        (dose, None, a.water_g, None), (dose, None, None, a.cup_g), (None, ratio, a.water_g, None),
        (None, ratio, None, a.cup_g), (None, None, a.water_g, a.cup_g),
    ):  # fmt: skip
        b = amounts(cone, *given_)
        assert (b.dose_g, b.water_g, b.cup_g) == pytest.approx((a.dose_g, a.water_g, a.cup_g))


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({"brewer": BUILT_IN["pressure-shot"], "steep": None}, "flow-not-predicted"), ({"steep": None}, "steep-missing"),
        ({"steep": Steep(3, 0, 20)}, "steep-malformed"), ({"filter_name": "sock"}, "unknown-filter"),
        ({"steep": Steep(240, 400, 20)}, "steep-malformed"),
    ],
)  # fmt: skip
def test_methods_that_cannot_be_predicted_are_refused(changes, code: str) -> None:
    with pytest.raises(InputError) as refusal:
        check_plan(replace(steeped(240), **changes))
    assert refusal.value.code == code and refusal.value.remedy


def test_styles_refuse_what_they_are_not_made_for() -> None:
    cases = (("staged", 17, 900, {}, "ratio-out-of-range"), ("staged", 17, 280, {"stages": "9"}, "option-unknown"),
             ("long-steep", 17, 280, {}, "brewer-not-for-style"))  # fmt: skip
    for name, dose, water, options, code in cases:
        brewer = built_in("plunger-tube" if name == "long-steep" else "ribbed-cone")
        with pytest.raises(InputError) as refusal:
            draft(STYLES[name], dose, water, brewer, options)
        assert refusal.value.code == code


@pytest.mark.parametrize(
    ("text", "celsius"), [("93", 93), ("203 F", 95), ("0 min", 99), ("5 min off the boil", 95.8), ("20min", 87.0)]
)
def test_heat_as_people_say_it(text: str, celsius: float) -> None:
    assert parse_celsius(text, "") == pytest.approx(celsius, abs=0.15)


def test_cups_are_counted() -> None:
    assert parse_number("2 x 250 g", "", ("g",)) == 500 and parse_number("3×180", "") == 540


@pytest.mark.parametrize(
    ("name", "option", "typed", "seconds"),
    [
        ("cold-steep", "hours", "4", 4 * 3600), ("cold-steep", "hours", "16 h", 16 * 3600),
        ("long-steep", "minutes", "3:30", 210), ("long-steep", "minutes", "5 s", 5), ("long-steep", "minutes", "12 h", 43200),
        ("bloom-and-steep", "minutes", "7.5", 450), ("concentrate", "seconds", "2:00", 120),
        ("stirred-steep", "stir", "3 min", None),
    ],
)  # fmt: skip
def test_any_time_of_a_steep_can_be_typed(name: str, option: str, typed: str, seconds: float | None) -> None:
    style = STYLES[name]
    brewer = BUILT_IN[style.brewers[0]]
    dose = max(17.0, style.dose_g[0])
    made = draft(style, dose, style.ratio * dose, brewer, {option: typed})
    assert made.steep is not None
    assert made.steep.seconds == seconds if seconds else made.steep.stir_s == 180


@pytest.mark.parametrize("name", ["long-steep", "stirred-steep", "concentrate"])
def test_a_steep_takes_any_time_and_any_stirring_at_once(name: str) -> None:
    style = STYLES[name]
    brewer = BUILT_IN[style.brewers[0]]

    def steep_of(minutes: str, stir: str) -> Steep:
        time = {"seconds": f"{60 * float(minutes):g}"} if name == "concentrate" else {"minutes": minutes}
        made = draft(style, 30, 450, brewer, {**time, "stir": stir})
        assert made.steep is not None and made.pours[0].duration_s <= made.steep.seconds
        check_plan(Plan(brewer, 30, 93, "medium", made.pours, made.actions, steep=made.steep))
        assert ("The press waits until the stirring is done." in made.by_hand) == (
            made.steep.seconds > 60 * float(minutes)
        )
        return made.steep

    long = steep_of("7.5", "75 s")
    assert (long.seconds, long.stir_s) == (450, 75)
    assert steep_of("12", "0").stir_s == 0 and steep_of("12", "12 min").stir_s == 720
    # A pour of 450 g has to be in within five seconds; half a minute of stirring goes on past them.
    short = steep_of(str(5 / 60), "30")
    assert (short.seconds, short.stir_s) == (35, 30)
    assert steep_of("0.25", "0").seconds == 15


def test_a_concentrate_starts_at_one_to_three_and_ice_may_be_any_share() -> None:
    short = draft(STYLES["concentrate"], 20, 240, BUILT_IN["plunger-tube"], {"short": "1:3"})
    assert (short.pours[0].water_g, short.dilution_g) == (60, 180)
    iced = draft(STYLES["over-ice"], 20, 300, BUILT_IN["ribbed-cone"], {"ice": "30 %"})
    assert iced.ice_g == pytest.approx(90) and sum(p.water_g for p in iced.pours) == pytest.approx(210)
    # Usual values read the same typed or chosen.
    for style in STYLES.values():
        for option in style.options:
            if option.own is not None:
                assert [float(option.chosen(option.own.words(float(v)))) for v, _ in option.values] == pytest.approx(
                    [float(v) for v, _ in option.values]
                )


@pytest.mark.parametrize("typed", ["3", "49 h", "a while", "", "-5"])
def test_an_own_value_outside_the_style_is_refused_beside_its_field(typed: str) -> None:
    with pytest.raises(InputError) as refusal:
        draft(STYLES["cold-steep"], 60, 540, BUILT_IN["cold-jar"], {"hours": typed})
    assert refusal.value.field == "options.hours" and refusal.value.remedy


def test_a_crust_broken_late_matters_less_than_one_broken_early() -> None:
    def reached(at_s: float | None) -> float:
        actions = () if at_s is None else (Action(at_s, "stir"),)
        return participating_fraction(replace(steeped(480), actions=actions))

    assert reached(None) < reached(470) < reached(240) < reached(20)
    assert reached(480) == pytest.approx(reached(None))
    # At the end of four minutes it is the unstirred press of practice: 15 to 17 % in the cup.
    made = draft(STYLES["long-steep"], 17, 280, BUILT_IN["press-pot"], {})
    assert made.steep is not None and [a.at_s for a in made.actions] == [230]
    plan = Plan(BUILT_IN["press-pot"], 17, 93, "medium", made.pours, made.actions, Heat("glass"), "metal", made.steep)
    grind = grind_from_figures(750, 1.1, 0.07)
    assert 15 <= extract(plan, grind, simulate_flow(plan, grind)).ey_percent <= 17.5
