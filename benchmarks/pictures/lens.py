"""What both picture makers' cameras do to light: bend it in the lens, and put it on the sRGB curve."""

from __future__ import annotations

import cv2
import numpy as np
import numpy.typing as npt


def bend(image: npt.NDArray[np.generic], radial: float) -> npt.NDArray[np.generic]:
    """Apply lens distortion: undistorted radius = r (1 + k₁ r²), r in half diagonals."""
    height, width = image.shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    cx, cy = (width - 1) / 2, (height - 1) / 2
    r2 = ((x - cx) ** 2 + (y - cy) ** 2) / np.float32((width**2 + height**2) / 4)
    factor = 1 + np.float32(radial) * r2
    at = (cx + (x - cx) * factor, cy + (y - cy) * factor)
    return np.asarray(cv2.remap(image, *at, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE), image.dtype)


def srgb(linear: npt.NDArray[np.floating]) -> npt.NDArray[np.floating]:
    """Linear light, clipped to 0…1, on the sRGB curve (IEC 61966-2-1)."""
    v = np.clip(linear, 0, 1)
    return np.where(v <= 0.0031308, 12.92 * v, 1.055 * v ** (1 / 2.4) - 0.055)
