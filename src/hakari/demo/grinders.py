"""The true curves of the demo's invented grinders, known only to the picture maker."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class TrueGrinder:
    """What a demo grinder really does: median and fines against dial position, one spread."""

    name: str
    base_um: float
    per_step_um: float
    bend: float
    sigma_ln: float
    fines_at_600: float

    def median_um(self, position: float) -> float:
        """Median of the coarse mode at a dial position, µm."""
        return self.base_um + self.per_step_um * position + self.bend * position**2

    def fines_share(self, position: float) -> float:
        """Mass share of the fine mode; finer settings make more."""
        return float(np.clip(self.fines_at_600 * (600.0 / self.median_um(position)) ** 1.3, 0.01, 0.4))


ARLSMOOR = TrueGrinder("Arlsmoor", 55.0, 25.6, 0.0, 0.36, 0.085)
BRACKWELL = TrueGrinder("Brackwell", 262.0, 66.0, 2.4, 0.31, 0.115)
CORRIVEN = TrueGrinder("Corriven", 150.0, 10.5, 0.0, 0.38, 0.10)
DUNMARROW = TrueGrinder("Dunmarrow", 230.0, 95.0, 3.0, 0.29, 0.12)
ESKHOLME = TrueGrinder("Eskholme", 210.0, 150.0, -4.0, 0.34, 0.09)
