"""Fines that move to the paper and close it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from hakari.core.brew.filters import FILTERS, Filter
from hakari.core.brew.schedule import ActionKind, Strength

CLEAN_PAPER_PER_M = 3.93e8
FOULING_M_PER_KG = 2.45e8
# Water through the bed, in volumes of the bed, that carries 63 % of the fines to the paper.
WASH_BED_VOLUMES = 1.34
POUR_WASH: dict[Strength, float] = {"soft": 0.6, "normal": 1.0, "hard": 1.7}
# A swirl or stir lifts about as many fines as this many bed volumes of normal flow.
ACTION_WASH: dict[ActionKind, float] = {"swirl": 0.25, "stir": 0.5, "stir-back": 0.5}


@dataclass
class Paper:
    """The filter during a brew: how much washing the bed has had, and so how many fines lie on the paper."""

    fines_kg: float
    bed_m3: float
    area_m2: float
    filter_factor: float = 1.0
    kind: Filter = FILTERS["paper"]
    wash: float = 0.0

    def flow(self, volume_m3: float, strength: Strength, share_poured: float) -> None:
        """Count water that went through the bed; late pours wash out more than early ones.

        Parameters
        ----------
        volume_m3 : float
            Volume of water over the bed, m³.
        strength : Strength
            How hard the water falls.
        share_poured : float
            Share of the water that is poured.
        """
        late = 0.75 + 0.6 * share_poured
        self.wash += POUR_WASH[strength] * late * volume_m3 / (WASH_BED_VOLUMES * self.bed_m3)

    def apply_action(self, do: ActionKind) -> None:
        """Count a swirl or a stir.

        Parameters
        ----------
        do : ActionKind
            What is done.
        """
        self.wash += ACTION_WASH.get(do, 0.0) / WASH_BED_VOLUMES

    @property
    def resistance_per_m3(self) -> float:
        """R_f/A of paper and fines on it, 1/m³."""
        reached = self.fines_kg * (1 - math.exp(-self.wash))
        r = CLEAN_PAPER_PER_M * self.kind.resistance
        r += FOULING_M_PER_KG * self.kind.fouling * reached / self.area_m2
        return self.filter_factor * r / self.area_m2
