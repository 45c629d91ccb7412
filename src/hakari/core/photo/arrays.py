"""Array types that the photo modules share."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Image32 = npt.NDArray[np.float32]
Mask = npt.NDArray[np.uint8]


def as_image(array: npt.ArrayLike) -> Image32:
    """The array as float32, without a copy where it is that already."""
    return np.asarray(array, np.float32)


def as_mask(array: npt.ArrayLike) -> Mask:
    """The array as uint8, without a copy where it is that already."""
    return np.asarray(array, np.uint8)
