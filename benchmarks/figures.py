"""Figures of docs/how-it-measures.md, from the program itself: ``python -m benchmarks.figures``."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import numpy.typing as npt

from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene
from hakari.core.photo.decode import decode
from hakari.core.photo.pipeline import CardScale, measure_photo

FOLDER = Path(__file__).parents[1] / "docs" / "figures"
CROP_PX, ENLARGED = 190, 4
BLUR_SIGMA, FINER = 1.5, 8
WIDTH, HEIGHT, LEFT, BOTTOM = 620, 300, 60, 250


def outlines() -> None:
    """Return a piece of a made photo with touching grounds, enlarged: split along the cuts that were found."""
    scene = Scene(median_um=520, coverage=0.12, touching_share=0.12, fines_share=0.06, grounds_limit=12_000, seed=51)
    made = make_picture(scene)
    p = measure_photo(made.jpeg, CardScale()).particles.counted
    rgb = decode(made.jpeg).rgb
    split = np.flatnonzero(p.was_split & (p.diameter_um > 250))
    near = np.hypot(p.x_px[split][:, None] - p.x_px[split], p.y_px[split][:, None] - p.y_px[split]) < CROP_PX / 2
    busiest = split[int(np.argmax(near.sum(axis=1)))]
    x0, y0 = (int(v[busiest]) - CROP_PX // 2 for v in (p.x_px, p.y_px))
    crop = rgb[y0 : y0 + CROP_PX, x0 : x0 + CROP_PX + 60, ::-1]
    picture = cv2.resize(crop, None, fx=ENLARGED, fy=ENLARGED, interpolation=cv2.INTER_NEAREST)
    for k in range(len(p)):
        points = p.outline_px[p.outline_start[k] : p.outline_start[k + 1]]
        if len(points) > 2:
            drawn = np.round((points - (x0, y0) + 0.5) * ENLARGED * 8).astype(np.int32)
            colour = (34, 75, 207) if p.was_split[k] else (127, 156, 63)
            cv2.polylines(picture, [drawn], True, colour, 2, cv2.LINE_AA, 3)
    cv2.imwrite(str(FOLDER / "outlines.png"), picture)


def blurred_disc(diameter_px: float) -> npt.NDArray[np.float32]:
    """Coverage of a blurred disc, drawn finer and averaged over pixels."""
    side = 2 * int(diameter_px / 2 + 6 * BLUR_SIGMA) + 3
    grid = (np.arange(side * FINER) + 0.5) / FINER - side / 2
    disc = (np.hypot(*np.meshgrid(grid, grid)) < diameter_px / 2).astype(np.float32)
    small = cv2.resize(disc, (side, side), interpolation=cv2.INTER_AREA)
    return np.asarray(cv2.GaussianBlur(small, (0, 0), BLUR_SIGMA), np.float32)


def two_measures() -> None:
    """How far the light's sum, the half-height edge and the corrected edge are off, by a disc's size under blur."""
    sizes = np.linspace(3, 24, 43)
    lines: dict[str, list[float]] = {"sum of light": [], "half height": [], "half height + πσ²": []}
    for d in sizes:
        cover = blurred_disc(float(d))
        inside = float((cover > 0.5).sum())
        for name, area in zip(
            lines, (float(cover.sum()), inside, inside + np.pi * BLUR_SIGMA**2 * (inside > 0)), strict=True
        ):
            lines[name].append(100 * (np.sqrt(4 * area / np.pi) / d - 1))
    low, high = -30.0, 15.0

    def at(d: float, error: float) -> str:
        x = LEFT + (d - sizes[0]) / (sizes[-1] - sizes[0]) * (WIDTH - LEFT - 20)
        y = BOTTOM - (np.clip(error, low, high) - low) / (high - low) * (BOTTOM - 20)
        return f"{x:.1f},{y:.1f}"

    font = 'font-family="sans-serif" font-size="12"'
    parts = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" {font}>',
             f'<rect width="{WIDTH}" height="{HEIGHT}" fill="#fbf8f0"/>']  # fmt: skip
    for error in (-30, -20, -10, 0, 10):
        x, y = at(float(sizes[0]), error).split(",")
        parts.append(
            f'<path d="M{x} {y}H{WIDTH - 20}" stroke="#ddd6c4"/>'
            f'<text x="{LEFT - 8}" y="{y}" text-anchor="end">{error} %</text>'
        )
    for d in (3, 6, 9, 12, 15, 18, 21, 24):
        x = at(d, low).split(",")[0]
        parts.append(f'<text x="{x}" y="{BOTTOM + 17}" text-anchor="middle">{d / BLUR_SIGMA:.0f}</text>')
    parts.append(
        f'<text x="{WIDTH / 2}" y="{HEIGHT - 12}" text-anchor="middle">true diameter in widths σ of the blur</text>'
    )
    looks = (("#1d2547", "none", 40), ("#b8431f", "6 4", 58), ("#3f7f68", "2 3", 76))
    for (name, errors), (colour, dash, y) in zip(lines.items(), looks, strict=True):
        points = " ".join(at(float(d), e) for d, e in zip(sizes, errors, strict=True))
        line = f'fill="none" stroke="{colour}" stroke-width="2" stroke-dasharray="{dash}"'
        parts.append(
            f'<polyline points="{points}" {line}/><path d="M420 {y + 96}h26" {line}/>'
            f'<text x="454" y="{y + 100}">{name}</text>'
        )
    (FOLDER / "two-measures.svg").write_text("\n".join([*parts, "</svg>"]) + "\n")


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    outlines()
    two_measures()


if __name__ == "__main__":
    main()
