"""Factors fitted to brews: they come back, they sharpen, they resist a stray, and a drawdown can be read backwards."""

import math
from dataclasses import replace

import numpy as np
import pytest

from hakari.core.brew.brewers import BUILT_IN
from hakari.core.brew.schedule import Plan, Steep
from hakari.core.brew.styles import draft, style_of
from hakari.core.errors import InputError
from hakari.core.experiment.noise import pooled_spread
from hakari.core.extraction.prediction import predict
from hakari.core.flow.factors import FlowFactors
from hakari.core.flow.fit import Observed, fit, flows_like
from hakari.core.flow.percolation import simulate_percolation
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_figures

HIDDEN = FlowFactors(bed_factor=0.68, filter_factor=1.3)


def plan(dose: float = 17.0, style: str = "staged") -> Plan:
    brewer = BUILT_IN["ribbed-cone"]
    made = draft(style_of(style), dose, 16.5 * dose, brewer, {})
    return Plan(brewer, dose, 93, "light", made.pours, made.actions)


def grind(um: float = 700.0) -> Grind:
    return grind_from_figures(um, 1.1, 0.08 * (um / 700) ** -1.3)


def brewed(n: int, hidden: FlowFactors = HIDDEN, noise: float = 0.0, seed: int = 0, **more: str) -> list[Observed]:
    rng = np.random.default_rng(seed)
    made = []
    for _ in range(n):
        p, g = plan(float(rng.uniform(15, 20))), grind(float(rng.uniform(620, 780)))
        made.append(
            Observed(p, g, simulate_percolation(p, g, hidden).bare_bed_s * math.exp(rng.normal(0, noise)), **more)
        )
    return made


def off(factors: FlowFactors, um: float = 660.0) -> float:
    true = simulate_percolation(plan(18.5), grind(um), HIDDEN).bare_bed_s
    return abs(simulate_percolation(plan(18.5), grind(um), factors).bare_bed_s / true - 1)


def test_hidden_factors_are_learned_and_the_interval_narrows() -> None:
    assert off(FlowFactors()) > 0.12
    widths = [predict(plan(), grind()).drawdown_half_width_s]
    for n in (1, 3, 10):
        factors = fit(brewed(n)).factors
        assert factors.fitted_on_brews == n
        widths.append(predict(plan(), grind(), factors).drawdown_half_width_s)
    assert off(fit(brewed(3)).factors) < 0.03 and off(fit(brewed(10)).factors) < 0.015
    assert widths == sorted(widths, reverse=True)


def test_no_brews_leave_the_starting_points() -> None:
    assert fit([]).factors == FlowFactors()
    usual = fit(brewed(6, FlowFactors())).factors
    assert abs(usual.ln).max() < 0.03


def test_a_stray_brew_is_weighed_down() -> None:
    brews = brewed(7, noise=0.02)
    clean = off(fit(brews).factors)
    strayed = [*brews[:-1], replace(brews[-1], bare_bed_s=2.2 * brews[-1].bare_bed_s)]
    found = fit(strayed)
    assert found.weights[-1] < 0.7 and min(found.weights[:-1]) > 0.85
    assert off(found.factors) < clean + 0.08


def test_wild_brews_widen_what_is_said_of_the_next() -> None:
    steady, wild = (fit(brewed(10, noise=s, seed=2)).factors for s in (0.01, 0.2))
    assert wild.brew_scale > 1.4 > 1.0 > steady.brew_scale


def test_another_lot_or_mill_counts_for_less() -> None:
    other = brewed(8, lot="b", grinder_roast_key="m2")
    same, lot, both = (fit(brewed(8)), fit(other, "b", "m2"), fit(other, "a", "m1"))
    assert off(same.factors) < 0.03 and off(lot.factors) < 0.03
    widths = [predict(plan(), grind(), f.factors).drawdown_half_width_s for f in (same, both, fit([]))]
    assert widths[0] < widths[1] < widths[2]


def test_a_drawdown_is_read_backwards() -> None:
    p, g = plan(), grind()
    time = simulate_percolation(p, g, HIDDEN).bare_bed_s
    same = flows_like(p, g, HIDDEN, time)
    assert same.median_um == pytest.approx(g.quantile_um(0.5, 100.0), rel=0.02)
    assert same.fines_below_100 == pytest.approx(g.below(100.0), rel=0.04)
    finer = simulate_percolation(p, g.scaled(0.9), HIDDEN).bare_bed_s
    found = flows_like(p, g, HIDDEN, finer)
    assert found.median_um == pytest.approx(0.9 * g.quantile_um(0.5, 100.0), rel=0.02)
    assert found.fines_below_100 is not None and found.fines_below_100 > g.below(100.0)
    assert found.permeability_m2 is not None and same.permeability_m2 is not None
    assert found.permeability_m2 < same.permeability_m2
    assert flows_like(p, g, HIDDEN, 20.0).median_um is None
    with pytest.raises(InputError):
        flows_like(replace(p, steep=Steep(60)), g, HIDDEN, 90)


def test_the_spread_of_repeats() -> None:
    assert pooled_spread([[1.0], []]) is None
    found = pooled_spread([[10.0, 14.0], [20.0, 20.0, 26.0]])
    assert found is not None and found.freedom == 3
    assert found.sd == pytest.approx(math.sqrt((8 + 24) / 3)) and found.low < found.sd < found.high
    many = pooled_spread([list(np.random.default_rng(1).normal(0, 3.0, 400))])
    assert many is not None and many.sd == pytest.approx(3.0, rel=0.1) and many.high / many.low < 1.2
