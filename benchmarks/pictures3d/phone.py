"""What a phone makes of the light: lens, sensor, white balance, tone, sharpening and JPEG."""

from __future__ import annotations

import io

import cv2
import numpy as np
import numpy.typing as npt
from PIL import Image

from benchmarks.pictures3d.scene import Scene3D


def _bent(image: npt.NDArray[np.float32], radial: float) -> npt.NDArray[np.float32]:
    """Lens distortion: undistorted radius = r (1 + k₁ r²), r in half diagonals."""
    height, width = image.shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    cx, cy = (width - 1) / 2, (height - 1) / 2
    r2 = ((x - cx) ** 2 + (y - cy) ** 2) / np.float32((width**2 + height**2) / 4)
    factor = 1 + np.float32(radial) * r2
    at = (cx + (x - cx) * factor, cy + (y - cy) * factor)
    return np.asarray(cv2.remap(image, *at, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE), np.float32)


def _srgb(linear: npt.NDArray[np.float32]) -> npt.NDArray[np.float32]:
    v = np.clip(linear, 0, 1)
    return np.where(v <= 0.0031308, 12.92 * v, 1.055 * v ** (1 / 2.4) - 0.055).astype(np.float32)


def develop(light: npt.NDArray[np.float32], light_colour: npt.NDArray[np.float64], scene: Scene3D) -> bytes:
    """Turn linear light (height, width, 3) into the phone's JPEG."""
    rng = np.random.default_rng([scene.seed, 23])
    image = cv2.GaussianBlur(light, (0, 0), scene.blur_px) if scene.blur_px > 0 else light
    if scene.radial:
        image = _bent(image, scene.radial)
    # Exposed for the paper, which a bright spot may overrun.
    paper = float(np.quantile(image[::16, ::16, 1], 0.85))
    image = image * np.float32(scene.exposure / paper)
    noise = rng.standard_normal(image.shape, np.float32) * np.float32(scene.noise)
    image = image + noise * np.sqrt(np.maximum(image, 0.004))
    balance = light_colour ** -(1 - scene.cast)
    image = image * (balance / balance[1]).astype(np.float32)
    v = _srgb(image)
    # A mild S, sharpening of the brightness, and the noise of the colours smoothed away, as phones do.
    v = v + np.float32(scene.contrast) * v * (1 - v) * (2 * v - 1)
    codes = cv2.cvtColor(np.clip(v, 0, 1), cv2.COLOR_RGB2YCrCb)
    y = cv2.bilateralFilter(codes[:, :, 0], 5, 0.03, 1.2)
    y = y + np.float32(scene.sharpening) * (y - cv2.GaussianBlur(y, (0, 0), 1.2))
    for channel in (1, 2):
        smooth = cv2.GaussianBlur(codes[:, :, channel], (0, 0), 1.3)
        codes[:, :, channel] = 0.5 + np.float32(scene.saturation) * (smooth - 0.5)
    codes[:, :, 0] = y
    rgb = cv2.cvtColor(codes, cv2.COLOR_YCrCb2RGB)
    file = io.BytesIO()
    Image.fromarray(np.rint(255 * np.clip(rgb, 0, 1)).astype(np.uint8)).save(
        file, "JPEG", quality=scene.quality, subsampling="4:2:0"
    )
    return file.getvalue()
