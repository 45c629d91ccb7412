"""Brewers as geometry: how much water stands how high, over what, and what it leaks past the bed."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

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


Way = Literal["drip", "steep", "valve", "tower", "advice"]


@dataclass(frozen=True)
class Brewer:
    """A cone (``half_angle_deg`` > 0) or a flat-bottomed cylinder (``half_angle_deg`` = 0), and how it is used.

    ``bottom_mm`` is the diameter of a cone's outlet or of a flat bed. ``way``: water drips through, steeps, steeps behind a
    valve and then drains, falls by drops, or nothing is predicted for it (``advice``). ``filter_name`` is what it usually
    takes; ``held_g_per_g`` the liquid that stays behind with a gram of coffee after draining or pressing; ``dose_g`` and
    ``capacity_g`` what it is made for; ``least_bed_mm`` the depth under which water finds holes. ``mesh`` marks a mesh under
    the paper, which keeps all of it open; ``bypass_factor`` is how open its walls are against others of their kind.
    """

    name: str
    label: str
    half_angle_deg: float
    bottom_mm: float
    bypass: Bypass
    open_share: float = 1.0
    way: Way = "drip"
    filter_name: str = "paper"
    material: Material = "plastic"
    dose_g: tuple[float, float] = (8.0, 40.0)
    capacity_g: float = 600.0
    least_bed_mm: float = 0.0
    held_g_per_g: float = 2.0
    mesh: bool = False
    bypass_factor: float = 1.0

    @property
    def is_cone(self) -> bool:
        """Whether the walls lean outwards."""
        return self.half_angle_deg > 0

    @cached_property
    def _slope(self) -> float:
        return math.tan(math.radians(self.half_angle_deg))

    @property
    def wall_openness(self) -> float:
        """How freely water leaves through the paper on the wall: 1 where ribs hold the paper off it."""
        ribs = SMOOTH_WALL + (1.0 - SMOOTH_WALL) * min(self.bypass_factor, 1.0)
        return {"ribs": ribs, "edge": CRIMPED_WALL, "none": SMOOTH_WALL}[self.bypass]

    @property
    def _bottom_m(self) -> float:
        return self.bottom_mm / 2000

    def radius_m(self, height_m: float) -> float:
        """Inner radius at a height above the outlet.

        Parameters
        ----------
        height_m : float
            Height above the outlet, m.

        Returns
        -------
        float
            Inner radius at a height above the outlet, m.
        """
        return self._bottom_m + height_m * self._slope

    def volume_m3(self, height_m: float) -> float:
        """Volume below a height.

        Parameters
        ----------
        height_m : float
            Height above the outlet, m.

        Returns
        -------
        float
            Volume below a height, m³.
        """
        r0, r1 = self._bottom_m, self.radius_m(height_m)
        return math.pi * height_m * (r0 * r0 + r0 * r1 + r1 * r1) / 3

    def height_m(self, volume_m3: float) -> float:
        """Height of a volume; the inverse of ``volume_m3``, in closed form.

        Parameters
        ----------
        volume_m3 : float
            Volume of water, m³.

        Returns
        -------
        float
            Height of a volume, m.
        """
        if volume_m3 <= 0:
            return 0.0
        r0, t = self._bottom_m, self._slope
        if t == 0:
            return volume_m3 / (math.pi * r0 * r0)
        return (math.cbrt(r0**3 + 3 * t * volume_m3 / math.pi) - r0) / t

    def filter_area_m2(self, bed_height_m: float) -> float:
        """Paper that water leaves through: the lowest part of a cone's wall as far as it is open, the floor of a flat.

        Parameters
        ----------
        bed_height_m : float
            Height of the bed, m.

        Returns
        -------
        float
            Paper that water leaves through, m².
        """
        drained_m = min(bed_height_m, DRAIN_ZONE_M)
        r0, r1 = self._bottom_m, self.radius_m(drained_m)
        open_share = max(self.open_share, MESH_OPEN_SHARE) if self.mesh else self.open_share
        if not self.is_cone:
            return math.pi * r0 * r0 * open_share
        slant = drained_m / math.cos(math.radians(self.half_angle_deg))
        return math.pi * ((r0 + r1) * slant * self.wall_openness + r0 * r0) * open_share

    def bed_resistance_per_m(self, bed_height_m: float) -> float:
        """∫dz/A over the bed, 1/m; less in a cone's drain zone, where water leaves through the wall as well.

        Parameters
        ----------
        bed_height_m : float
            Height of the bed, m.

        Returns
        -------
        float
            ∫dz/A over the bed, 1/m.
        """
        if not self.is_cone:
            return self._axial_per_m(0.0, bed_height_m)
        drained_m = min(bed_height_m, DRAIN_ZONE_M)
        through_wall = self._axial_per_m(0.0, drained_m) / (WALL_SHORTCUT * self.wall_openness)
        return through_wall + self._axial_per_m(drained_m, bed_height_m)

    def _axial_per_m(self, low_m: float, high_m: float) -> float:
        """∫dz/A straight down between two heights, 1/m."""
        return (high_m - low_m) / (math.pi * self.radius_m(low_m) * self.radius_m(high_m))


MESH_OPEN_SHARE = 0.97
# They pour and heat by themselves.
MACHINES = ("drip-machine", "drip-machine-cone")
# What moves the grounds in them is the water alone: nobody can stir more or less.
UNSTIRRED = ("percolator-pot",)
# Water leaves a cone through the wall of its lowest part, so the way through the bed there is shorter than straight down.
# Starting points; paper lies close on a smooth wall and is held off it by ribs.
DRAIN_ZONE_M, WALL_SHORTCUT = 0.0256, 15.35
SMOOTH_WALL, CRIMPED_WALL = 0.8, 0.9

BUILT_IN = {
    b.name: b
    for b in (
        Brewer("ribbed-cone", "ribbed cone", 30.0, 20.0, "ribs", dose_g=(10, 40)),
        Brewer("part-ribbed-cone", "partly ribbed cone", 30.0, 20.0, "ribs", dose_g=(10, 36), bypass_factor=0.5),
        Brewer("smooth-cone", "smooth cone", 30.0, 21.0, "none", dose_g=(10, 36)),
        Brewer("flat-bottom", "flat-bottomed dripper", 0.0, 70.0, "edge", 0.85, dose_g=(12, 45), least_bed_mm=8.0),
        Brewer("thick-paper-cone", "thick-paper cone", 30.0, 22.0, "none", 0.8, filter_name="thick-paper",
               material="glass", dose_g=(20, 60), capacity_g=1000.0),
        Brewer("drip-machine", "drip machine", 0.0, 90.0, "edge", 0.8, dose_g=(25, 80), capacity_g=1300.0),
        Brewer("drip-machine-cone", "drip machine, cone basket", 30.0, 25.0, "ribs", 0.8, dose_g=(25, 80), capacity_g=1300.0),
        Brewer("valve-dripper", "valve dripper", 30.0, 40.0, "none", way="valve", dose_g=(12, 36)),
        Brewer("press-pot", "press pot", 0.0, 95.0, "none", way="steep", filter_name="metal", material="glass",
               dose_g=(15, 80), capacity_g=1000.0),
        Brewer("plunger-tube", "plunger tube", 0.0, 62.0, "none", way="steep", dose_g=(11, 32), capacity_g=260.0,
               held_g_per_g=1.3),
        Brewer("tasting-bowl", "tasting bowl", 0.0, 80.0, "none", way="steep", filter_name="none", material="ceramic",
               dose_g=(8, 20), capacity_g=300.0),
        Brewer("vacuum-pot", "vacuum pot", 0.0, 95.0, "none", way="steep", filter_name="cloth", material="glass",
               dose_g=(12, 45), capacity_g=700.0, held_g_per_g=1.7),
        Brewer("percolator-pot", "percolator pot", 0.0, 60.0, "none", way="steep", filter_name="metal", material="metal",
               dose_g=(20, 90), capacity_g=1500.0),
        Brewer("cold-jar", "cold jar", 0.0, 100.0, "none", way="steep", material="glass", dose_g=(30, 250),
               capacity_g=2500.0),
        Brewer("drip-tower", "drip tower", 0.0, 60.0, "none", way="tower", material="glass", dose_g=(25, 120),
               capacity_g=1500.0),
        Brewer("pressure-shot", "pressure shot", 0.0, 58.0, "none", way="advice", filter_name="metal", material="metal"),
        Brewer("stovetop-pot", "stovetop pressure pot", 0.0, 60.0, "none", way="advice", filter_name="metal",
               material="metal"),
        Brewer("boiled-pot", "boiled, unfiltered pot", 0.0, 70.0, "none", way="advice", filter_name="none", material="metal"),
    )
}  # fmt: skip


def built_in(name: str) -> Brewer:
    """Return a brewer of the built-in list; ``InputError`` ``unknown-brewer`` otherwise.

    Parameters
    ----------
    name : str
        Its name.

    Returns
    -------
    Brewer
        A brewer of the built-in list.
    """
    if name not in BUILT_IN:
        raise InputError(
            "unknown-brewer", f"There is no brewer “{name}”.",
            f"Use {', '.join(BUILT_IN)}, or give a shape with its size.", field="brewer",
        )  # fmt: skip
    return BUILT_IN[name]


def cone(half_angle_deg: float, outlet_mm: float, bypass: Bypass) -> Brewer:
    """Return a cone of the user's own; ``InputError`` ``brewer-out-of-range``.

    Parameters
    ----------
    half_angle_deg : float
        Half angle of the cone, degrees.
    outlet_mm : float
        Diameter of the outlet, mm.
    bypass : Bypass
        How much water runs past the bed.

    Returns
    -------
    Brewer
        A cone of the user's own.
    """
    if not (10 <= half_angle_deg <= 60 and 3 <= outlet_mm <= 80):
        raise InputError(
            "brewer-out-of-range", "The cone's half angle or outlet is not one that a brewer has.",
            "Use a half angle of 10–60° and an outlet of 3–80 mm.", field="brewer",
        )  # fmt: skip
    return Brewer("cone", "cone", half_angle_deg, outlet_mm, bypass)


def flat(diameter_mm: float, bypass: Bypass) -> Brewer:
    """Return a flat-bottomed brewer of the user's own; ``InputError`` ``brewer-out-of-range``.

    Parameters
    ----------
    diameter_mm : float
        Diameter, mm.
    bypass : Bypass
        How much water runs past the bed.

    Returns
    -------
    Brewer
        A flat-bottomed brewer of the user's own.
    """
    if not 25 <= diameter_mm <= 400:
        raise InputError(
            "brewer-out-of-range", f"A flat bed {diameter_mm:g} mm across is not one that a brewer has.",
            "Use a diameter of 25–400 mm.", field="brewer",
        )  # fmt: skip
    return Brewer("flat", "flat bed", 0.0, diameter_mm, bypass)
