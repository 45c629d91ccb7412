"""The same flow, yield or whole shape instead of the same median: which median on the other grinder brings it.

Grinders differ in fines and span at one median, so a brew of the same median may run slower. Each match finds the median
on the target that makes up for it; the answer is then looked up like any size.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from hakari.core.brew.brewers import built_in
from hakari.core.brew.schedule import Plan
from hakari.core.brew.styles import draft, style_of
from hakari.core.errors import InputError
from hakari.core.extraction.extract import extract
from hakari.core.flow.percolation import SEARCH_STEP_S
from hakari.core.flow.simulate import simulate_flow
from hakari.core.grinder.grinder import Grinder
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_figures
from hakari.core.translate.nearest import TargetSize

Match = Literal["median", "flow", "yield", "shape"]
MATCHES: tuple[str, ...] = get_args(Match)
SEARCH = 1.6  # the sought median lies within this factor of the wanted one
USUAL_SPAN, USUAL_FINES_AT_600, USUAL_SLOPE = 1.15, 0.10, -1.3


@dataclass(frozen=True)
class Matched:
    """The median wanted on the target, with the two grinds that it equates, and what was assumed."""

    wanted: TargetSize
    assumed: tuple[str, ...]


DEFAULT_PLAN = "17 g in a ribbed cone, 280 g of water in three stages"


def default_plan() -> Plan:
    """Return the plan that flow and yield are compared in where none is given.

    Returns
    -------
    Plan
        The plan that flow and yield are compared in where none is given.
    """
    brewer = built_in("ribbed-cone")
    made = draft(style_of("staged"), 17.0, 280.0, brewer, {})
    return Plan(brewer, 17.0, 93.0, "medium", made.pours, made.actions)


def grind_of(um: float, fines: float | None, span: float | None) -> Grind:
    """Return a whole grind of a median, with usual fines and span where they are not known.

    Parameters
    ----------
    um : float
        Size, µm.
    fines : float or None
        Share of mass below 100 µm; a usual one where ``None``.
    span : float or None
        (D90 − D10)/D50; a usual one where ``None``.

    Returns
    -------
    Grind
        A whole grind of a median, with usual fines and span where they are not known.
    """
    share = fines if fines is not None else usual_fines(um)
    return grind_from_figures(float(np.clip(um, 130, 2400)), span or USUAL_SPAN, float(np.clip(share, 0.0, 0.4)))


def usual_fines(um: float) -> float:
    """Share below 100 µm of a usual grinder.

    Parameters
    ----------
    um : float
        Size, µm.

    Returns
    -------
    float
        Share below 100 µm of a usual grinder.
    """
    return float(np.clip(USUAL_FINES_AT_600 * (um / 600.0) ** USUAL_SLOPE, 0.0, 0.4))


def matched(target: Grinder, wanted: TargetSize, match: Match, plan: Plan) -> Matched:
    """Return the median on ``target`` that equals ``wanted`` in flow, yield or shape.

    Parameters
    ----------
    target : Grinder
        The grinder to be set.
    wanted : TargetSize
        The size that is wanted, with its uncertainty.
    match : Match
        What is to be the same: size, flow, yield or shape.
    plan : Plan
        The plan.

    Returns
    -------
    Matched
        The median on ``target`` that equals ``wanted`` in flow, yield or shape.

    Raises
    ------
    InputError
        ``match-unreachable`` when no median of the target brings the same; as ``simulate`` for the plan.
    """
    if match == "median":
        return Matched(wanted, ())
    size = wanted.um
    model = grind_of(size, wanted.fines_below_100, wanted.span)
    # What is not measured on the target is taken as in the wanted grind, so that it shifts nothing.
    level = wanted.fines_below_100 if wanted.fines_below_100 is not None else usual_fines(size)
    of_target = grind_of(size, _first(target.fines_at(size), level), _first(target.span_at(size), wanted.span))
    trend = target.fines_trend()

    def there(um: float, fines_factor: float = 1.0) -> Grind:
        share = target.fines_at(um) if trend is not None else level * (um / size) ** USUAL_SLOPE
        return of_target.scaled(um / size).with_fines(float(np.clip((share or 0.0) * fines_factor, 0.0, 0.45)))

    if match == "shape":
        found = _closest_shape(model, there, size)
        other = found
    else:
        figure = _drawdown if match == "flow" else _yield
        goal = figure(plan, model)
        found = _solved(lambda um: figure(plan, there(um)) - goal, size, target.name, match)
        # How far the answer moves when the target's fines are one standard deviation more than thought.
        sd = 0.25 if trend is None else float(np.log(trend.interval(size)[1] / trend.at(size))) / 1.96
        try:
            other = _solved(lambda um: figure(plan, there(um, float(np.exp(sd)))) - goal, size, target.name, match)
        except InputError:
            other = found * float(np.exp(sd / 4))
    spread = float(np.abs(np.log(other / found)))
    noise = np.exp(spread * np.random.default_rng(11).standard_normal(len(wanted.draws_um)))
    return Matched(
        TargetSize(wanted.draws_um * (found / size) * noise, wanted.fines_below_100, wanted.span),
        _assumed(target, wanted),
    )


def _first(*values: float | None) -> float | None:
    return next((v for v in values if v is not None), None)


def _assumed(target: Grinder, wanted: TargetSize) -> tuple[str, ...]:
    said = [
        f"the {what} of the wanted grind is not measured; a usual one is assumed"
        for what, known in (("share of fines", wanted.fines_below_100), ("span", wanted.span))
        if known is None
    ]
    said += [
        f"the {what} of the {target.name} is not measured; it is taken as that of the wanted grind"
        for what, known in (("share of fines", target.fines_trend()), ("span", target.span_trend()))
        if known is None
    ]
    return tuple(said)


def _drawdown(plan: Plan, grind: Grind) -> float:
    return float(simulate_flow(plan, grind, None, SEARCH_STEP_S).bare_bed_s)


def _yield(plan: Plan, grind: Grind) -> float:
    return float(extract(plan, grind, simulate_flow(plan, grind, None, SEARCH_STEP_S)).ey_percent)


def _solved(miss: Callable[[float], float], size: float, name: str, match: str) -> float:
    from scipy.optimize import brentq  # half a second to load, and most commands do without

    low, high = size / SEARCH, size * SEARCH
    if miss(low) * miss(high) > 0:
        raise InputError(
            "match-unreachable", f"No median of the {name} brings the same {match} in this plan.",
            "Match by median instead, or ask for another plan.", field="match",
        )  # fmt: skip
    return float(np.exp(brentq(lambda ln: miss(float(np.exp(ln))), np.log(low), np.log(high), xtol=2e-3)))


def _closest_shape(model: Grind, there: Callable[[float], Grind], size: float) -> float:
    """Return the median with the smallest area between the two cumulative curves on ln size."""
    from scipy.optimize import minimize_scalar  # as above

    at = np.geomspace(20, 3500, 160)
    wanted = np.array([model.below(float(s)) for s in at])

    def area(ln_um: float) -> float:
        grind = there(float(np.exp(ln_um)))
        return float(np.abs(np.array([grind.below(float(s)) for s in at]) - wanted).mean())

    bounds = (np.log(size / SEARCH), np.log(size * SEARCH))
    return float(np.exp(minimize_scalar(area, bounds=bounds, method="bounded", options={"xatol": 2e-3}).x))
