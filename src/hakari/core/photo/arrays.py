"""Array types that the photo modules share."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Image32 = npt.NDArray[np.float32]
Mask = npt.NDArray[np.uint8]
