"""The stories of the demo's data, told through the same services that the page uses.

1. A cone recipe is moved from the Arlsmoor hand mill to the Brackwell bench grinder.
2. A light washed coffee drains late and bitter on it; one change at a time leads to a good cup.
4. A kettle hand whose drawdown varies by twenty seconds.
5. A sieved grind against an unsieved one.
6. A triangle of cone against flat bottom that is not convincing yet.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import UTC, datetime, timedelta

import numpy as np

from hakari.core.photo.pipeline import CardScale
from hakari.demo import kitchen
from hakari.demo.grinders import ARLSMOOR, BRACKWELL, CORRIVEN, DUNMARROW, ESKHOLME, TrueGrinder
from hakari.formats.experiment import Hand, HandBrew, Sieve, Triangle
from hakari.formats.grinder import (
    ClickDialDocument,
    DialDocument,
    NumberDialDocument,
    RingDialDocument,
    SteplessDialDocument,
    TurnDialDocument,
)
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.brews import logs as brew_logs
from hakari.service.brews import use_cases as brews
from hakari.service.coffees import use_cases as coffees
from hakari.service.experiments import use_cases as experiments
from hakari.service.grinders import points
from hakari.service.grinders import translation as translating
from hakari.service.grinders import use_cases as grinders
from hakari.service.plans import use_cases as plans
from hakari.service.samples import use_cases as samples
from hakari.service.samples.demo_photos import FOLDER, demo_photo
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace

Say = Callable[[str], None]

COFFEES = (
    coffees.NewCoffee(
        name="Lot 15 Tarn Valley", roast="medium", process="dried in fruit", days_off_roast=16, bag_g=250
    ),
    coffees.NewCoffee(name="Lot 9 Quayside", roast="medium-dark", process="blend", days_off_roast=12, bag_g=1000),
    coffees.NewCoffee(
        name="Lot 17 Cinder Slope", roast="dark", process="decaf", days_off_roast=27, rest_guideline="a-month"
    ),
    coffees.NewCoffee(
        name="Lot 12 Hollow Ridge",
        roast="light",
        process="washed",
        dense=True,
        days_off_roast=9,
        bag_g=250,
        rest_guideline="a-week",
    ),
)
ARLSMOOR_DIAL = ClickDialDocument(kind="clicks", clicks_per_turn=36, minimum=0, maximum=60)
BRACKWELL_DIAL = NumberDialDocument(kind="numbers", minimum=0, maximum=14, parts=4)
CORRIVEN_DIAL = TurnDialDocument(kind="turns", numbers_per_turn=10, clicks_per_number=4, maximum="2.5.0", zero="0.2.0")
DUNMARROW_DIAL = RingDialDocument(kind="rings", coarse=list("ABCDEFGHIJK"), fine=list("123456789"))
ESKHOLME_DIAL = SteplessDialDocument(kind="stepless", minimum=0, maximum=8, readable=0.05)
GRINDERS: tuple[tuple[TrueGrinder, str, str, DialDocument], ...] = (
    (ARLSMOOR, "conical", "hand mill, clicks", ARLSMOOR_DIAL),
    (BRACKWELL, "flat", "bench, in quarters", BRACKWELL_DIAL),
    (CORRIVEN, "conical", "turn.number.click", CORRIVEN_DIAL),
    (DUNMARROW, "flat", "two rings", DUNMARROW_DIAL),
    (ESKHOLME, "conical", "stepless collar", ESKHOLME_DIAL),
)
# Settings of the last three that somebody sieved elsewhere: their sizes are typed in, good to a few percent.
SIEVED = (("1.0.0", "2.0.0"), ("B5", "E1", "G6"), ("3.00",))
SIEVING_SD = 0.015
FIRST_SETTING = "2 1/2"


def fill(ws: Workspace, say: Say) -> None:
    """Fill an empty workspace with the demo's data; a filled one is left as it is."""
    if samples.list_samples(ws).samples:
        say("demo data are there already")
        return
    say("filling the demo: coffees and grinders")
    shelf = [bench.add_coffee(ws, c) for c in COFFEES]
    shelf_of_mills = [
        grinders.add_grinder(ws, grinders.NewGrinder(name=true.name, burrs=burrs, note=note, dial=dial))
        for true, burrs, note, dial in GRINDERS
    ]
    mill, bench_mill = shelf_of_mills[:2]
    for view, (true, _, _, dial), settings in zip(shelf_of_mills[2:], GRINDERS[2:], SIEVED, strict=True):
        _sieved_elsewhere(ws, view.id, true, dial, settings)
    points.add_equivalence(
        ws, shelf_of_mills[-1].id, points.NewSettingEquivalence(setting="4.70", other_id=mill.id, other_setting="30")
    )
    by_name = {"arlsmoor": mill.id, "brackwell": bench_mill.id}
    measured: dict[str, int] = {}
    for path in sorted(FOLDER.glob("*.json")):
        truth = json.loads(path.read_text())
        say(f"measuring {truth['title']}")
        detail = samples.add_sample(
            ws, [(f"{path.stem}.jpg", demo_photo(path.stem))], CardScale(), coffee_id=shelf[-1].id,
            grinder_id=by_name[truth["grinder"]], setting=truth["setting"], simulated=True,
        )  # fmt: skip
        measured[path.stem] = detail.id
    _dial_in(ws, bench_mill.id, measured["brackwell-5"], say)
    _move_recipe(ws, bench_mill.id, measured["arlsmoor-22"])
    _experiments(ws)
    brews.set_usual_scale(ws, "practice-brewer")
    say("demo data filled")


def _sieved_elsewhere(
    ws: Workspace, grinder_id: int, true: TrueGrinder, dial: DialDocument, settings: tuple[str, ...]
) -> None:
    """Measured settings of a grinder that were not photographed here."""
    rng = np.random.default_rng(grinder_id)
    for setting in settings:
        um = round(true.median_um(dial.core().at(setting)) * float(np.exp(rng.normal(0, SIEVING_SD))))
        ci = (round(um * (1 - 1.96 * SIEVING_SD)), round(um * (1 + 1.96 * SIEVING_SD)))
        points.add_point(ws, grinder_id, points.NewPoint(setting=setting, d50_um=um, ci95_um=ci))


def _experiments(ws: Workspace) -> None:
    """Stories 4 to 6, tasted and timed by people who poured for themselves."""
    hand = Hand(plan="ribbed cone, 17 g to 280 g", brews=[HandBrew(time_s=t) for t in (226, 231, 219, 238, 229)])
    steady = experiments.begin(ws, experiments.NewExperiment(name="The new kettle", experiment=hand))
    experiments.change_experiment(ws, steady.id, experiments.ExperimentChange(finished=True))
    sieve = Sieve(mesh_um=400, before_g=19.5, kept_g=17.2, removed_g=2.1, rounds=6)
    sieved = experiments.begin(ws, experiments.NewExperiment(name="Without the fines", experiment=sieve, alone=True))
    _tasted_alone(ws, sieved.id, (True, True, False, True))
    triangle = Triangle(a="ribbed cone", b="flat bottom", rounds=12)
    told = experiments.begin(ws, experiments.NewExperiment(name="Cone against flat", experiment=triangle, alone=True))
    _tasted_alone(ws, told.id, (True, False, True, True, False, True, False, False, True))


def _tasted_alone(ws: Workspace, identity: int, rights: tuple[bool, ...]) -> None:
    for number, right in enumerate(rights):
        named = [experiments.NamedCup(taster="hatch", right=right)]
        experiments.answer_round(ws, identity, experiments.RoundAnswer(number=number, named=named))


def _dial_in(ws: Workspace, grinder_id: int, sample_id: int, say: Say) -> None:
    """Story 2: three slips, each with the one change that the program gave."""
    rng = np.random.default_rng(12)
    dial = BRACKWELL_DIAL.core()
    bench.change_bench(ws, bench.WorkbenchChange(sample_id=sample_id))
    bench.change_bench(ws, bench.WorkbenchChange(grinder_id=grinder_id, setting=FIRST_SETTING))
    recipe = Recipe(dose_g=17, ratio=16.5, water_c=95)
    start = datetime.now(UTC).replace(hour=7, minute=10, second=0, microsecond=0) - timedelta(days=3)
    for number in range(3):
        say(f"brewing slip {number + 1}")
        plan = plans.save_plan(ws, recipe)
        position = dial.at(plan.grind.setting or FIRST_SETTING)
        happened = kitchen.brew(plan.document.core(), BRACKWELL, position, rng)
        seen = brew_logs.import_log(ws, happened.log_csv)
        taste, bed = _tasted(happened)
        slip = slips.save_slip(
            ws,
            slips.NewSlip(
                outcome=OutcomeDocument(
                    drawdown_s=seen.bare_bed_s, last_drip_s=seen.last_drip_s, stalled=seen.stalled,
                    tds_percent=happened.tds_percent, drink_g=happened.drink_g, taste=taste, bed=bed,
                )
            ),
            at=start + timedelta(days=number, minutes=7 * number),
        )  # fmt: skip
        if number < 2 and slip.advice.moves[0].kind != "none":
            recipe = slips.brew_change(ws, slip.id, 0).recipe


def _tasted(happened: kitchen.Brewed) -> tuple[dict[str, int], list[str]]:
    """Return what the two at the hatch wrote down for such a cup."""
    extraction = happened.tds_percent * happened.drink_g / 17
    if extraction > 23.0:
        return {"bitter": 3, "drying": 2}, ["mud"]
    if extraction > 21.8:
        return {"bitter": 1, "heavy": 1}, ["flat"]
    return {"sweet": 2, "balanced": 2}, ["flat"]


def _move_recipe(ws: Workspace, grinder_id: int, sample_id: int) -> None:
    """Story 1: the hand mill's grind on the bench, read on the other dial."""
    bench.change_bench(ws, bench.WorkbenchChange(sample_id=sample_id))
    answer = translating.translate_ask(ws, translating.Ask(to=grinder_id)).answers[0]
    bench.change_bench(ws, bench.WorkbenchChange(grinder_id=grinder_id, setting=answer.setting))
