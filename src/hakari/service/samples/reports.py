"""What leaves the house of a sample: tables, its measurement, the annotated photo and a page to print."""

from __future__ import annotations

import io

import numpy as np
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from hakari.core.photo.result import Particles
from hakari.formats.measurement import MeasurementDocument, particles_csv
from hakari.service.samples.measuring import outlined_jpeg, overlay_png
from hakari.service.samples.use_cases import find_photo
from hakari.service.samples.views import SampleView, reviewed, sample_view
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models
from hakari.store.snapshots import CurveView

INK, PERSIMMON, FAINT = (0.16, 0.18, 0.36), (0.81, 0.29, 0.13), (0.72, 0.70, 0.66)
REPORT_PHOTO_PX = 1400
LEFT, RIGHT, TOP = 20 * mm, 190 * mm, 277 * mm


def sample_particles_csv(ws: Workspace, sample_id: int) -> str:
    """All grounds of a sample that count, corrections applied, as CSV."""
    with ws.transaction() as session:
        return particles_csv(reviewed(ws, find(session, models.Sample, sample_id, "sample")).particles)


def measurement_json(ws: Workspace, sample_id: int) -> str:
    """Return a sample's measurement in its open format."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        return row.measurement.model_dump_json(indent=1)


def annotated_png(ws: Workspace, sample_id: int, photo_index: int) -> bytes:
    """Return a photo with the outlines of its grounds at full size, without the photo's own metadata."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        data = ws.files.get(find_photo(row, photo_index).content_hash)
        particles = _of_photo(reviewed(ws, row).particles, photo_index)
    return ws.processes.run(overlay_png, data, particles)


def _of_photo(particles: Particles, photo_index: int) -> Particles:
    return particles.select(np.flatnonzero(particles.photo == photo_index))


def report_pdf(ws: Workspace, sample_id: int) -> bytes:
    """One page: the figures with their intervals, the curve, the photo, what to mind."""
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        view, m = sample_view(session, row), row.measurement
        curve = row.curve
        photo = row.photos[0].content_hash if row.photos else None
        particles = _of_photo(reviewed(ws, row).particles, 0)
    out = io.BytesIO()
    page = Canvas(out, pagesize=A4)
    page.setTitle(f"Hakari measurement {sample_id}")
    y = _heading(page, view, m)
    y = _figures(page, m, y)
    y = _curve(page, curve, m, y - 8 * mm)
    if photo is not None:
        jpeg = ws.processes.run(outlined_jpeg, ws.files.get(photo), particles, REPORT_PHOTO_PX)
        y = _photo(page, jpeg, y - 8 * mm)
    _findings(page, m, y - 8 * mm)
    page.showPage()
    page.save()
    return out.getvalue()


def _heading(page: Canvas, view: SampleView, m: MeasurementDocument) -> float:
    page.setFillColorRGB(*INK)
    page.setFont("Helvetica-Bold", 18)
    what = " ".join(p for p in (view.grinder_name, view.setting) if p) or f"Sample {view.id}"
    page.drawString(LEFT, TOP, what)
    page.setFont("Helvetica", 9)
    parts = [view.coffee_name, view.created_at[:16].replace("T", " ") + " UTC", f"{m.photos} photos"]
    simulated = "made-up demo picture" if view.simulated else None
    page.drawString(LEFT, TOP - 6 * mm, " - ".join(p for p in (*parts, simulated) if p))
    page.drawString(LEFT, TOP - 11 * mm, f"{m.verdict.level}: {m.verdict.reason}".replace("µ", "\u00b5"))
    return float(TOP - 20 * mm)


def _figures(page: Canvas, m: MeasurementDocument, y: float) -> float:
    rows = [("D10", m.d10_um, m.ci95.d10_um), ("D50", m.d50_um, m.ci95.d50_um), ("D90", m.d90_um, m.ci95.d90_um)]
    for k, (name, value, (low, high)) in enumerate(rows):
        x = LEFT + k * 45 * mm
        page.setFont("Helvetica", 9)
        page.drawString(x, y, name)
        page.setFont("Helvetica-Bold", 16)
        page.drawString(x, y - 7 * mm, f"{value:.0f} \u00b5m")
        page.setFont("Helvetica", 8)
        page.drawString(x, y - 11 * mm, f"{low:.0f} to {high:.0f}")
    page.setFont("Helvetica", 9)
    page.drawString(LEFT + 135 * mm, y, f"span {m.span:.2f}")
    page.drawString(LEFT + 135 * mm, y - 5 * mm, f"{m.particles} grounds")
    page.drawString(LEFT + 135 * mm, y - 10 * mm, f"from {m.cut_um:.0f} \u00b5m up, by volume")
    return float(y - 14 * mm)


def _curve(page: Canvas, curve: CurveView, m: MeasurementDocument, y: float) -> float:
    height, width = 55 * mm, RIGHT - LEFT
    size, density = np.array(curve.size_um), np.array(curve.density)
    top = max(float(np.max(curve.high)), 1e-6)
    low_um, high_um = 50.0, 2500.0

    def x_of(um: float) -> float:
        return float(LEFT + width * np.log(um / low_um) / np.log(high_um / low_um))

    shown = (size >= low_um) & (size <= high_um)
    page.setStrokeColorRGB(*FAINT)
    page.setFont("Helvetica", 7)
    for tick in (50, 100, 200, 500, 1000, 2000):
        page.line(x_of(tick), y - height, x_of(tick), y - height - 1.5 * mm)
        page.drawCentredString(x_of(tick), y - height - 5 * mm, f"{tick}")
    page.line(LEFT, y - height, RIGHT, y - height)
    for values, colour, width_pt in ((curve.low, FAINT, 0.4), (curve.high, FAINT, 0.4), (density, INK, 1.2)):
        page.setStrokeColorRGB(*colour)
        page.setLineWidth(width_pt)
        path = page.beginPath()
        for k, (s, v) in enumerate(zip(size[shown], np.array(values)[shown], strict=True)):
            point = x_of(float(s)), y - height + 0.95 * height * float(v) / top
            path.moveTo(*point) if k == 0 else path.lineTo(*point)
        page.drawPath(path)
    page.setStrokeColorRGB(*PERSIMMON)
    page.line(x_of(m.d50_um), y - height, x_of(m.d50_um), y)
    page.drawString(x_of(m.d50_um) + 1 * mm, y - 2 * mm, "D50")
    page.drawRightString(RIGHT, y - height - 9 * mm, "\u00b5m; share of volume; thin lines: 95 % band from counting")
    return float(y - height - 10 * mm)


def _photo(page: Canvas, jpeg: bytes, y: float) -> float:
    picture = ImageReader(io.BytesIO(jpeg))
    across, down = picture.getSize()
    height = min(75 * mm, (RIGHT - LEFT) * down / across)
    page.drawImage(picture, LEFT, y - height, height * across / down, height)
    return float(y - height)


def _findings(page: Canvas, m: MeasurementDocument, y: float) -> None:
    page.setFont("Helvetica", 8)
    page.setFillColorRGB(*INK)
    for f in m.findings[:8]:
        page.drawString(LEFT, y, f"{f.severity}: {f.message} {f.remedy}"[:150])
        y -= 4.2 * mm
    page.drawString(
        LEFT, 12 * mm, "Measured by Hakari; the intervals are about the grind, from counting, not about this pinch."
    )
