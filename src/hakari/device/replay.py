"""A log that was kept, played again as if the scale stood there."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from hakari.device.source import Reading, ScaleState


class ReplayedScale:
    """Gives out the readings of a log at their times; the same protocol as a scale."""

    def __init__(
        self, t_s: npt.NDArray[np.float64], weight_g: npt.NDArray[np.float64], standing: ScaleState, label: str
    ) -> None:
        read = np.isfinite(weight_g)
        self._t, self._weight = t_s[read], weight_g[read]
        self._given = 0
        self.label, self.standing = label, standing
        self.simulated, self.lag_s = False, 0.0

    def until(self, t_s: float) -> list[Reading]:
        """Return the readings since it was last asked."""
        end = int(np.searchsorted(self._t, t_s, side="right"))
        new = [Reading(float(self._t[k]), float(self._weight[k])) for k in range(self._given, end)]
        self._given = max(self._given, end)
        return new

    def ended(self, t_s: float) -> bool:
        """Whether the log is over."""
        return len(self._t) == 0 or t_s > float(self._t[-1])
