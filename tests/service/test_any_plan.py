"""Any plan that is accepted is predicted, brewed and printed without an error."""

from __future__ import annotations

import math

from hypothesis import HealthCheck, given, note, settings
from hypothesis import strategies as st

from hakari.core.brew.filters import FILTERS
from hakari.core.brew.follow import follow
from hakari.core.brew.styles import STYLES
from hakari.core.errors import InputError
from hakari.device.practice_scale import PracticeScale
from hakari.formats.plan import ActionDocument, HeatDocument, PourDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import OutcomeDocument
from hakari.service.plans import use_cases as plans
from hakari.service.slips import files
from hakari.service.slips import use_cases as slips
from hakari.service.workspace.transaction import Workspace
from thorough import tries


@st.composite
def recipes(draw: st.DrawFn) -> Recipe:
    style = STYLES[draw(st.sampled_from(sorted(STYLES)))]
    options = {}
    for o in style.options:
        typed = st.floats(o.own.least, o.own.most).map(o.own.words) if o.own else st.nothing()
        options[o.name] = draw(st.sampled_from([v for v, _ in o.values]) | typed)
    low, high = style.dose_g
    pours = draw(st.none() | st.lists(pour(), min_size=1, max_size=6)) if style.brewers[0] != "drip-tower" else None
    heats = st.floats(2, 30) if style.water_c < 40 else st.floats(60, 100)
    return Recipe(
        school=style.name, brewer=draw(st.sampled_from(style.brewers)), dose_g=round(draw(st.floats(low / 2, high * 1.5)), 1),
        ratio=round(draw(st.floats(*style.ratios)), 1), water_c=round(draw(heats), 1), options=options,
        filter=draw(st.none() | st.sampled_from(sorted(FILTERS))), pours=pours,
        actions=draw(st.none() | st.lists(action(), max_size=3)),
        heat=HeatDocument(material=draw(st.sampled_from(["plastic", "glass", "ceramic", "metal"])),
                          preheated=draw(st.booleans()), lid=draw(st.booleans())),
    )  # fmt: skip


def pour() -> st.SearchStrategy[PourDocument]:
    when = st.sampled_from(["level-back", "half", "drained"])
    start = st.floats(0, 300).map(lambda s: {"start_s": round(s)}) | when.map(lambda e: {"start_when": e})
    return st.builds(
        lambda at, **pour: PourDocument(**at, **pour), start, duration_s=st.integers(2, 90), water_g=st.integers(5, 300),
        strength=st.sampled_from(["soft", "normal", "hard"]), where=st.sampled_from(["centre", "spiral", "edge"]),
    )  # fmt: skip


def action() -> st.SearchStrategy[ActionDocument]:
    return st.builds(ActionDocument, at_s=st.integers(0, 200), do=st.sampled_from(["swirl", "stir", "stir-back"]))


@settings(max_examples=tries(30, 150), deadline=None, suppress_health_check=list(HealthCheck))
@given(recipe=recipes(), tasted=st.integers(0, 9).map(lambda n: n == 0), factor=st.floats(0.3, 1.6))
def test_an_accepted_plan_is_predicted_brewed_and_printed(
    workspace: Workspace, recipe: Recipe, tasted: bool, factor: float
) -> None:
    note(recipe.model_dump_json(exclude_defaults=True))
    try:
        view = (plans.save_plan if tasted else plans.preview_plan)(workspace, recipe)
    except InputError as refusal:
        assert refusal.remedy and refusal.field, refusal.code
        return
    p = view.prediction
    assert all(math.isfinite(x) for x in (p.drawdown_s, p.tds_percent, p.ey_percent, p.drink_g)) and p.drink_g > 0
    assert 0 < p.ey_percent < 31 and sum(q.water_g for q in view.document.pours) > 0
    # Water stands above the rim only where that was said.
    brewer = view.document.core().brewer
    held = max(a - b for a, b in zip(p.series.poured_g, p.series.drink_g, strict=True))
    assert held <= brewer.capacity_g or any("does not hold" in n.title for n in view.notes)
    # Steps come in the order of time, and by the clock alone they all come to an end.
    times = [s.at_s for s in view.steps]
    assert times == sorted(times) and view.steps[-1].ends_s >= p.drawdown_s - 1
    PracticeScale(view.document.core(), view.document.grind.core(), "brewer", 1)
    core = plans.core_steps(view.document, p, view.dilution_g)
    assert follow(core, {}, 1e7, by_itself=True).now == len(core)
    if not tasted:
        return
    # However early or late a steep was really pressed, the cup is judged.
    late = OutcomeDocument(taste={"sweet": 1}, drawdown_s=round(factor * p.drawdown_s) if view.document.steep else None)
    slip = slips.save_slip(workspace, slips.NewSlip(outcome=late))
    assert files.slip_file(workspace, slip.id, "png")[:4] == b"\x89PNG"
