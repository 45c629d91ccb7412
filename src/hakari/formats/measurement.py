"""``hakari.card/1`` and ``hakari.measurement/1``, and the particles CSV."""

from __future__ import annotations

import csv
import io
from typing import Any, cast

from hakari.core.photo.card import CHECK_BAR_MM, Card
from hakari.core.photo.quality import of_photo, verdict_of
from hakari.core.photo.result import Finding, Particles, PhotoResult, Severity
from hakari.core.psd.summary import Summary
from hakari.formats.base import Document, Pair


class WellDocument(Document):
    """The well, mm from the card's top left corner."""

    x: float
    y: float
    width: float
    height: float


class CardDocument(Document):
    """Geometry of a card."""

    format: str = "hakari.card/1"
    paper: str
    width_mm: float
    height_mm: float
    well_mm: WellDocument
    check_bar_mm: float = CHECK_BAR_MM

    @classmethod
    def of(cls, card: Card) -> CardDocument:
        """Describe a card."""
        w = card.well
        well = WellDocument(x=w.x, y=w.y, width=w.width, height=w.height)
        return cls(paper=card.paper, width_mm=card.width_mm, height_mm=card.height_mm, well_mm=well)


class FindingDocument(Document):
    """One finding, and where it shows: x0, y0, x1, y1 in pixels of photo ``photo`` (from 0)."""

    code: str
    severity: str
    message: str
    remedy: str
    photo: int | None = None
    place_px: list[float] | None = None

    @classmethod
    def of(cls, finding: Finding) -> FindingDocument:
        """Copy a finding."""
        place = [round(v, 1) for v in finding.place_px] if finding.place_px else None
        return cls(
            code=finding.code, severity=finding.severity, message=finding.message, remedy=finding.remedy,
            photo=finding.photo, place_px=place,
        )  # fmt: skip

    def core(self) -> Finding:
        """Return the core's finding."""
        place = tuple(self.place_px) if self.place_px else None
        return Finding(
            self.code, cast(Severity, self.severity), self.message, self.remedy, cast(Any, place), self.photo
        )


class VerdictDocument(Document):
    """Whether the photos can be used (good, usable with care, retake) and why."""

    level: str
    reason: str


class PhotoRequirementDocument(Document):
    """Half width of D50's interval as a share, and how many more photos bring it to ``wanted`` (null: no few do)."""

    half_width: float
    wanted: float
    more_photos: int | None


class BetweenPhotoVarianceDocument(Document):
    """The photos of a sample compared: each one's D50, and the spread of ln D50 between them beyond counting."""

    d50_um: list[float]
    tau_ln: float
    differ: bool


class ScaleDocument(Document):
    """How the scale was found."""

    method: str
    um_per_px: float
    tilt_deg: float | None


class ExtrapolatedDocument(Document):
    """The whole grind with its unseen fines: a named extra."""

    d50_um: float
    mass_below_um: dict[str, float]
    method: str
    fines_relative_sd: float


class IntervalsDocument(Document):
    """95 % intervals from counting."""

    d10_um: Pair
    d50_um: Pair
    d90_um: Pair


class MeasurementDocument(Document):
    """The measurement of one sample."""

    format: str = "hakari.measurement/1"
    photos: int
    particles: int
    scale: ScaleDocument
    diameter: str = "area-equivalent"
    weighting: str = "volume"
    d10_um: float
    d50_um: float
    d90_um: float
    span: float
    d32_um: float
    d43_um: float
    mass_below_um: dict[str, float | None]
    boulder_share: float
    boulder_um: float
    extrapolated: ExtrapolatedDocument
    ci95: IntervalsDocument
    effective_count: float
    resolution_limit_um: float
    blur_fwhm_um: float
    cut_um: float
    coverage: float
    light_error: float = 0.0
    findings: list[FindingDocument]
    verdict: VerdictDocument
    enough: PhotoRequirementDocument
    between: BetweenPhotoVarianceDocument | None
    seconds: dict[str, float]

    @classmethod
    def of(cls, summary: Summary, photos: list[PhotoResult]) -> MeasurementDocument:
        """Put a sample's summary and its photos into the format."""
        first = photos[0].scale
        return cls(
            photos=len(photos), blur_fwhm_um=max(p.blur_fwhm_um for p in photos), coverage=max(p.coverage for p in photos),
            light_error=max(p.light_error for p in photos),
            scale=ScaleDocument(method=first.method, um_per_px=first.um_per_px, tilt_deg=first.tilt_deg),
            seconds={k: round(sum(p.seconds[k] for p in photos), 3) for k in photos[0].seconds},
            **_judged([f for i, p in enumerate(photos) for f in of_photo(p.findings, i)], summary), **_figures(summary),
        )  # fmt: skip

    def extended(self, summary: Summary, more: list[PhotoResult]) -> MeasurementDocument:
        """Return the same sample with more photos."""
        of_photos = [f.core() for f in self.findings if f.photo is not None]
        of_photos += [f for i, p in enumerate(more) for f in of_photo(p.findings, self.photos + i)]
        together = {
            "photos": self.photos + len(more),
            "blur_fwhm_um": max(self.blur_fwhm_um, *(p.blur_fwhm_um for p in more)),
            "coverage": max(self.coverage, *(p.coverage for p in more)),
            "light_error": max(self.light_error, *(p.light_error for p in more)),
            "seconds": {k: round(v + sum(p.seconds[k] for p in more), 3) for k, v in self.seconds.items()},
        }
        return self.model_copy(update={**together, **_judged(of_photos, summary), **_figures(summary)})

    def revised(self, summary: Summary) -> MeasurementDocument:
        """Return the same photos after a person's corrections of the grounds."""
        of_photos = [f.core() for f in self.findings if f.photo is not None]
        return self.model_copy(update={**_judged(of_photos, summary), **_figures(summary)})


def _judged(of_photos: list[Finding], summary: Summary) -> dict[str, Any]:
    """Return findings of the photos and of the sample, each once, and the verdict that follows."""
    unique = list({(f.code, f.message): f for f in [*of_photos, *summary.findings]}.values())
    verdict = verdict_of(unique)
    return {
        "findings": [FindingDocument.of(f) for f in unique],
        "verdict": VerdictDocument(level=verdict.level, reason=verdict.reason),
    }


def _figures(summary: Summary) -> dict[str, Any]:
    """Return what is computed from the grounds."""
    m, whole, ci, between, enough = (
        summary.moments, summary.whole, summary.intervals, summary.between, summary.enough
    )  # fmt: skip
    return {
        "particles": summary.counted, "d10_um": m.d10_um, "d50_um": m.d50_um, "d90_um": m.d90_um, "span": m.span,
        "d32_um": m.d32_um, "d43_um": m.d43_um,
        "mass_below_um": {f"{u:.0f}": v for u, v in summary.mass_below.items()},
        "boulder_share": summary.boulder_share, "boulder_um": summary.boulder_um,
        "extrapolated": ExtrapolatedDocument(
            d50_um=whole.d50_um, mass_below_um={f"{u:.0f}": whole.below(u) for u in summary.mass_below},
            method=summary.whole_method, fines_relative_sd=whole.fines_relative_sd,
        ),
        "ci95": IntervalsDocument(d10_um=ci.d10_um, d50_um=ci.d50_um, d90_um=ci.d90_um),
        "effective_count": summary.effective_count, "resolution_limit_um": summary.limit_um, "cut_um": summary.cut_um,
        "enough": PhotoRequirementDocument(
            half_width=enough.half_width, wanted=enough.wanted, more_photos=enough.more_photos
        ),
        "between": None if between is None else BetweenPhotoVarianceDocument(
            d50_um=list(between.d50_um), tau_ln=between.tau_ln, differ=between.differ
        ),
    }  # fmt: skip


PARTICLE_COLUMNS = (
    "photo", "x_mm", "y_mm", "area_um2", "diameter_um", "min_feret_um", "max_feret_um", "aspect_ratio", "circularity",
    "touches_edge", "weight",
)  # fmt: skip


def particles_csv(particles: Particles) -> str:
    """All grounds that count as CSV, one row each."""
    particles = particles.counted
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(PARTICLE_COLUMNS)
    columns = [getattr(particles, name) for name in PARTICLE_COLUMNS]
    for row in zip(*columns, strict=True):
        photo, *lengths, edge, weight = row
        writer.writerow([int(photo), *(f"{v:.4f}" for v in lengths), int(edge), f"{weight:.5f}"])
    return out.getvalue()
