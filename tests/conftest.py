"""Fixtures that several kinds of test share: small made pictures with known truth, an empty workspace, the demo's."""

from __future__ import annotations

import gc
from dataclasses import replace

import pytest
from benchmarks.pictures.flat import Made, make_picture
from benchmarks.pictures.flat_camera import Scene
from hypothesis import settings

pytest_plugins = ["demo_folder", "databases"]

# The same examples on every machine, however slow it is.
settings.register_profile("house", deadline=None, derandomize=True)
settings.load_profile("house")

# The longest files, begun first so that none is left over at the end. Of the first three only one needs the demo: the
# other processes do not wait for it to be filled.
FIRST = ("test_access.py", "test_every_method.py", "test_api.py", "test_pass.py", "test_first_answer.py",
         "test_on_the_phone.py", "test_measuring_page.py", "test_bad_data.py", "test_live_steps.py")  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put the longest files first; the others stay in their order."""
    items.sort(key=lambda item: FIRST.index(item.path.name) if item.path.name in FIRST else len(FIRST))


def pytest_collection_finish() -> None:
    """Leave what was imported and collected out of every later search for garbage."""
    gc.collect()
    gc.freeze()


SMALL = Scene(
    width_px=2000, height_px=1500, um_per_px=43.5, median_um=900, sigma_ln=0.3, fines_share=0.03, coverage=0.045,
    touching_share=0.05, blur_sigma_px=0.7, grounds_limit=4000, seed=5,
)  # fmt: skip


@pytest.fixture(scope="session")
def small_scene() -> Scene:
    """A picture that is quick to make: two thousand pixels across, few fines."""
    return SMALL


@pytest.fixture(scope="session")
def small_picture() -> Made:
    """The small scene, made."""
    return make_picture(SMALL)


@pytest.fixture(scope="session")
def no_card_picture() -> Made:
    """Grounds on plain paper without a card."""
    return make_picture(replace(SMALL, with_card=False, coverage=0.01, seed=6))
