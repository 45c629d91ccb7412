"""Stored photos as a screen shows them."""

from __future__ import annotations

import cv2
from cv2.typing import MatLike

from hakari.core.errors import InputError
from hakari.core.photo.decode import decode

LONG_SIDE_PX = 3200


# Enough for 60 megapixels of JPEG or HEIC at the best quality.
MAX_FILE_BYTES = 64 * 1024 * 1024


def check_file(data: bytes) -> None:
    """Refuse a file that is larger than any photo; ``InputError`` ``file-too-large``."""
    if len(data) > MAX_FILE_BYTES:
        raise InputError(
            "file-too-large", f"The file has {len(data) / 2**20:.0f} MB; at most {MAX_FILE_BYTES // 2**20} are read.",
            "Use the phone's normal photo mode.",
        )  # fmt: skip


def check_picture(data: bytes) -> None:
    """Refuse what is no picture that can be shown; ``InputError``."""
    check_file(data)
    decode(data)


def window_jpeg(data: bytes, left_px: int, top_px: int, side_px: int, shown_px: int, quality: int) -> bytes:
    """Return a square window of a photo as a JPEG of another size."""
    cut = decode(data).rgb[top_px : top_px + side_px, left_px : left_px + side_px]
    way = cv2.INTER_AREA if side_px > shown_px else cv2.INTER_CUBIC
    resized = cv2.resize(cut, (shown_px, shown_px), interpolation=way)
    _, jpeg = cv2.imencode(".jpg", resized[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, quality])
    return jpeg.tobytes()


def reduced_jpeg(data: bytes, long_side_px: int = LONG_SIDE_PX) -> bytes:
    """Return a photo upright, reduced for a screen, without metadata, as JPEG; ``InputError`` when it is no picture."""
    rgb: MatLike = decode(data).rgb
    factor = min(1.0, long_side_px / max(rgb.shape[:2]))
    if factor < 1:
        rgb = cv2.resize(rgb, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    _, jpeg = cv2.imencode(".jpg", rgb[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 85])
    return jpeg.tobytes()
