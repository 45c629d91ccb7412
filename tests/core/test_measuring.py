"""Measuring pictures whose every ground is known."""

import io
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.pictures.flat import Made, make_picture, mass_of
from benchmarks.pictures.flat_camera import Scene
from PIL import Image

from hakari.core.errors import InputError
from hakari.core.photo.concavity_split import split_outlines
from hakari.core.photo.decode import MAX_MEGAPIXELS, decode
from hakari.core.photo.pipeline import CardScale, PointsScale, measure_photo
from hakari.core.psd.distribution import CUT_UM, moments
from hakari.core.psd.summary import gap_between, summarise

RNG = np.random.default_rng(3)


def summary_of(made: Made):
    photo = measure_photo(made.jpeg, CardScale())
    return photo, summarise(photo.particles, photo.resolution_limit_um, np.random.default_rng(1))


def truth_above(made: Made, cut_um: float):
    d = made.diameter_um[made.diameter_um >= cut_um]
    return moments(d, np.ones(len(d)))


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"tilt_deg": 22.0},
        {"blur_sigma_px": 1.7},
        {"falloff": 0.6, "exposure": 0.55, "noise": 0.03},
        {"radial": 0.03},
    ],
    ids=["plain", "tilted", "soft", "dim and uneven", "lens"],
)
def test_median_and_coarse_end_are_right(small_scene: Scene, changes: dict[str, float]) -> None:
    made = make_picture(replace(small_scene, **changes))
    _, s = summary_of(made)
    true = truth_above(made, s.cut_um)
    assert s.moments.d50_um == pytest.approx(true.d50_um, rel=0.03)
    assert s.moments.d90_um == pytest.approx(true.d90_um, rel=0.05)


def test_curve_counts_and_places_agree_with_the_truth(small_picture: Made) -> None:
    photo, s = summary_of(small_picture)
    true_d, true_mass = mass_of(small_picture)
    keep = true_d >= s.cut_um
    p = photo.particles
    seen = p.diameter_um >= s.cut_um
    gap = gap_between(p.diameter_um[seen], p.diameter_um[seen] ** 3, true_d[keep], true_mass[keep], 0.05)
    assert gap < 0.05
    large = small_picture.diameter_um > 400
    nearest = [
        float(np.hypot(p.x_mm - x, p.y_mm - y).min())
        for x, y in zip(small_picture.x_mm[large], small_picture.y_mm[large], strict=True)
    ]
    assert np.quantile(nearest, 0.95) < 0.15
    assert (p.diameter_um > 400).sum() == pytest.approx(int(large.sum()), rel=0.06)


def test_turned_by_its_tag_gives_the_same_figures(small_picture: Made) -> None:
    picture = Image.open(io.BytesIO(small_picture.jpeg)).rotate(90, expand=True)
    exif = Image.Exif()
    exif[0x0112] = 6  # turn clockwise to see it upright
    out = io.BytesIO()
    picture.save(out, "PNG", exif=exif)
    upright, turned = (measure_photo(data, CardScale()) for data in (small_picture.jpeg, out.getvalue()))
    assert (turned.width_px, turned.height_px) == (upright.width_px, upright.height_px)
    assert np.median(turned.particles.diameter_um) == pytest.approx(np.median(upright.particles.diameter_um), rel=1e-3)


def test_two_points_scale_in_proportion_and_cut_grounds_are_weighted(no_card_picture: Made) -> None:
    sizes = []
    for distance in (40.0, 80.0):
        photo = measure_photo(no_card_picture.jpeg, PointsScale(300, 700, 1500, 700, distance))
        sizes.append(np.sort(photo.particles.diameter_um)[-30:].mean())
        assert (photo.particles.weight >= 1).all() and not photo.particles.touches_edge.any()
        assert "plane-assumed" in {f.code for f in photo.findings}
    assert sizes[1] / sizes[0] == pytest.approx(2.0, rel=0.05)


def test_the_band_holds_the_curve_it_is_drawn_round(small_picture: Made) -> None:
    _, s = summary_of(small_picture)
    shown = s.curve.density > 0.02
    low = np.interp(s.curve.size_um, s.band.size_um, s.band.low)
    high = np.interp(s.curve.size_um, s.band.size_um, s.band.high)
    inside = (low <= s.curve.density) & (s.curve.density <= high)
    assert inside[shown].mean() > 0.97


def test_crowding_and_too_few_grounds_are_said(small_scene: Scene) -> None:
    crowded = make_picture(replace(small_scene, coverage=0.17, median_um=1800, fines_share=0.0, touching_share=0.2))
    assert "crowded" in {f.code for f in measure_photo(crowded.jpeg, CardScale()).findings}
    few = make_picture(replace(small_scene, coverage=0.003, fines_share=0.0))
    assert "too-few-grounds" in {f.code for f in measure_photo(few.jpeg, CardScale()).findings}


def test_a_coarse_photo_raises_the_cut_and_says_so(small_picture: Made) -> None:
    _, s = summary_of(small_picture)
    assert s.cut_um > CUT_UM
    assert "cut-raised" in {f.code for f in s.findings}
    assert s.mass_below[100.0] is None


def test_two_touching_discs_come_apart_and_one_oval_does_not() -> None:
    angle = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    disc = np.column_stack([np.cos(angle), np.sin(angle)]) * 20
    arc = disc[(angle > 0.25) & (angle < 2 * np.pi - 0.25)]
    pair, oval = split_outlines([np.vstack([arc, [39, 0] - arc]), disc * [1.8, 1.0]])
    assert (len(pair), len(oval)) == (2, 1)


@pytest.mark.parametrize(
    ("data", "code"),
    [(b"this is text", "not-a-picture"), (b"", "not-a-picture"), (b"\xff\xd8\xff\xe0garbage", "not-a-picture")],
)
def test_files_that_are_no_pictures(data: bytes, code: str) -> None:
    with pytest.raises(InputError) as refusal:
        decode(data)
    assert refusal.value.code == code


def test_truncated_and_enormous_pictures(small_picture: Made) -> None:
    with pytest.raises(InputError) as cut:
        decode(small_picture.jpeg[: len(small_picture.jpeg) // 2])
    assert cut.value.code == "picture-damaged"
    bomb = io.BytesIO()
    Image.new("1", (20000, 10000)).save(bomb, "PNG")
    with pytest.raises(InputError) as large:
        decode(bomb.getvalue())
    assert large.value.code == "picture-too-large" and str(MAX_MEGAPIXELS) in large.value.message


def test_white_paper_has_no_grounds() -> None:
    white = io.BytesIO()
    noise = RNG.normal(215, 2, (900, 1200, 3)).clip(0, 255).astype(np.uint8)
    Image.fromarray(noise).save(white, "PNG")
    with pytest.raises(InputError) as refusal:
        measure_photo(white.getvalue(), PointsScale(100, 100, 1000, 100, 50))
    assert refusal.value.code == "no-grounds"
