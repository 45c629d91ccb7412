"""Brew methods as windows of volume-median size: starting points, wide on purpose, that a user may change."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Window:
    """Sizes that suit a method, volume median in µm, and the largest dose it is meant for.

    ``looks_like`` compares with what a kitchen holds, ``contact`` is the usual time with water; ``forecast`` says whether
    the program predicts its flow. ``own`` marks a window that the user set.
    """

    method: str
    label: str
    low_um: float
    high_um: float
    looks_like: str
    contact: str
    dose_high_g: float = 1000.0
    forecast: bool = True
    own: bool = False

    @property
    def middle_um(self) -> float:
        """Geometric middle."""
        return float((self.low_um * self.high_um) ** 0.5)

    def verdict(self, median_um: float) -> str:
        """Where a median lies: ``fine``, ``inside`` or ``coarse``.

        Parameters
        ----------
        median_um : float
            Volume median, µm.

        Returns
        -------
        str
            Where a median lies.
        """
        if median_um < self.low_um:
            return "fine"
        return "coarse" if median_um > self.high_um else "inside"


# From fine to coarse. A low end of 40 µm stands for "under".
WINDOWS = (
    Window("boiled-pot", "boiled, unfiltered pot", 40, 120, "flour", "minutes, boiling", forecast=False),
    Window("pressure-shot", "pressure shot", 200, 400, "icing to caster sugar", "20–40 s", forecast=False),
    Window("stovetop-pot", "stovetop pressure pot", 350, 600, "fine salt", "1–4 min", forecast=False),
    Window("plunger-tube", "plunger tube, short", 450, 950, "salt to demerara", "1–2½ min"),
    Window("ribbed-cone", "ribbed cone, up to 15 g", 500, 750, "salt to semolina", "2–4 min", 15),
    Window("press-pot-stirred", "press pot, stirred, with paper", 500, 750, "salt", "2–3 min"),
    Window("vacuum-pot", "vacuum pot", 500, 800, "salt", "1–2 min"),
    Window("ribbed-cone", "ribbed cone, 15–25 g", 600, 850, "salt to semolina", "2–4 min", 25),
    Window("smooth-cone", "smooth cone", 600, 850, "semolina", "1½–2½ min"),
    Window("press-pot", "press pot, unstirred", 600, 850, "semolina", "4 min"),
    Window("valve-dripper", "valve dripper", 600, 900, "semolina", "3–4 min"),
    Window("flat-bottom", "flat-bottomed dripper", 580, 950, "semolina", "2½–3½ min"),
    Window("tasting-bowl", "tasting bowl", 650, 900, "semolina", "4 min and on"),
    Window("ribbed-cone", "ribbed cone, over 25 g", 700, 950, "semolina", "2–4 min"),
    Window("drip-tower", "slow cold drip", 700, 1000, "demerara", "3–8 h"),
    Window("thick-paper-cone", "thick-paper cone", 750, 1050, "demerara", "3½–5 min"),
    Window("drip-machine", "drip machine", 700, 1050, "semolina to demerara", "4–6 min"),
    Window("press-pot-long", "press pot, long and coarse", 850, 1200, "coarse salt", "4–8 min"),
    Window("percolator-pot", "percolator pot", 900, 1200, "coarse salt", "5–8 min"),
    Window("cold-jar", "cold steep", 900, 1400, "cracked pepper", "6–18 h"),
)

# What to keep in mind whatever the method.
FILTER_EFFECTS = (
    "Paper holds back more fines than cloth, cloth more than metal: with metal a little coarser keeps mud out of the cup.",
    "A larger dose in the same brewer makes a deeper bed: go coarser.",
    "Finer needs less contact time, coarser more.",
)
UNDER_PRESSURE = (
    "Pressure shot, stovetop and boiled pot: a window only, no forecast. Sour and thin wants finer, bitter and drying "
    "coarser; one step, then taste.",
    "Steam and pressure burn: never tamp or overfill a stovetop pot, keep its valve clear, open nothing that is under "
    "pressure, and follow the maker's instructions.",
)
STRONG_QUESTIONS = (
    "“Strong”, for some, is more coffee in the cup: the same grind, less water or more coffee.",
    "For others it is bitter and heavy: a little finer for their brewer, never beyond its window.",
    "Ask what they brew in, how much coffee goes in, and whether their cup comes out sour or bitter now.",
)


def window_for(method: str, dose_g: float, windows: tuple[Window, ...] = WINDOWS) -> Window | None:
    """Return the window of a method at a dose, or ``None`` when the method has none.

    Parameters
    ----------
    method : str
        Name of the method.
    dose_g : float
        Coffee, g.
    windows : tuple[Window, ...]
        Sizes that suit each method.

    Returns
    -------
    Window or None
        The window of a method at a dose, or ``None`` when the method has none.
    """
    for window in windows:
        if window.method == method and dose_g <= window.dose_high_g:
            return window
    return None
