"""Picture files to upright linear light."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import cv2
import numpy as np
import pillow_heif
from PIL import Image, ImageOps, TiffImagePlugin, UnidentifiedImageError

from hakari.core.arrays import Image32, Uint8Array
from hakari.core.errors import InputError
from hakari.core.photo.header import MAX_MEGAPIXELS, kind_of, webp_size

# Share of each colour in the brightness that is measured: brown on white shows most in green and blue,
# and green is the sharpest, because a sensor has twice as many green sites and JPEG halves the colours.
CHANNEL_MIX = (0.15, 0.65, 0.20)

pillow_heif.register_heif_opener()
Image.MAX_IMAGE_PIXELS = None  # the limit is checked here, before any pixel is decoded


@dataclass(frozen=True)
class Picture:
    """An upright 8-bit RGB picture (height, width, 3); ``jpeg_step`` is the mean step of its JPEG brightness table."""

    rgb: Uint8Array
    jpeg_step: float | None = None

    @property
    def width_px(self) -> int:
        """Width in pixels."""
        return int(self.rgb.shape[1])

    @property
    def height_px(self) -> int:
        """Height in pixels."""
        return int(self.rgb.shape[0])


def decode(data: bytes, most_megapixels: float = MAX_MEGAPIXELS) -> Picture:
    """Decode JPEG, PNG, WebP, TIFF or HEIC bytes and turn the picture upright once by its EXIF tag.

    Kind and size are judged from the header, before anything is allocated for pixels.

    Parameters
    ----------
    data : bytes
        The picture file.
    most_megapixels : float
        Larger pictures are refused.

    Returns
    -------
    Picture
        The picture, upright.

    Raises
    ------
    InputError
        ``not-a-picture``, ``picture-too-large``, ``picture-damaged`` or ``picture-too-small``.
    MemoryError
        Where the process may not take what the picture needs.
    """
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            image = _open(data, most_megapixels)
        except (InputError, MemoryError):
            raise
        except Exception as error:  # each format's decoder has errors of its own
            raise _no_picture() from error
        _check_size(image.width, image.height, most_megapixels)
        try:
            step = _jpeg_step(image)
            ImageOps.exif_transpose(image, in_place=True)
            rgb = _to_rgb8(image)
        except MemoryError:
            raise
        except Exception as error:
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
    return Picture(rgb, step)


def _no_picture() -> InputError:
    return InputError(
        "not-a-picture",
        "This file is not a picture that can be read.",
        "Use a JPEG, PNG, WebP, TIFF or HEIC file straight from the phone.",
    )


def _check_size(width: int, height: int, most_megapixels: float) -> None:
    megapixels = width * height / 1e6
    if megapixels > most_megapixels:
        raise InputError(
            "picture-too-large",
            f"The picture has {megapixels:.0f} megapixels; at most {most_megapixels:g} are read.",
            "Use the phone's normal photo mode, or scale the picture down.",
        )


def _open(data: bytes, most_megapixels: float) -> Image.Image:
    """Open a picture; colour TIFFs of 16 bits, which Pillow does not read, through OpenCV."""
    kind = kind_of(data)
    if kind is None:
        raise _no_picture()
    if kind == "WEBP":
        _check_size(*webp_size(data), most_megapixels)
    try:
        return Image.open(io.BytesIO(data), formats=(kind,))
    except UnidentifiedImageError:
        if kind != "TIFF":
            raise
        tags = TiffImagePlugin.ImageFileDirectory_v2(data[:8])
        file = io.BytesIO(data)
        file.seek(tags.next)
        tags.load(file)
        _check_size(int(tags[256]), int(tags[257]), most_megapixels)
        wide = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED | cv2.IMREAD_IGNORE_ORIENTATION)
        if wide is None or wide.dtype != np.uint16 or wide.ndim != 3:
            raise
        image = Image.fromarray(np.asarray(wide[:, :, 2::-1] / 257.0 + 0.5).astype(np.uint8))
        if 274 in tags:
            image.getexif()[274] = int(tags[274])
        return image


def _jpeg_step(image: Image.Image) -> float | None:
    """Return the mean step of the table of a JPEG's first component, its brightness, whatever number that table has."""
    tables, components = getattr(image, "quantization", None), getattr(image, "layer", None)
    if not tables:
        return None
    number = components[0][3] if components else min(tables)
    return float(np.mean(tables.get(number, tables[min(tables)])))


def _to_rgb8(image: Image.Image) -> Uint8Array:
    if image.mode.startswith("I;16") or image.mode == "I":
        wide = np.asarray(image, dtype=np.float64)
        grey = np.clip(wide / 257.0 + 0.5, 0, 255).astype(np.uint8)
        return np.repeat(grey[:, :, None], 3, axis=2)
    return np.asarray(image if image.mode == "RGB" else image.convert("RGB"))


def _srgb_to_linear_table() -> Image32:
    v = np.arange(256) / 255.0
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4).astype(np.float32)


LINEAR = _srgb_to_linear_table()


BAND_ROWS = 128  # so many rows at a time stay in the processor's cache


def linear_light(rgb: Uint8Array) -> Image32:
    """Brightness in linear light, 0 to 1, shape (height, width), by ``CHANNEL_MIX`` (IEC 61966-2-1).

    Parameters
    ----------
    rgb : ndarray of uint8
        The picture, (height, width, 3), sRGB.

    Returns
    -------
    ndarray of float32
        Brightness in linear light, 0 to 1, shape (height, width), by ``CHANNEL_MIX`` (IEC 61966-2-1).
    """
    light, mix = np.empty(rgb.shape[:2], np.float32), np.array([CHANNEL_MIX], np.float32)
    for top in range(0, len(rgb), BAND_ROWS):
        rows = slice(top, top + BAND_ROWS)
        cv2.transform(cv2.LUT(rgb[rows], LINEAR), mix, light[rows])
    return light
