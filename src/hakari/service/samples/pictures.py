"""Stored photos as a screen shows them."""

from __future__ import annotations

import cv2
from cv2.typing import MatLike

from hakari.core.photo.decode import decode

LONG_SIDE_PX = 3200


def reduced_jpeg(data: bytes, long_side_px: int = LONG_SIDE_PX) -> bytes:
    """Return a photo upright, reduced for a screen, without metadata, as JPEG; ``InputError`` when it is no picture."""
    rgb: MatLike = decode(data).rgb
    factor = min(1.0, long_side_px / max(rgb.shape[:2]))
    if factor < 1:
        rgb = cv2.resize(rgb, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    _, jpeg = cv2.imencode(".jpg", rgb[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 85])
    return jpeg.tobytes()
