"""Picture files to upright linear light."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt
import pillow_heif
from PIL import Image, ImageOps, UnidentifiedImageError

from hakari.core.errors import InputError

MAX_MEGAPIXELS = 60
# Share of each colour in the brightness that is measured: brown on white shows most in green and blue,
# and green is the sharpest, because a sensor has twice as many green sites and JPEG halves the colours.
CHANNEL_MIX = (0.15, 0.65, 0.20)

pillow_heif.register_heif_opener()
Image.MAX_IMAGE_PIXELS = None  # the limit is checked below, before any pixel is decoded


@dataclass(frozen=True)
class Picture:
    """An upright 8-bit RGB picture (height, width, 3)."""

    rgb: npt.NDArray[np.uint8]

    @property
    def width_px(self) -> int:
        """Width in pixels."""
        return int(self.rgb.shape[1])

    @property
    def height_px(self) -> int:
        """Height in pixels."""
        return int(self.rgb.shape[0])


def decode(data: bytes) -> Picture:
    """Decode JPEG, PNG, WebP, TIFF or HEIC bytes and turn the picture upright once by its EXIF tag.

    Raises
    ------
    InputError
        ``not-a-picture``, ``picture-too-large`` or ``picture-damaged``.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image = Image.open(io.BytesIO(data))
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as error:
        raise InputError(
            "not-a-picture",
            "This file is not a picture that can be read.",
            "Use a JPEG, PNG, WebP, TIFF or HEIC file straight from the phone.",
        ) from error
    megapixels = image.width * image.height / 1e6
    if megapixels > MAX_MEGAPIXELS:
        raise InputError(
            "picture-too-large",
            f"The picture has {megapixels:.0f} megapixels; at most {MAX_MEGAPIXELS} are read.",
            "Use the phone's normal photo mode, or scale the picture down.",
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            ImageOps.exif_transpose(image, in_place=True)
            rgb = _to_rgb8(image)
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise InputError(
            "picture-damaged",
            "The picture file is damaged or cut short.",
            "Copy it from the phone again, or take the photo again.",
        ) from error
    if min(rgb.shape[:2]) < 200:
        raise InputError(
            "picture-too-small",
            f"The picture is only {rgb.shape[1]}×{rgb.shape[0]} pixels.",
            "Send the original photo, not a preview of it.",
        )
    return Picture(rgb)


def _to_rgb8(image: Image.Image) -> npt.NDArray[np.uint8]:
    if image.mode.startswith("I;16") or image.mode == "I":
        wide = np.asarray(image, dtype=np.float64)
        grey = np.clip(wide / 257.0 + 0.5, 0, 255).astype(np.uint8)
        return np.repeat(grey[:, :, None], 3, axis=2)
    return np.asarray(image if image.mode == "RGB" else image.convert("RGB"))


def _srgb_to_linear_table() -> npt.NDArray[np.float32]:
    v = np.arange(256) / 255.0
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4).astype(np.float32)


LINEAR = _srgb_to_linear_table()


def linear_light(rgb: npt.NDArray[np.uint8]) -> npt.NDArray[np.float32]:
    """Brightness in linear light, 0 to 1, shape (height, width), by ``CHANNEL_MIX`` (IEC 61966-2-1)."""
    parts = [
        np.asarray(cv2.LUT(np.ascontiguousarray(rgb[:, :, channel]), LINEAR * np.float32(share)), np.float32)
        for channel, share in enumerate(CHANNEL_MIX)
    ]
    return np.asarray(cv2.add(cv2.add(parts[0], parts[1]), parts[2]), np.float32)
