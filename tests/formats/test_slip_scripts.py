"""Slips print names in any script: every letter leaves its own mark, and nothing runs out of the paper."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from hakari.formats.slip_paper import SlipPaper, slip_pdf, slip_png

NAMES = [
    "Łódź, Дом, Ωμέγα", "コーヒー豆", "咖啡", "커피", "قهوة يمنية", "בית קפה", "กาแฟดำ", "ሐረር", "कॉफ़ी", "Café ☕",
]  # fmt: skip


def slip(coffee: str) -> SlipPaper:
    return SlipPaper(
        title="Slip 7", coffee=coffee, when="Fri 10:25", rows=(("Grinder", coffee, True),), taste="", target="", good=True,
        next_words="", curve=((0.0, 0.0), (0.5, 1.0), (1.0, 0.0)),
    )  # fmt: skip


def line_of_coffee(coffee: str) -> np.ndarray:
    """The picture's rows that hold the coffee's name, dark where there is ink."""
    picture = np.asarray(Image.open(io.BytesIO(slip_png(slip(coffee)))).convert("L"))
    px = picture.shape[1] / 80.0
    return picture[int(14 * px) : int(20 * px)] < 190


@pytest.mark.parametrize("name", NAMES)
def test_every_letter_of_a_name_leaves_a_mark_of_its_own(name: str) -> None:
    ink = line_of_coffee(name)
    assert ink.sum() > 30 * len(name.replace(" ", ""))
    columns = np.flatnonzero(ink.any(axis=0)) * 80.0 / ink.shape[1]
    assert columns[0] >= 6.5 and columns[-1] <= 73.5
    # A missing glyph is the same box for every letter: turning letters round would then change nothing.
    letters = list(dict.fromkeys(name.replace(" ", "")))
    drawn = {line_of_coffee(letter).tobytes() for letter in letters}
    assert len(drawn) == len(letters)
    assert slip_pdf(slip(name)).startswith(b"%PDF")


def test_a_long_name_in_any_script_stays_on_the_paper() -> None:
    ink = line_of_coffee("咖啡" * 30)
    columns = np.flatnonzero(ink.any(axis=0)) * 80.0 / ink.shape[1]
    assert columns[0] >= 6.5 and columns[-1] <= 73.5
