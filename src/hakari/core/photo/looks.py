"""What ground coffee and shadowed paper look like in one picture, as shares of what the paper shows."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from hakari.core.arrays import Image32

LEAST_COLOUR = 0.2  # below this brownness the picture has no usable colour


@dataclass(frozen=True)
class Coffee:
    """What ground coffee looks like in this picture: brightness, brownness, tint, red and blue, as shares of paper's."""

    light: float
    brown: float
    tint: float
    red: float
    blue: float

    @property
    def coloured(self) -> bool:
        """Whether colour can tell coffee from shadow in this picture."""
        return self.brown >= LEAST_COLOUR


@dataclass(frozen=True)
class ShadowLight:
    """What paper in shadow looks like.

    ``light`` is its light in the deeper shadows (0: no shadow) and ``umbra`` that in the deepest, ``brown`` and ``tint`` its
    colour by depth, ``share`` that of the picture which it covers.
    """

    light: float
    umbra: float
    depths: list[float]
    brown: list[float]
    tint: list[float]
    share: float

    def brown_at(self, light: Image32) -> Image32:
        """Brownness of shadowed paper of this brightness.

        Parameters
        ----------
        light : ndarray of float32
            Linear brightness, any shape.

        Returns
        -------
        ndarray of float32
            Brownness of shadowed paper of this brightness.
        """
        return by_light(light, self.depths, self.brown)

    def tint_at(self, light: Image32) -> Image32:
        """Tint of shadowed paper of this brightness.

        Parameters
        ----------
        light : ndarray of float32
            Linear brightness, any shape.

        Returns
        -------
        ndarray of float32
            Tint of shadowed paper of this brightness.
        """
        return by_light(light, self.depths, self.tint)


def by_light(light: Image32, depths: list[float], values: list[float]) -> Image32:
    """Piecewise linear function of light between 0 and 1, by a table of 256 entries.

    Parameters
    ----------
    light : ndarray of float32
        Linear brightness, any shape.
    depths : list of float
        Brightnesses in rising order.
    values : list of float
        Values there.

    Returns
    -------
    ndarray of float32
        The values at each brightness.
    """
    if not light.size:
        return light
    table = np.interp(np.arange(256) / 255, depths, values).astype(np.float32)
    return np.asarray(cv2.LUT(cv2.convertScaleAbs(light, alpha=255), table), np.float32)
