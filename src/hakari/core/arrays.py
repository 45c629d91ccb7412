"""Types of arrays, by what is in them; each module's docstrings say the shapes."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]
Int32Array = npt.NDArray[np.int32]
Int8Array = npt.NDArray[np.int8]
Uint8Array = npt.NDArray[np.uint8]
BoolArray = npt.NDArray[np.bool_]
Image32 = npt.NDArray[np.float32]
Mask = Uint8Array


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
