"""What a measured photo is judged by."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.arrays import Image32
from hakari.core.photo.result import Particles
from hakari.core.photo.view import View


@dataclass(frozen=True)
class PhotoEvidence:
    """What a measured photo is judged by.

    ``shadow_light`` is the share of the light that reaches paper in the deeper shadows (0: no shadows), ``shadow_share`` the
    share of the area they cover, ``red_over_blue`` the tint of the paper, ``coloured`` whether colour tells coffee from
    shadow and ``shade_beside`` by what share paper beside large grounds is darkened.
    """

    view: View
    light: Image32
    particles: Particles
    fwhm_um: float
    coverage: float
    jpeg_step: float | None
    shadow_light: float = 0.0
    shadow_share: float = 0.0
    red_over_blue: float = 1.0
    coloured: bool = True
    shade_beside: float = 0.0
