"""Brew methods as windows of volume-median size: starting points that a user may change."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Window:
    """Sizes that suit a method, volume median in µm, and the dose range it is meant for."""

    method: str
    label: str
    low_um: float
    high_um: float
    dose_low_g: float
    dose_high_g: float
    looks_like: str

    def verdict(self, median_um: float) -> str:
        """Where a median lies: ``fine``, ``inside`` or ``coarse``."""
        if median_um < self.low_um:
            return "fine"
        return "coarse" if median_um > self.high_um else "inside"


WINDOWS = (
    Window("ribbed-cone", "ribbed cone, up to 15 g", 500, 750, 0, 15, "salt to semolina"),
    Window("ribbed-cone", "ribbed cone, 15–25 g", 600, 850, 15, 25, "salt to semolina"),
    Window("ribbed-cone", "ribbed cone, over 25 g", 700, 950, 25, 1000, "semolina"),
    Window("smooth-cone", "smooth cone", 600, 850, 0, 1000, "semolina"),
    Window("flat-bottom", "flat-bottomed dripper", 580, 950, 0, 1000, "semolina"),
)


def window_for(method: str, dose_g: float) -> Window | None:
    """The window of a method at a dose, or ``None`` when the method has none."""
    for window in WINDOWS:
        if window.method == method and dose_g <= window.dose_high_g:
            return window
    return None
