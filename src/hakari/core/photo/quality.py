"""What a person should know about a photo before trusting its numbers."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from hakari.core.photo.result import Finding, Scale

CROWDED_COVERAGE = 0.15
FEW_LARGE_GROUNDS = 120
FEW_FLOOR = 20


def limit_um(fwhm_um: float, um_per_px: float) -> float:
    """Resolution limit: the larger of three pixels and the blur's full width at half maximum."""
    return max(3.0 * um_per_px, fwhm_um)


def photo_findings(
    *,
    scale: Scale,
    fwhm_um: float,
    um_per_px: float,
    coverage: float,
    diameters_um: npt.NDArray[np.float64],
    split_share: float,
    light_range: float,
    overexposed_share: float,
    paper_level: float,
    chaff: int,
    markers_seen: int | None,
    markers_total: int | None,
) -> tuple[Finding, ...]:
    """Judge one measured photo; each finding has a remedy in a barista's words."""
    found: list[Finding] = []

    def add(code: str, severity: str, message: str, remedy: str) -> None:
        found.append(Finding(code, severity, message, remedy))  # type: ignore[arg-type]

    limit = limit_um(fwhm_um, um_per_px)
    if fwhm_um > max(100.0, 5.0 * um_per_px):
        add("blur", "warning", f"The photo is soft: edges are {fwhm_um:.0f} µm wide, fines below that are not seen.",
            "Rest the phone on a glass, tap the grounds to focus, and take it again.")  # fmt: skip
    if limit > 100:
        add("resolution-coarse", "warning", f"Nothing under {limit:.0f} µm can be told apart in this photo.",
            "Go closer: fill the picture with the card's well.")  # fmt: skip
    if coverage > CROWDED_COVERAGE or split_share > 0.30:
        add("crowded", "warning", f"The grounds lie close: {100 * coverage:.0f} % of the paper is covered.",
            "Spread a smaller pinch, so that the grounds do not touch.")  # fmt: skip
    large = int((diameters_um >= 200).sum())
    if large < FEW_FLOOR:
        add("too-few-grounds", "problem", f"Only {large} grounds over 200 µm were found: the figures mean little.",
            "Spread a larger pinch and photograph it from above.")  # fmt: skip
    elif large < FEW_LARGE_GROUNDS:
        add("too-few-grounds", "warning", f"Only {large} larger grounds were found, so the figures are wide.",
            "Add more photos of the same grind.")  # fmt: skip
    if light_range > 2.0:
        add("uneven-light", "note", f"The paper is {light_range:.1f} times brighter at one side than at the other.",
            "It was evened out; light from two sides would be better.")  # fmt: skip
    if overexposed_share > 0.25:
        add("overexposed", "warning", "The paper is burnt out, so the edges of the grounds are eaten.",
            "Lower the exposure a little until the paper looks light grey.")  # fmt: skip
    if paper_level < 0.06:
        add("underexposed", "warning", "The photo is dark, so fines drown in noise.",
            "Move to a window or add a lamp.")  # fmt: skip
    if scale.tilt_deg is not None and scale.tilt_deg > 15:
        add("tilt", "note", f"The phone was tilted by {scale.tilt_deg:.0f}°; this was corrected.",
            "Hold it level above the card for the sharpest result.")  # fmt: skip
    if scale.method == "points":
        add("plane-assumed", "note", "The scale holds only if the phone was level: 10° of tilt makes sizes 1 % off.",
            "Use the printed card to have tilt measured and corrected.")  # fmt: skip
    if scale.residual_um is not None and scale.residual_um > 120:
        add("card-bent", "warning", f"The card's markers are {scale.residual_um:.0f} µm off a flat sheet.",
            "Lay the card flat, or tape its corners down.")  # fmt: skip
    if markers_seen is not None and markers_total and markers_seen < 0.6 * markers_total:
        add("card-partly-hidden", "note", f"{markers_seen} of {markers_total} markers were seen.",
            "Fine as long as the whole well is in the picture.")  # fmt: skip
    if chaff > 0:
        add("chaff", "note", f"{chaff} pale flakes (chaff) or marks were left out.",
            "Blow the chaff off the pinch if there is much of it.")  # fmt: skip
    return tuple(found)
