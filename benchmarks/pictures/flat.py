"""Pictures of ground coffee with known truth: irregular grounds on the printed card, as a phone would see them.

Every ground is a polygon whose area is exact, so that the truth of a picture is known to the last ground. The scene is
drawn at three times the camera's pixels, then lit, blurred, made noisy and compressed. These are simulations: they have
flat grounds without height, and say so in their truth files.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from functools import lru_cache
from typing import Any

import numpy as np
import numpy.typing as npt
from skimage.measure import grid_points_in_poly

from benchmarks.pictures.flat_camera import PHOTOGRAPHED, SUPERSAMPLE, Scene, camera, photograph, project
from benchmarks.pictures.grind import FINE_MEDIAN_UM, FINE_SIGMA, filled, number_median_um
from hakari.core.arrays import FloatArray
from hakari.core.photo.card import CARDS, Card, Rectangle
from hakari.core.psd.distribution import CUT_UM, mass_below, moments, volumes


@dataclass(frozen=True)
class Made:
    """A made picture: its file, and every ground's diameter and place on the card."""

    jpeg: bytes
    diameter_um: FloatArray
    x_mm: FloatArray
    y_mm: FloatArray
    scene: Scene

    def truth(self) -> dict[str, object]:
        """Return the true figures at and above the cut, and the whole, as the truth file beside a picture."""
        seen = self.diameter_um >= CUT_UM
        d, one = self.diameter_um[seen], np.ones(int(seen.sum()))
        m = moments(d, one)
        everything = np.ones(len(self.diameter_um))
        return {
            "format": "hakari.truth/1",
            "simulated": True,
            "grounds": len(self.diameter_um),
            "grounds_from_100_um": len(d),
            "d10_um": m.d10_um,
            "d50_um": m.d50_um,
            "d90_um": m.d90_um,
            "mass_below_um": {"200": mass_below(d, one, 200), "300": mass_below(d, one, 300)},
            "whole": {
                "d50_um": moments(self.diameter_um, everything).d50_um,
                "mass_below_um": {str(u): mass_below(self.diameter_um, everything, u) for u in (100, 200, 300)},
            },
        }


def make_picture(scene: Scene) -> Made:
    """Draw one picture; the same scene and seed give the same grounds."""
    strewn = _strewn(replace(scene, **{f.name: f.default for f in fields(Scene) if f.name in PHOTOGRAPHED}))
    rng = np.random.default_rng()
    rng.bit_generator.state = strewn.rng_state
    card = CARDS[scene.paper]
    jpeg = photograph(strewn.cover, card, camera(scene, card), scene, rng)
    return Made(jpeg, strewn.diameter_um, strewn.places_mm[:, 0], strewn.places_mm[:, 1], scene)


@dataclass(frozen=True)
class _Strewn:
    """Grounds as they lie before the camera, and the state of the random generator after them."""

    cover: npt.NDArray[np.uint8]
    diameter_um: FloatArray
    places_mm: FloatArray
    rng_state: Mapping[str, Any]


@lru_cache(maxsize=2)
def _strewn(scene: Scene) -> _Strewn:
    """Strew a scene's grounds; kept, because the same ones are often photographed in several ways."""
    rng = np.random.default_rng(scene.seed)
    card = CARDS[scene.paper]
    diameters = _draw_diameters(scene, card, rng)
    cover = np.zeros((scene.height_px * SUPERSAMPLE, scene.width_px * SUPERSAMPLE), np.uint8)
    drawn, places = _scatter(cover, diameters, card, camera(scene, card), scene, rng)
    return _Strewn(cover, drawn, places, rng.bit_generator.state)


def _draw_diameters(scene: Scene, card: Card, rng: np.random.Generator) -> FloatArray:
    """Diameters until the well is covered as wished; masses share out between a coarse and a fine mode."""
    wanted_mm2 = scene.coverage * card.well.width * card.well.height
    coarse_number = number_median_um(scene.median_um, scene.sigma_ln)
    coarse = np.clip(rng.lognormal(np.log(coarse_number), scene.sigma_ln, 60000), 90, 2600)
    if scene.second_share:
        # A second hump: the mean volumes turn its share of the mass into a share of the number.
        by_number = scene.second_share / scene.second_ratio**3
        by_number /= by_number + 1 - scene.second_share
        coarse = np.where(rng.random(len(coarse)) < by_number, np.clip(coarse * scene.second_ratio, 90, 2600), coarse)
    fine = np.clip(rng.lognormal(np.log(FINE_MEDIAN_UM), FINE_SIGMA, 200000), 22, 400)
    return filled(coarse, fine, scene.fines_share, wanted_mm2, scene.grounds_limit)


# Of an outline with so many corners: their numbers, and the number of the next one round.
CORNERS = {n: (np.arange(n), np.roll(np.arange(n), -1)) for n in (7, 10, 15)}


def _outline(diameter_mm: float, rng: np.random.Generator) -> npt.NDArray[np.float64]:
    """Return a crumbled outline round the origin with exactly the area of a disc of this diameter."""
    n = 7 if diameter_mm < 0.12 else (10 if diameter_mm < 0.3 else 15)
    corners, following = CORNERS[n]
    angle = (corners + rng.uniform(-0.33, 0.33, n)) * 2 * np.pi / n
    stretch = 1.0 + abs(rng.normal(0, 0.16))
    radius = 1.0 + rng.normal(0, 0.07, n)
    for k, size in ((2, 0.10), (3, 0.08), (4, 0.05)):
        radius += rng.normal(0, size / 1.6) * np.cos(k * angle + rng.uniform(0, 2 * np.pi))
    radius = np.minimum(np.maximum(radius, 0.45), 1.7)
    p = np.empty((n, 2))
    p[:, 0] = stretch * radius * np.cos(angle)
    p[:, 1] = radius * np.sin(angle)
    turn = rng.uniform(0, np.pi)
    p = p @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    after = p[following]
    area = 0.5 * abs(float((p[:, 0] * after[:, 1] - p[:, 1] * after[:, 0]).sum()))
    return np.asarray(p * np.sqrt(np.pi / 4 * diameter_mm**2 / area))


def _scatter(
    cover: npt.NDArray[np.uint8],
    diameters_um: FloatArray,
    card: Card,
    to_px: npt.NDArray[np.float64],
    scene: Scene,
    rng: np.random.Generator,
) -> tuple[FloatArray, npt.NDArray[np.float64]]:
    """Draw grounds where there is room, some of them pushed against a neighbour; returns sizes and places drawn."""
    well = card.well
    kept: list[float] = []
    places: list[npt.NDArray[np.float64]] = []
    for diameter_um in diameters_um:
        shape = _outline(diameter_um / 1000, rng)
        partner = None
        if places and rng.random() < scene.touching_share:
            k = int(rng.integers(len(places)))
            partner = (places[k], (kept[k] + diameter_um) / 1000)
        for _ in range(12):
            if partner is None:
                r = 0.6 * diameter_um / 1000
                at = np.array(
                    [
                        rng.uniform(well.x + r, well.x + well.width - r),
                        rng.uniform(well.y + r, well.y + well.height - r),
                    ]
                )
                if not _free(cover, project(to_px, shape * 1.25 + at)):
                    continue
            else:
                pushed = _pushed(cover, shape, partner, to_px, well, rng)
                if pushed is None:
                    partner = None
                    continue
                at = pushed
            part, inside = _inside(cover, project(to_px, shape + at))
            if inside.any():
                part[inside] = int(min(max(rng.normal(246, 5), 228), 255))
            kept.append(float(diameter_um))
            places.append(at)
            break
    return np.array(kept), np.array(places)


def _inside(
    cover: npt.NDArray[np.uint8], px: npt.NDArray[np.float64]
) -> tuple[npt.NDArray[np.uint8], npt.NDArray[np.bool_]]:
    """Return the part of the cover around an outline, to be looked at or drawn on, and which of its pixels lie in that."""
    (left, top), (right, bottom) = np.maximum(px.min(axis=0), 0).astype(int), np.ceil(px.max(axis=0)).astype(int)
    part = cover[top : bottom + 1, left : right + 1]
    return part, grid_points_in_poly(part.shape, px[:, ::-1] - (top, left))  # type: ignore[no-untyped-call]


def _free(cover: npt.NDArray[np.uint8], px: npt.NDArray[np.float64]) -> bool:
    part, inside = _inside(cover, px)
    return bool(inside.any()) and not part[inside].any()


def _pushed(
    cover: npt.NDArray[np.uint8],
    shape: npt.NDArray[np.float64],
    partner: tuple[npt.NDArray[np.float64], float],
    to_px: npt.NDArray[np.float64],
    well: Rectangle,
    rng: np.random.Generator,
) -> npt.NDArray[np.float64] | None:
    """Return the nearest free place on a ray towards another ground (its place, the sum of both diameters in mm): a touch."""
    angle = rng.uniform(0, 2 * np.pi)
    ray = np.array([np.cos(angle), np.sin(angle)])
    last = None
    place, reach = partner
    for distance in np.linspace(0.85 * reach, 0.05 * reach, 40):
        at = place + ray * distance
        inside = well.x < at[0] < well.x + well.width and well.y < at[1] < well.y + well.height
        if not inside or not _free(cover, project(to_px, shape + at)):
            break
        last = at
    return last


def mass_of(made: Made) -> tuple[FloatArray, FloatArray]:
    """Diameters at or above the cut and their masses, for comparing curves."""
    d = made.diameter_um[made.diameter_um >= CUT_UM]
    return d, volumes(d, np.ones(len(d)))
