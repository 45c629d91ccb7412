"""The card's geometry, and finding it in pictures."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.pictures.flat import make_picture
from benchmarks.pictures.flat_camera import Scene, place_px

from hakari.core.arrays import FloatArray
from hakari.core.errors import InputError
from hakari.core.photo.card import CARDS
from hakari.core.photo.decode import decode
from hakari.core.photo.find_card import find_card, slopes_of
from hakari.core.photo.scale import PlaneMap

EMPTY = Scene(coverage=0.0005, fines_share=0.0, width_px=1600, height_px=1200, um_per_px=54.0, touching_share=0)


@pytest.mark.parametrize("paper", CARDS)
def test_markers_stay_off_the_well_and_on_the_card(paper: str) -> None:
    card = CARDS[paper]
    well = card.well
    assert well.width * well.height > 0.65 * card.width_mm * card.height_mm
    for m in card.markers:
        assert m.x_mm > 0 and m.x_mm + card.marker_mm < card.width_mm
        assert m.y_mm > 0 and m.y_mm + card.marker_mm < card.height_mm
        beside = m.x_mm + card.marker_mm < well.x or m.x_mm > well.x + well.width
        above = m.y_mm + card.marker_mm < well.y or m.y_mm > well.y + well.height
        assert beside or above


def test_identifiers_tell_cards_apart() -> None:
    seen = [m.identifier for card in CARDS.values() for m in card.markers]
    assert len(seen) == len(set(seen))


def through_lens(straight_px: np.ndarray, scene: Scene) -> np.ndarray:
    """Where the maker's lens puts undistorted pixels."""
    centre = np.array([(scene.width_px - 1) / 2, (scene.height_px - 1) / 2])
    bent = straight_px - centre
    for _ in range(30):
        r2 = (bent**2).sum(axis=1, keepdims=True) / ((scene.width_px**2 + scene.height_px**2) / 4)
        bent = (straight_px - centre) / (1 + scene.radial * r2)
    return bent + centre


@pytest.mark.parametrize(("tilt", "turn", "radial"), [(0, 0, 0.0), (12, 30, 0.0), (25, -4, 0.0), (4, 175, 0.04)])
def test_places_on_the_card_are_found_within_a_pixel(tilt: float, turn: float, radial: float) -> None:
    scene = replace(EMPTY, tilt_deg=tilt, turn_deg=turn, radial=radial, um_per_px=66.0)
    found = find_card(decode(make_picture(scene).jpeg).rgb)
    assert found.card.paper == "pocket"
    assert found.scale.tilt_deg == pytest.approx(tilt, abs=2.5)
    well = found.card.well
    xs, ys = np.linspace(well.x, well.x + well.width, 5), np.linspace(well.y, well.y + well.height, 4)
    places = np.array([(x, y) for x in xs for y in ys])
    seen_px = through_lens(place_px(scene, places), scene)
    error_mm = np.hypot(*(found.plane.to_mm(seen_px) - places).T)
    assert error_mm.max() < (0.5 if radial == 0 else 1.0) * 0.066
    assert found.scale.residual_um is not None and found.scale.residual_um < 0.5 * 66


def test_scale_is_exact_where_nothing_is_tilted() -> None:
    found = find_card(decode(make_picture(replace(EMPTY, tilt_deg=0, turn_deg=0)).jpeg).rgb)
    assert found.scale.um_per_px == pytest.approx(54.0, rel=0.001)


def test_a_close_photo_with_the_outer_markers_cut_off_is_still_measured() -> None:
    close = replace(EMPTY, um_per_px=48.0, tilt_deg=0, turn_deg=0)
    found = find_card(decode(make_picture(close).jpeg).rgb)
    assert found.markers_seen < len(found.card.markers)
    assert found.scale.um_per_px == pytest.approx(48.0, rel=0.002)


def test_no_card_is_said_with_a_remedy() -> None:
    blank = np.full((600, 800, 3), 220, np.uint8)
    with pytest.raises(InputError) as refusal:
        find_card(blank)
    assert refusal.value.code == "card-not-found" and refusal.value.remedy


def test_slopes_of_the_view_are_those_of_small_steps() -> None:
    terms = np.array([0.04, 0.003, 1.0, -0.002, 0.041, 3.0, 1e-5, -2e-5, 0.03])
    px = np.random.default_rng(7).uniform(0, 4000, (30, 2))

    def plane(p: FloatArray) -> PlaneMap:
        return PlaneMap(np.append(p[:8], 1.0).reshape(3, 3), (1999.5, 1499.5), 2500.0, float(p[8]))

    slopes = slopes_of(plane(terms), px)
    for k, term in enumerate(terms.tolist()):
        step = np.zeros(9)
        step[k] = 1e-5 * abs(term)
        by_steps = (plane(terms + step).to_mm(px) - plane(terms - step).to_mm(px)).ravel() / (2 * step[k])
        np.testing.assert_allclose(slopes[:, k], by_steps, atol=1e-6 * np.abs(by_steps).max())
