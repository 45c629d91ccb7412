"""Which sizes of grind suit a brew: the window of its method, moved by its style."""

from __future__ import annotations

from dataclasses import dataclass, replace

from hakari.core.brew.methods import WINDOWS, Window, window_for
from hakari.core.brew.styles import STYLES

LONG_STEEP_S = 360.0  # a press that stands this long is ground for it


@dataclass(frozen=True)
class SuitedGrind:
    """The window of sizes that suits a brew, and how far its style moves the method's own, as a factor."""

    window: Window
    moved: float


def suited_grind(
    style: str | None,
    brewer: str,
    dose_g: float,
    steep_s: float | None = None,
    windows: tuple[Window, ...] = WINDOWS,
) -> SuitedGrind | None:
    """Return the sizes that suit a brew.

    Parameters
    ----------
    style : str or None
        Name of its style; the brewer decides where it is ``None`` or unknown.
    brewer : str
        Name of its brewer.
    dose_g : float
        Coffee, g.
    steep_s : float or None
        How long it steeps, s; ``None`` where it drips.
    windows : tuple of Window
        Sizes that suit each method; those that the user does not want otherwise.

    Returns
    -------
    SuitedGrind or None
        The sizes; ``None`` where the method has no window.
    """
    known = STYLES.get(style) if style else None
    method = (known.method if known else None) or brewer
    if method == "press-pot" and steep_s is not None and steep_s >= LONG_STEEP_S:
        method = "press-pot-long"
    window = window_for(method, dose_g, windows) or window_for(brewer, dose_g, windows)
    if window is None:
        return None
    moved = known.grind if known else 1.0
    return SuitedGrind(replace(window, low_um=window.low_um * moved, high_um=window.high_um * moved), moved)
