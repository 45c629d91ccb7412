"""A plain scikit-image pipeline, as one would write it in an afternoon: rectify, Otsu, label, regionprops.

It is the yardstick of the measuring benchmark and is left as it is.
"""

from __future__ import annotations

import io

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageOps
from skimage.color import rgb2gray
from skimage.filters import threshold_otsu
from skimage.measure import label, regionprops_table
from skimage.transform import ProjectiveTransform, warp

# What the particles file says of each ground, but for the caliper widths, which would take minutes this way.
PROPERTIES = ("centroid", "area", "axis_major_length", "axis_minor_length", "perimeter")


def measure_plain(
    data: bytes, mm_to_px: npt.NDArray[np.float64], left_mm: float, top_mm: float, width_mm: float, height_mm: float,
    um_per_px: float,
) -> npt.NDArray[np.float64]:  # fmt: skip
    """Area-equivalent diameters in µm of what is dark in a rectangle of the sheet."""
    grey = rgb2gray(np.asarray(ImageOps.exif_transpose(Image.open(io.BytesIO(data))).convert("RGB")))
    step = um_per_px / 1000
    shape = (round(height_mm / step), round(width_mm / step))
    to_mm = np.array([[step, 0, left_mm], [0, step, top_mm], [0, 0, 1.0]])
    flat = warp(grey, ProjectiveTransform(mm_to_px @ to_mm), output_shape=shape, order=1)
    dark = flat < threshold_otsu(flat)
    table = regionprops_table(label(dark), properties=PROPERTIES)
    areas = table["area"][table["area"] >= 3]
    return np.sqrt(4 * areas / np.pi) * um_per_px
