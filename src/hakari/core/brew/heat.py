"""Slurry temperature: poured water, bed, brewer and losses, as one well-mixed body."""

from __future__ import annotations

import math
from dataclasses import dataclass

from hakari.core.brew.brewers import HEAT_CAPACITY_J_PER_K
from hakari.core.brew.schedule import ROOM_C, Heat

WATER_J_PER_GK = 4.19
COFFEE_J_PER_GK = 1.7
PREHEATED_C = 75.0
BOIL_C = 99.0  # a kettle that has just boiled
WARM_C = 40.0  # water below this needs no warm brewer
# A kettle without a lid, off its stand, cools at first by about 0.6 °C a minute, and ever slower towards the room.
KETTLE_COOLING_S = 7080.0
# Loss to air and by evaporation of a brewer of one or two cups, W/K: starting points.
OPEN_LOSS_W_PER_K, LID_LOSS_W_PER_K = 0.55, 0.30


def kettle_c(water_c: float, room_c: float, t_s: float) -> float:
    """Temperature of the kettle after the first pour, by Newton's law of cooling.

    Parameters
    ----------
    water_c : float
        Temperature of the kettle at the first pour, °C.
    room_c : float
        Temperature of the room, °C.
    t_s : float
        Time since the first pour, s.

    Returns
    -------
    float
        Temperature of the kettle, °C; never beyond the room's.
    """
    return room_c + (water_c - room_c) * math.exp(-t_s / KETTLE_COOLING_S)


def minutes_off_boil(celsius: float, room_c: float = ROOM_C) -> float:
    """Return how long a boiling kettle takes to cool to a temperature; the inverse of ``kettle_c``.

    Parameters
    ----------
    celsius : float
        Temperature, °C; above the room's.
    room_c : float
        Temperature of the room, °C.

    Returns
    -------
    float
        Minutes; 0 for boiling water.
    """
    left = (min(celsius, BOIL_C) - room_c) / (BOIL_C - room_c)
    return -KETTLE_COOLING_S * math.log(left) / 60 + 0.0


@dataclass
class Slurry:
    """Temperature of bed, brewer wall and the water in it."""

    capacity_j_per_k: float
    celsius: float
    loss_w_per_k: float
    room_c: float = ROOM_C

    @classmethod
    def start(cls, dose_g: float, heat: Heat, water_c: float, room_c: float = ROOM_C) -> Slurry:
        """Dry bed and brewer before the first pour.

        Parameters
        ----------
        dose_g : float
            Coffee, g.
        heat : Heat
            Material of the brewer, preheating and lid.
        water_c : float
            Temperature of the kettle, °C; a brewer is not preheated beyond it.
        room_c : float
            Temperature of the room, °C.

        Returns
        -------
        Slurry
            Dry bed and brewer before the first pour.
        """
        wall = HEAT_CAPACITY_J_PER_K[heat.material]
        bed = dose_g * COFFEE_J_PER_GK
        wall_c = max(room_c, min(PREHEATED_C, water_c)) if heat.preheated else room_c
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
