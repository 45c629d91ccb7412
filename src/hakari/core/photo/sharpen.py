"""Soft photos sharpened before grounds are told apart: part of the lens's blur undone, as far as the noise allows.

A Wiener filter (Wiener 1949) from the photo's Gaussian blur to a narrower one. Under a wide blur touching grounds and the
fines that cling to them melt into one; the light taken away is kept, since the filter's gain at zero frequency is one.
"""

from __future__ import annotations

import cv2
import numpy as np

from hakari.core.arrays import Image32
from hakari.core.photo.detect import Sharpness, sharpness

SOFT_PX = 1.7  # sharper photos are left as they are
WANTED_PX = 1.0
NOISE_TO_SIGNAL = 0.003
KERNEL_REACH_PX = 15


def sharpening_kernel(blur_sigma_px: float) -> Image32:
    """Kernel (31, 31), sum 1, that turns a Gaussian blur of this σ into about one of ``WANTED_PX``.

    Parameters
    ----------
    blur_sigma_px : float
        Standard deviation of the picture's blur, px.

    Returns
    -------
    ndarray of float32
        Kernel (31, 31), sum 1, that turns a Gaussian blur of this σ into about one of ``WANTED_PX``.
    """
    n = 2 * KERNEL_REACH_PX + 1
    k = 2 * np.pi * np.fft.fftfreq(n)
    squared = k[:, None] ** 2 + k[None, :] ** 2
    blur, wanted = (np.exp(-(s**2) * squared / 2) for s in (blur_sigma_px, WANTED_PX))
    gain = wanted * blur / (blur**2 + NOISE_TO_SIGNAL * (1 - wanted))
    kernel = np.fft.fftshift(np.fft.ifft2(gain).real)
    return np.asarray(kernel, np.float32)


def sharpened(coverage: Image32, sharp: Sharpness, um_per_px: float) -> tuple[Image32, Sharpness]:
    """Coverage (height, width) of a soft photo sharpened, and what it then shows; both unchanged when it is not soft.

    Parameters
    ----------
    coverage : ndarray of float32
        Share of each pixel that coffee covers, (height, width).
    sharp : Sharpness
        What the picture can show.
    um_per_px : float
        Scale, µm per px.

    Returns
    -------
    tuple[ndarray of float32, Sharpness]
        Coverage (height, width) of a soft photo sharpened, and what it then shows.
    """
    if sharp.blur_sigma_px < SOFT_PX:
        return coverage, sharp
    result = cv2.filter2D(coverage, -1, sharpening_kernel(sharp.blur_sigma_px), borderType=cv2.BORDER_REPLICATE)
    after = sharpness(np.asarray(result, np.float32), um_per_px)
    if after is None:
        return coverage, sharp
    return np.divide(result, np.float32(after.plateau), out=np.asarray(result, np.float32)), after
