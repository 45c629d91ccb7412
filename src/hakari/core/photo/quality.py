"""What a person should know about a photo before trusting its numbers: each finding with its place and its remedy."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from hakari.core.photo.card import CHECK_BAR_MM
from hakari.core.photo.left_out import left_out_findings
from hakari.core.photo.photo_evidence import PhotoEvidence
from hakari.core.photo.photo_light import TILE_COLUMNS, TILE_ROWS, light_findings, shadow_findings, tiles_of
from hakari.core.photo.result import Finding, Particles, Place
from hakari.core.photo.view import View

CROWDED_COVERAGE = 0.15
CROWDED_SPLITS = 0.30
FEW_LARGE_GROUNDS = 120
FEW_FLOOR = 20
COARSE_JPEG_STEP = 22.0
FAR_TOO_SOFT_UM = 200.0


@dataclass(frozen=True)
class Verdict:
    """Can the photo be used: ``good``, ``usable`` with care, or ``retake``; and why."""

    level: Literal["good", "usable", "retake"]
    reason: str


def limit_um(fwhm_um: float, um_per_px: float) -> float:
    """Resolution limit: the larger of three pixels and the blur's full width at half maximum.

    Parameters
    ----------
    fwhm_um : float
        Full width at half maximum of the blur, µm.
    um_per_px : float
        Scale, µm per px.

    Returns
    -------
    float
        Resolution limit, µm.
    """
    return max(3.0 * um_per_px, fwhm_um)


def verdict_of(findings: Iterable[Finding]) -> Verdict:
    """Return the verdict of the worst finding, and that finding as its reason.

    Parameters
    ----------
    findings : Iterable[Finding]
        Findings of a photo.

    Returns
    -------
    Verdict
        The verdict of the worst finding, and that finding as its reason.
    """
    found = list(findings)
    worst = next((f for wanted in ("problem", "warning") for f in found if f.severity == wanted), None)
    if worst is not None:
        return Verdict("retake" if worst.severity == "problem" else "usable", worst.message)
    return Verdict("good", "Sharp, evenly lit and loosely spread: nothing to correct.")


def photo_findings(evidence: PhotoEvidence) -> tuple[Finding, ...]:
    """Judge one measured photo; each finding has a remedy in a barista's words, and a place where it has one.

    Parameters
    ----------
    evidence : PhotoEvidence
        What the photo shows.

    Returns
    -------
    tuple[Finding, ...]
        What was found, worst first.
    """
    tiles = tiles_of(evidence)
    parts = (
        _sharpness(evidence),
        _spread(evidence),
        light_findings(evidence, tiles),
        shadow_findings(evidence),
        _scale(evidence.view),
        left_out_findings(evidence.particles),
    )
    return tuple(f for part in parts for f in part)


def _sharpness(e: PhotoEvidence) -> Iterator[Finding]:
    um_per_px = e.view.scale.um_per_px
    limit = limit_um(e.fwhm_um, um_per_px)
    if e.fwhm_um > max(100.0, 5.0 * um_per_px):
        yield Finding(
            "blur", "problem" if e.fwhm_um > FAR_TOO_SOFT_UM else "warning",
            f"The photo is soft: edges are {e.fwhm_um:.0f} µm wide, fines below that are not seen.",
            "Rest the phone on a glass, tap the grounds to focus, and take it again.",
        )  # fmt: skip
    if limit > 100:
        yield Finding(
            "resolution-coarse", "warning", f"Nothing under {limit:.0f} µm can be told apart in this photo.",
            "Go closer: fill the picture with the card's well.",
        )  # fmt: skip
    if e.jpeg_step is not None and e.jpeg_step > COARSE_JPEG_STEP:
        yield Finding(
            "compression", "warning", "Heavily compressed: fines are lost in it.",
            "Send the original from the phone, not a copy out of a chat.",
        )  # fmt: skip


def _spread(e: PhotoEvidence) -> Iterator[Finding]:
    p = e.particles.counted
    split = p.was_split[p.diameter_um > 150]
    split_share = float(split.mean()) if len(split) else 0.0
    if e.coverage > CROWDED_COVERAGE or split_share > CROWDED_SPLITS:
        why = (
            f"{100 * e.coverage:.0f} % of the paper is covered." if e.coverage > CROWDED_COVERAGE
            else f"{100 * split_share:.0f} % of them touch and had to be parted."
        )  # fmt: skip
        yield Finding(
            "crowded", "warning", f"The grounds lie close: {why}",
            "Spread a smaller pinch, so that the grounds do not touch.", _densest(p),
        )  # fmt: skip
    large = int((p.diameter_um >= 200).sum())
    if large < FEW_FLOOR:
        yield Finding(
            "too-few-grounds", "problem", f"Only {large} grounds over 200 µm were found: the figures mean little.",
            "Spread a larger pinch and photograph it from above.",
        )  # fmt: skip
    elif large < FEW_LARGE_GROUNDS:
        yield Finding(
            "too-few-grounds", "warning", f"Only {large} larger grounds were found, so the figures are wide.",
            "Add more photos of the same grind.",
        )  # fmt: skip


def _scale(view: View) -> Iterator[Finding]:
    scale = view.scale
    if view.card is not None:
        yield from _card(view)
    elif view.disc is not None:
        d = view.disc
        yield Finding(
            "disc-thickness", "note",
            f"The round object's upper rim, taken to be {d.thickness_mm:.1f} mm above the paper, looks "
            f"{100 * (d.enlarged_by - 1):.1f} % larger; that was taken off. Sizes stay unsure by about 1 %.",
            "Use the printed card, which lies flat, or type the object's thickness.",
        )  # fmt: skip
        if d.tilt_deg is not None:
            yield Finding(
                "tilt", "warning" if d.tilt_bias > 0.05 else "note",
                f"The phone was tilted by about {d.tilt_deg:.0f}°: sizes far from the round object may be off by "
                f"{100 * d.tilt_bias:.0f} %.",
                "Hold the phone level above the paper, or use the printed card.",
            )  # fmt: skip
    else:
        yield Finding(
            "plane-assumed", "note", "The scale holds only if the phone was level: 10° of tilt makes sizes 1 % off.",
            "Use the printed card to have tilt measured and corrected.",
        )  # fmt: skip
    if scale.method == "card" and scale.tilt_deg is not None and scale.tilt_deg > 15:
        yield Finding(
            "tilt", "note", f"The phone was tilted by {scale.tilt_deg:.0f}°; this was corrected.",
            "Hold it level above the card for the sharpest result.",
        )  # fmt: skip


def _card(view: View) -> Iterator[Finding]:
    assert view.card is not None
    scale, seen, total = view.scale, view.card.markers_seen, len(view.card.card.markers)
    stretch = scale.um_per_px / view.card.scale.um_per_px
    if abs(stretch - 1) > 1e-4:
        yield Finding(
            "printer-scaled", "note",
            f"The check bar is {CHECK_BAR_MM * stretch:.1f} mm long, so all sizes were stretched by "
            f"{100 * (stretch - 1):+.1f} %.",
            "Print the card at 100 %, without “fit to page”.",
        )  # fmt: skip
    if scale.residual_um is not None and scale.residual_um > 120:
        yield Finding(
            "card-bent", "warning", f"The card's markers are {scale.residual_um:.0f} µm off a flat sheet.",
            "Lay the card flat, or tape its corners down.",
        )  # fmt: skip
    if seen < 0.6 * total:
        yield Finding(
            "card-partly-hidden", "note", f"{seen} of {total} markers were seen.",
            "Fine as long as the whole well is in the picture.",
        )  # fmt: skip


def _densest(p: Particles) -> Place | None:
    """Return the tile of the grounds' field with the most coffee on it."""
    if len(p) < 2:
        return None
    x_edges = np.linspace(p.x_px.min(), p.x_px.max() + 1, TILE_COLUMNS + 1)
    y_edges = np.linspace(p.y_px.min(), p.y_px.max() + 1, TILE_ROWS + 1)
    area, _, _ = np.histogram2d(p.y_px, p.x_px, (y_edges, x_edges), weights=p.area_um2)
    row, column = np.unravel_index(int(np.argmax(area)), area.shape)
    return float(x_edges[column]), float(y_edges[row]), float(x_edges[column + 1]), float(y_edges[row + 1])


def of_photo(findings: Iterable[Finding], photo: int) -> tuple[Finding, ...]:
    """Return the same findings, belonging to one photo of a sample.

    Parameters
    ----------
    findings : Iterable[Finding]
        Findings of a photo.
    photo : int
        Number of the photo.

    Returns
    -------
    tuple[Finding, ...]
        The same findings, belonging to one photo of a sample.
    """
    return tuple(replace(f, photo=photo) for f in findings)
