"""Predict a brew: ``hakari predict``."""

from __future__ import annotations

import argparse

from hakari.cli.files import read_document
from hakari.core.extraction.prediction import predict
from hakari.formats.plan import PlanDocument
from hakari.formats.prediction import PredictionDocument


def run(a: argparse.Namespace) -> int:
    """Predict a brew."""
    plan = read_document(a.file, PlanDocument)
    grind = plan.grind.core()
    answer = PredictionDocument.of(predict(plan.core(), grind, plan.factors()), grind)
    if a.json:
        print(answer.model_dump_json())
        return 0
    print(
        f"bare bed {answer.drawdown_s:.0f} s ± {answer.half_width95['drawdown_s']:.0f}, last drip {answer.last_drip_s:.0f} s"
    )
    print(f"{answer.drink_g:.0f} g at {answer.tds_percent:.2f} %, {answer.ey_percent:.1f} % extracted")
    for line in answer.assumptions:
        print(f"assumed: {line}")
    return 0
