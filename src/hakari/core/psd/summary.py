"""The measurement of one sample: headline figures, intervals, curve, whole and findings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hakari.core.arrays import FloatArray
from hakari.core.photo.result import Finding, Particles
from hakari.core.psd.distribution import (
    BOULDER_FACTOR,
    CUT_UM,
    SHARE_LIMITS_UM,
    Curve,
    Moments,
    binned_mass,
    effective_count,
    kernel,
    kernel_width_ln,
    log_grid,
    mass_below,
    moments,
    require_some,
    smooth_curve,
    volumes,
)
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_photo
from hakari.core.psd.intervals import Band, Intervals, counting_intervals, density_band, resample, standard_errors_ln
from hakari.core.psd.photo_requirement import PhotoRequirement, required_photos, unshared_error
from hakari.core.psd.photo_variance import BetweenPhotoVariance, between_photos, widening


@dataclass(frozen=True)
class Summary:
    """All that is said about one sample, of the grounds at or above ``cut_um`` unless named otherwise."""

    counted: int
    cut_um: float
    limit_um: float
    moments: Moments
    mass_below: dict[float, float | None]
    boulder_share: float
    boulder_um: float
    effective_count: float
    intervals: Intervals
    band: Band
    curve: Curve
    whole: Grind
    whole_method: str
    findings: tuple[Finding, ...]
    between: BetweenPhotoVariance | None
    enough: PhotoRequirement


def summarise(particles: Particles, limit_um: float, rng: np.random.Generator, light_error: float = 0.0) -> Summary:
    """Summarise the grounds of one sample.

    Parameters
    ----------
    particles:
        All grounds seen, also those below the limit; what was left out does not count.
    limit_um:
        The coarsest resolution limit among the sample's photos.
    rng:
        Drives the bootstrap of the curve's band.
    light_error:
        Standard error of sizes because of the photos' light, as a share.

    Returns
    -------
    Summary
        Figures with intervals.

    Raises
    ------
    InputError
        ``no-grounds`` when nothing lies at or above the cut.
    """
    cut = max(CUT_UM, limit_um)
    findings: list[Finding] = []
    if limit_um > CUT_UM:
        findings.append(
            Finding(
                "cut-raised",
                "warning",
                f"Figures count from {cut:.0f} µm up, not from 100: compare only with photos of the same cut.",
                "Go closer or hold still, so that 100 µm can be seen.",
            )
        )
    particles = particles.counted
    d_all, w_all = particles.diameter_um, particles.weight
    require_some(d_all, cut)
    keep = d_all >= cut
    d, w = d_all[keep], w_all[keep]
    headline = moments(d, w)
    boulder_um = BOULDER_FACTOR * headline.d50_um
    mass = volumes(d, w)
    count = effective_count(d, w)
    width = kernel_width_ln(headline, count)
    visible = d_all >= limit_um
    # Figures are of what lies above the cut; the band belongs to the drawn curve, which shows all that was seen.
    band = density_band(resample(d_all[visible], w_all[visible], rng), width)
    photos = int(particles.photo.max()) + 1
    between = between_photos(particles, photos, cut)
    intervals = _intervals(d, w, headline, between, light_error)
    if between is not None and between.differ:
        findings.append(_photos_differ(between))
    whole, method = grind_from_photo(d_all[visible], w_all[visible], limit_um)
    return Summary(
        counted=int(keep.sum()), cut_um=cut, limit_um=limit_um, moments=headline,
        mass_below={u: mass_below(d, w, u) if u > cut else None for u in SHARE_LIMITS_UM},
        boulder_share=float(mass[d > boulder_um].sum() / mass.sum()), boulder_um=boulder_um,
        effective_count=count, intervals=intervals, band=band,
        curve=smooth_curve(d_all[visible], w_all[visible], width), whole=whole, whole_method=method,
        findings=tuple(findings), between=between, enough=required_photos(intervals, photos, light_error),
    )  # fmt: skip


def _intervals(
    d: FloatArray, w: FloatArray, headline: Moments, between: BetweenPhotoVariance | None, light_error: float
) -> Intervals:
    # The light of one room misleads all photos taken in it alike: more photos do not make this part smaller.
    factors = [
        float(np.hypot(widening(between, float(e)), light_error / max(float(e), 1e-6)))
        for e in standard_errors_ln(d, w)
    ]
    return counting_intervals(d, w).widened(
        (factors[0], factors[1], factors[2]), (headline.d10_um, headline.d50_um, headline.d90_um)
    )


@dataclass(frozen=True)
class Narrowed:
    """D50 and its 95 % interval, µm, of the first so many photos of a sample."""

    photos: int
    d50_um: float
    ci95_um: tuple[float, float]


def narrowing(particles: Particles, limit_um: float, light_error: float = 0.0) -> list[Narrowed]:
    """Return how D50's interval narrowed photo by photo, as far as it is not shared with others in the same light.

    Parameters
    ----------
    particles : Particles
        All grounds seen.
    limit_um : float
        The coarsest resolution limit among the sample's photos, µm: all are judged from the same cut.
    light_error : float
        Standard error of sizes because of the photos' light, as a share.

    Returns
    -------
    list[Narrowed]
        One for each number of photos from which a figure can be had, growing.
    """
    cut = max(CUT_UM, limit_um)
    counted = particles.counted
    counted = counted.select(np.flatnonzero(counted.diameter_um >= cut))
    found = []
    for photos in range(1, int(counted.photo.max(initial=-1)) + 2):
        first = counted.select(np.flatnonzero(counted.photo < photos))
        if len(first) == 0:
            continue
        headline = moments(first.diameter_um, first.weight)
        between = between_photos(first, photos, cut)
        unshared = unshared_error(light_error, photos)
        intervals = _intervals(first.diameter_um, first.weight, headline, between, unshared)
        found.append(Narrowed(photos, headline.d50_um, intervals.d50_um))
    return found


def _photos_differ(between: BetweenPhotoVariance) -> Finding:
    sizes = ", ".join(f"{d:.0f}" for d in between.d50_um)
    return Finding(
        "photos-differ",
        "warning",
        f"The photos differ by more than chance (D50 {sizes} µm): the pinches were sorted, or not all are of one grind.",
        "Mix the whole dose, take each pinch from the middle, and leave out a photo of another grind.",
    )


def gap_between(a_um: FloatArray, a_mass: FloatArray, b_um: FloatArray, b_mass: FloatArray, width_ln: float) -> float:
    """Largest difference of two cumulative mass curves, both smoothed by a Gaussian kernel in ln d.

    Parameters
    ----------
    a_um : ndarray of float64
        Sizes of the first mixture, µm, (n,).
    a_mass : ndarray of float64
        Mass of each size of the first mixture, (n,).
    b_um : ndarray of float64
        Sizes of the second mixture, µm, (m,).
    b_mass : ndarray of float64
        Mass of each size of the second mixture, (m,).
    width_ln : float
        Width of the kernel in ln size.

    Returns
    -------
    float
        Largest difference of two cumulative mass curves, both smoothed by a Gaussian kernel in ln d.
    """
    size = log_grid()
    k = kernel(0.01, width_ln)
    curves = []
    for d, m in ((a_um, a_mass), (b_um, b_mass)):
        smooth = np.convolve(binned_mass(size, d, m), k, mode="same")
        curves.append(np.cumsum(smooth) / smooth.sum())
    return float(np.abs(curves[0] - curves[1]).max())
