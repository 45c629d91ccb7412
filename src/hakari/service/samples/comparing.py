"""Whether two samples differ by more than their intervals allow."""

from __future__ import annotations

import numpy as np

from hakari.core.psd.compare import Difference, compare
from hakari.core.psd.distribution import Curve
from hakari.store import models
from hakari.store.snapshots import CurveView


def differ(first: models.Sample, second: models.Sample) -> Difference:
    """How the first of two samples differs from the second."""
    return compare(
        first.d50_um, first.measurement.ci95.d50_um, second.d50_um, second.measurement.ci95.d50_um,
        _curve(first.curve), _curve(second.curve),
    )  # fmt: skip


def _curve(view: CurveView) -> Curve:
    return Curve(np.array(view.size_um), np.array(view.density), np.array(view.cumulative))
