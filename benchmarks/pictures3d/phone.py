"""What a phone makes of the light: lens, sensor, white balance, tone, sharpening and JPEG."""

from __future__ import annotations

import io

import cv2
import numpy as np
import numpy.typing as npt
from PIL import Image

from benchmarks.pictures.lens import bend, srgb
from benchmarks.pictures3d.scene import Scene3D


def develop(light: npt.NDArray[np.float32], light_colour: npt.NDArray[np.float64], scene: Scene3D) -> bytes:
    """Turn linear light (height, width, 3) into the phone's JPEG."""
    rng = np.random.default_rng([scene.seed, 23])
    image = cv2.GaussianBlur(light, (0, 0), scene.blur_px) if scene.blur_px > 0 else light
    if scene.radial:
        image = np.asarray(bend(image, scene.radial), np.float32)
    # Exposed for the paper, which a bright spot may overrun.
    paper = float(np.quantile(image[::16, ::16, 1], 0.85))
    image = image * np.float32(scene.exposure / paper)
    noise = rng.standard_normal(image.shape, np.float32) * np.float32(scene.noise)
    image = image + noise * np.sqrt(np.maximum(image, 0.004))
    balance = light_colour ** -(1 - scene.cast)
    image = image * (balance / balance[1]).astype(np.float32)
    v = srgb(image)
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
