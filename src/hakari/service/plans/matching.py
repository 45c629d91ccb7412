"""What suits what: settings for a plan, methods for a grind, the same plan in other brewers."""

from __future__ import annotations

import math

import numpy as np

from hakari.core.advice.evidence import TARGETS, Target
from hakari.core.brew.brewers import BUILT_IN, built_in
from hakari.core.brew.methods import Window
from hakari.core.brew.schedule import Plan, Roast
from hakari.core.brew.styles import STYLES, RecipeStyle
from hakari.core.brew.suited_grind import suited_grind
from hakari.core.errors import InputError
from hakari.core.extraction.extract import extract_all
from hakari.core.extraction.result import Extraction
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.result import Flow
from hakari.core.flow.simulate import simulate_flow
from hakari.core.grinder.grinder import TARGET_SEED, Grinder
from hakari.core.psd.grind import Grind
from hakari.formats.base import Document
from hakari.formats.plan import GrindClasses, PlanDocument
from hakari.formats.recipe import Recipe
from hakari.service.grinders.curves import core_of, grinder_document, moved_along
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.plans.use_cases import plan_at_hand, plan_document
from hakari.service.workspace.transaction import Workspace, lookup, workbench_row
from hakari.store import models

MOST_SETTINGS = 9
WINDOW_MARGIN = 1.12


class Outcome(Document):
    """What a choice is predicted to bring, with the yield of small and of large grounds."""

    drawdown_s: float
    tds_percent: float
    ey_percent: float
    stalled: bool
    small_percent: float | None
    large_percent: float | None


class SettingMatch(Outcome):
    """One setting of the grinder on the bench; ``score`` is 0 in the middle of target and window, and rises away from it."""

    setting: str
    d50_um: float
    verdict: str | None
    score: float


class MethodMatch(Outcome):
    """One method with its style's usual plan."""

    style: str
    style_label: str
    brewer: str
    brewer_label: str
    window_um: tuple[float, float] | None
    verdict: str | None


class BrewerMatch(Outcome):
    """The same plan in another brewer."""

    brewer: str
    brewer_label: str
    bed_depth_mm: float
    bypass_percent: float


class Matches(Document):
    """What suits the plan, and what suits the grind."""

    grinder: str | None
    settings: list[SettingMatch]
    best: str | None
    methods: list[MethodMatch]
    brewers: list[BrewerMatch]


def match_plan(ws: Workspace, recipe: Recipe) -> Matches:
    """Predict the plan over settings of the bench's grinder, over brewers alike, and the grind over all methods.

    Raises
    ------
    InputError
        When the recipe itself cannot be planned.
    """
    with ws.transaction() as session:
        here, grind, on_plan, roast, document = plan_at_hand(session, recipe)
        target = TARGETS.get(workbench_row(session).target, TARGETS["classical"])
        grinder = lookup(session, models.Grinder, here.grinder_id)
        windows = windows_of(session)
        settings: list[SettingMatch] = []
        if grinder is not None:
            core = core_of(grinder_document(grinder, session))
            settings = _settings(core, recipe, document, grind, target, windows)
        best = min(settings, key=lambda s: s.score).setting if settings else None
        return Matches(
            grinder=grinder.name if grinder else None, settings=settings, best=best,
            methods=_methods(grind, on_plan.median_um, roast, windows),
            brewers=_brewers(recipe, document, grind),
        )  # fmt: skip


# A plan that can be brewed on a grind, and the water's way through it.
Brew = tuple[PlanDocument, Plan, Grind, Flow]


def brewed(document: PlanDocument, grind: Grind) -> Brew:
    """Return a plan on a grind with the water's way through it, in the steps of a search."""
    plan = document.core()
    return document, plan, grind, simulate_flow(plan, grind, document.factors(), SEARCH_STEP_S)


def tasted(brews: list[Brew]) -> list[Outcome]:
    """Return what comes of each brew; its strength is that of the drink as it is drunk."""
    cups = extract_all([(plan, grind, flow) for _, plan, grind, flow in brews])
    return [_outcome(document, flow, cup) for (document, _, _, flow), cup in zip(brews, cups, strict=True)]


def _outcome(document: PlanDocument, flow: Flow, cup: Extraction) -> Outcome:
    small = [float(e) for d, e in zip(cup.diameter_um, cup.ey_by_size_percent, strict=True) if d < 250]
    large = [float(e) for d, e in zip(cup.diameter_um, cup.ey_by_size_percent, strict=True) if d > 900]
    return Outcome(
        drawdown_s=flow.bare_bed_s, tds_percent=document.cup_tds_percent(cup.drink_g, cup.tds_percent),
        ey_percent=cup.ey_percent, stalled=flow.stalled, small_percent=small[-1] if small else None,
        large_percent=large[0] if large else None,
    )  # fmt: skip


def _settings(
    core: Grinder,
    recipe: Recipe,
    document: PlanDocument,
    grind: Grind,
    target: Target,
    windows: tuple[Window, ...],
) -> list[SettingMatch]:
    """Return the plan at settings through the method's window, by the grinder's own curve and fines."""
    try:
        median = core.curve(TARGET_SEED).median_um
    except InputError:
        return []
    suited = suited_grind(recipe.school, recipe.brewer, document.dose_g, document.steep_s, windows)
    low, high = (suited.window.low_um, suited.window.high_um) if suited else (500.0, 900.0)
    near = np.flatnonzero((median > low / WINDOW_MARGIN) & (median < high * WINDOW_MARGIN) & core.dial.usable())
    if not len(near):
        return []
    chosen = near[np.unique(np.linspace(0, len(near) - 1, min(MOST_SETTINGS, len(near))).round().astype(int))]
    wanted = [(sum(box) / 2, (box[1] - box[0]) / 2) for box in (target.ey_percent, target.tds_percent)]
    seen_um, sizes_um = grind.quantile_um(0.5, 100.0), [float(um) for um in median[chosen]]
    outcomes = tasted([brewed(document, moved_along(core, grind, seen_um, um)) for um in sizes_um])
    matches = []
    for place, um, found in zip(chosen.tolist(), sizes_um, outcomes, strict=True):
        off = [
            (v - middle) / half for v, (middle, half) in zip((found.ey_percent, found.tds_percent), wanted, strict=True)
        ]
        edge = float(np.log(um / (low * high) ** 0.5) / np.log(high / low) * 2)
        matches.append(
            SettingMatch(
                **found.model_dump(), setting=core.dial.write(place), d50_um=um,
                verdict="fine" if um < low else "coarse" if um > high else "inside",
                score=math.hypot(*off) + 0.5 * edge**2 + (5.0 if found.stalled else 0.0),
            )
        )  # fmt: skip
    return matches


def _methods(grind: Grind, median_um: float, roast: Roast, windows: tuple[Window, ...]) -> list[MethodMatch]:
    """Each style in its usual brewer with its usual amounts, on this grind; those whose window holds it come first."""
    recipes = [_usual(style) for style in STYLES.values()]
    documents = [plan_document(recipe, GrindClasses.of(grind), roast) for recipe in recipes]
    outcomes = tasted([brewed(document, grind) for document in documents])
    found = []
    for style, recipe, document, outcome in zip(STYLES.values(), recipes, documents, outcomes, strict=True):
        suited = suited_grind(style.name, recipe.brewer, document.dose_g, document.steep_s, windows)
        held = (suited.window.low_um, suited.window.high_um) if suited else None
        verdict = suited.window.verdict(median_um) if suited else None
        found.append(
            MethodMatch(
                **outcome.model_dump(), style=style.name, style_label=style.label, brewer=recipe.brewer,
                brewer_label=built_in(recipe.brewer).label, window_um=held, verdict=verdict,
            )
        )  # fmt: skip
    return sorted(found, key=lambda m: m.verdict != "inside")


def _usual(style: RecipeStyle) -> Recipe:
    """Return a style in its usual brewer with its usual amounts."""
    dose_g = min(max(17.0, style.dose_g[0]), style.dose_g[1])
    return Recipe(
        dose_g=dose_g, ratio=style.ratio, brewer=style.brewers[0], school=style.name, water_c=style.water_c
    )  # fmt: skip


def _brewers(recipe: Recipe, document: PlanDocument, grind: Grind) -> list[BrewerMatch]:
    """Return the same pours in every brewer of the same way, the plan's own first.

    All by the starting points: a fit holds for one brewer, and a fitted one cannot be compared with others that are not.
    """
    own = recipe.core_brewer()
    document = document.model_copy(update={"fit": None})
    others = [
        (b, document.model_copy(update={"brewer": b.name, "filter": b.filter_name}))
        for b in BUILT_IN.values()
        if b.way == own.way and (b.name != own.name or recipe.shape is not None)
    ]
    possible = []
    for brewer, other in [(own, document), *others]:
        try:
            possible.append((brewer, brewed(other, grind)))
        except InputError:
            continue
    outcomes = tasted([brew for _, brew in possible])
    return [
        BrewerMatch(
            **outcome.model_dump(), brewer=brewer.name, brewer_label=brewer.label,
            bed_depth_mm=1000 * flow.bed.depth_m, bypass_percent=100 * flow.bypass_fraction,
        )
        for (brewer, (_, _, _, flow)), outcome in zip(possible, outcomes, strict=True)
    ]  # fmt: skip
