"""Slurry temperature: poured water, bed, brewer and losses, as one well-mixed body."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.brew.brewers import HEAT_CAPACITY_J_PER_K
from hakari.core.brew.schedule import ROOM_C, Heat

WATER_J_PER_GK = 4.19
COFFEE_J_PER_GK = 1.7
PREHEATED_C = 75.0
KETTLE_COOLING_K_PER_S = 0.01
# Loss to air and by evaporation of a brewer of one or two cups, W/K: starting points.
OPEN_LOSS_W_PER_K, LID_LOSS_W_PER_K = 0.55, 0.30


@dataclass
class Slurry:
    """Temperature of bed, brewer wall and the water in it."""

    capacity_j_per_k: float
    celsius: float
    loss_w_per_k: float
    room_c: float = ROOM_C

    @classmethod
    def start(cls, dose_g: float, heat: Heat, room_c: float = ROOM_C) -> Slurry:
        """Dry bed and brewer before the first pour.

        Parameters
        ----------
        dose_g : float
            Coffee, g.
        heat : Heat
            Kettle, brewer and preheating.
        room_c : float
            Temperature of the room, °C.

        Returns
        -------
        Slurry
            Dry bed and brewer before the first pour.
        """
        wall = HEAT_CAPACITY_J_PER_K[heat.material]
        bed = dose_g * COFFEE_J_PER_GK
        wall_c = PREHEATED_C if heat.preheated else room_c
        celsius = (wall * wall_c + bed * room_c) / (wall + bed)
        return cls(wall + bed, celsius, LID_LOSS_W_PER_K if heat.lid else OPEN_LOSS_W_PER_K, room_c)

    def step(self, dt_s: float, water_g: float, poured_g: float, kettle_c: float) -> None:
        """Mix in poured water and lose heat for one step; ``water_g`` stood in the brewer before it.

        Parameters
        ----------
        dt_s : float
            Length of the step, s.
        water_g : float
            Water, g.
        poured_g : float
            Water poured, g.
        kettle_c : float
            Temperature of the kettle, °C.
        """
        capacity = self.capacity_j_per_k + water_g * WATER_J_PER_GK
        added = poured_g * WATER_J_PER_GK
        self.celsius = (capacity * self.celsius + added * kettle_c) / (capacity + added)
        self.celsius -= self.loss_w_per_k * (self.celsius - self.room_c) * dt_s / (capacity + added)
