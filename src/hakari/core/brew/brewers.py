"""Brewers as geometry: how much water stands how high, over what, and what it leaks past the bed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from hakari.core.errors import InputError

Bypass = Literal["none", "edge", "ribs"]
Material = Literal["plastic", "glass", "ceramic", "metal"]

# Heat that a dry brewer of each material takes up, J/K, for a brewer of one or two cups: starting points.
HEAT_CAPACITY_J_PER_K: dict[Material, float] = {
    "plastic": 45.0,
    "glass": 160.0,
    "ceramic": 260.0,
    "metal": 110.0,
}


@dataclass(frozen=True)
class Brewer:
    """A cone (``half_angle_deg`` > 0) or a flat-bottomed cylinder (``half_angle_deg`` = 0).

    ``bottom_mm`` is the diameter of a cone's outlet or of a flat bed.
    """

    name: str
    label: str
    half_angle_deg: float
    bottom_mm: float
    bypass: Bypass
    open_share: float = 1.0

    @property
    def is_cone(self) -> bool:
        """Whether the walls lean outwards."""
        return self.half_angle_deg > 0

    @property
    def _slope(self) -> float:
        return float(np.tan(np.radians(self.half_angle_deg)))

    @property
    def _bottom_m(self) -> float:
        return self.bottom_mm / 2000

    def radius_m(self, height_m: float) -> float:
        """Inner radius at a height above the outlet."""
        return self._bottom_m + height_m * self._slope

    def volume_m3(self, height_m: float) -> float:
        """Volume below a height."""
        r0, r1 = self._bottom_m, self.radius_m(height_m)
        return float(np.pi * height_m * (r0 * r0 + r0 * r1 + r1 * r1) / 3)

    def height_m(self, volume_m3: float) -> float:
        """Height of a volume; the inverse of ``volume_m3``, in closed form."""
        if volume_m3 <= 0:
            return 0.0
        r0, t = self._bottom_m, self._slope
        if t == 0:
            return volume_m3 / (float(np.pi) * r0 * r0)
        return float((np.cbrt(r0**3 + 3 * t * volume_m3 / np.pi) - r0) / t)

    def filter_area_m2(self, bed_height_m: float) -> float:
        """Paper that the bed lies on: the wetted wall of a cone, the floor of a flat."""
        r0, r1 = self._bottom_m, self.radius_m(bed_height_m)
        if not self.is_cone:
            return float(np.pi * r0 * r0) * self.open_share
        slant = bed_height_m / float(np.cos(np.radians(self.half_angle_deg)))
        return float(np.pi * ((r0 + r1) * slant + r0 * r0)) * self.open_share

    def bed_resistance_per_m(self, bed_height_m: float) -> float:
        """∫dz/A over the bed, 1/m; a cone's is about a third of that, because water leaves through the wall as well."""
        r0, r1 = self._bottom_m, self.radius_m(bed_height_m)
        axial = bed_height_m / (float(np.pi) * r0 * r1)
        return axial / 3 if self.is_cone else axial


BUILT_IN = {
    b.name: b
    for b in (
        Brewer("ribbed-cone", "ribbed cone", 30.0, 20.0, "ribs"),
        Brewer("smooth-cone", "smooth cone", 30.0, 14.0, "none"),
        Brewer("flat-bottom", "flat-bottomed dripper", 0.0, 70.0, "edge", 0.85),
    )
}


def built_in(name: str) -> Brewer:
    """A brewer of the built-in list; ``InputError`` ``unknown-brewer`` otherwise."""
    if name not in BUILT_IN:
        raise InputError(
            "unknown-brewer", f"There is no flow model for a brewer “{name}” yet.",
            f"Use {', '.join(BUILT_IN)}, or give a shape with its size.", field="brewer",
        )  # fmt: skip
    return BUILT_IN[name]


def cone(half_angle_deg: float, outlet_mm: float, bypass: Bypass) -> Brewer:
    """A cone of the user's own; ``InputError`` ``brewer-out-of-range``."""
    if not (10 <= half_angle_deg <= 60 and 3 <= outlet_mm <= 80):
        raise InputError(
            "brewer-out-of-range", "The cone's half angle or outlet is not one that a brewer has.",
            "Use a half angle of 10–60° and an outlet of 3–80 mm.", field="brewer",
        )  # fmt: skip
    return Brewer("cone", "cone", half_angle_deg, outlet_mm, bypass)


def flat(diameter_mm: float, bypass: Bypass) -> Brewer:
    """A flat-bottomed brewer of the user's own; ``InputError`` ``brewer-out-of-range``."""
    if not 25 <= diameter_mm <= 400:
        raise InputError(
            "brewer-out-of-range", f"A flat bed {diameter_mm:g} mm across is not one that a brewer has.",
            "Use a diameter of 25–400 mm.", field="brewer",
        )  # fmt: skip
    return Brewer("flat", "flat bed", 0.0, diameter_mm, bypass)
