"""Array types that the photo modules share."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Image32 = npt.NDArray[np.float32]
Mask = npt.NDArray[np.uint8]


def as_image(array: npt.ArrayLike) -> Image32:
    """Return the array as float32, without a copy where it is that already.

    Parameters
    ----------
    array : array_like
        Any array of numbers.

    Returns
    -------
    ndarray of float32
        The array as float32, without a copy where it is that already.
    """
    return np.asarray(array, np.float32)


def as_mask(array: npt.ArrayLike) -> Mask:
    """Return the array as uint8, without a copy where it is that already.

    Parameters
    ----------
    array : array_like
        Any array of numbers.

    Returns
    -------
    ndarray of uint8
        The array as uint8, without a copy where it is that already.
    """
    return np.asarray(array, np.uint8)
