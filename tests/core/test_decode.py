"""Reading picture files: every kind that phones and scanners make gives the same light."""

import io

import cv2
import numpy as np
import pillow_heif
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from PIL import Image

from hakari.core.errors import InputError
from hakari.core.photo.decode import decode, linear_light


def gradient() -> np.ndarray:
    ramp = np.linspace(20, 235, 400)[None, :].repeat(300, axis=0)
    return np.stack([ramp, ramp * 0.9, ramp * 0.8], axis=2).astype(np.uint8)


@pytest.mark.parametrize(("form", "tolerance"), [("PNG", 0), ("TIFF", 0), ("JPEG", 4), ("WEBP", 6), ("HEIF", 8)])
def test_kinds_of_file_agree(form: str, tolerance: int) -> None:
    pillow_heif.register_heif_opener()
    out = io.BytesIO()
    Image.fromarray(gradient()).save(out, form, quality=95)
    read = decode(out.getvalue()).rgb
    assert read.shape == (300, 400, 3)
    assert np.abs(read.astype(int) - gradient()).max() <= tolerance


def test_sixteen_bits_and_palettes_are_read() -> None:
    deep = io.BytesIO()
    Image.fromarray(np.full((300, 300), 32896, np.uint16)).save(deep, "TIFF")
    assert abs(int(decode(deep.getvalue()).rgb[0, 0, 0]) - 128) <= 1
    few = io.BytesIO()
    Image.fromarray(gradient()).convert("P").save(few, "PNG")
    assert decode(few.getvalue()).rgb.shape[2] == 3


def test_a_colour_tiff_of_sixteen_bits_is_read_and_an_enormous_one_refused() -> None:
    _, deep = cv2.imencode(".tiff", gradient()[:, :, ::-1].astype(np.uint16) * 257)
    assert np.abs(decode(deep.tobytes()).rgb.astype(int) - gradient()).max() <= 1
    _, large = cv2.imencode(".tiff", np.zeros((9000, 9000, 3), np.uint16))
    with pytest.raises(InputError) as refusal:
        decode(large.tobytes())
    assert refusal.value.code == "picture-too-large"


def test_linear_light_follows_the_standard_curve() -> None:
    grey = np.array([[[0] * 3, [188] * 3, [255] * 3]], np.uint8)
    assert linear_light(grey)[0] == pytest.approx([0, 0.503, 1.0], abs=0.002)


def test_previews_are_refused() -> None:
    tiny = io.BytesIO()
    Image.new("RGB", (90, 90)).save(tiny, "PNG")
    with pytest.raises(InputError) as refusal:
        decode(tiny.getvalue())
    assert refusal.value.code == "picture-too-small"


@settings(max_examples=400)
@example(b"MM\0*", b"")
@given(st.sampled_from([b"II*\0", b"MM\0*"]), st.binary(max_size=200))
def test_what_begins_like_a_tiff_is_a_picture_or_refused(magic: bytes, rest: bytes) -> None:
    with pytest.raises(InputError) as refusal:
        decode(magic + rest)
    assert refusal.value.code in ("not-a-picture", "picture-damaged", "picture-too-large", "picture-too-small")
