"""The bare bed where only the last drip was seen."""

from __future__ import annotations

# What the model's share of the drain before the bare bed may be off by, as a share of what comes after it: an assumption.
DOUBT = 0.2


def bare_bed_before(
    last_drip_s: float, poured_by_s: float, bare_bed_s: float, predicted_drip_s: float
) -> tuple[float, float]:
    """Return when the bed was probably bare, from when the last drop was seen to fall.

    Bed and paper slow down what drains before and after by the same factor (Darcy's law), so that the bare bed divides the
    time from the last pour to the last drip as it does by the prediction.

    Parameters
    ----------
    last_drip_s : float
        When the last drop fell, s from the first pour.
    poured_by_s : float
        When the last pour ended, s from the first pour.
    bare_bed_s, predicted_drip_s : float
        The prediction of both ends, s from the first pour.

    Returns
    -------
    tuple[float, float]
        Time of the bare bed, s from the first pour, and its standard deviation, s.
    """
    start = min(poured_by_s, bare_bed_s)
    if last_drip_s <= start:
        start = 0.0
    share = (bare_bed_s - start) / max(predicted_drip_s - start, 1e-9)
    found = start + (last_drip_s - start) * min(max(share, 0.0), 1.0)
    return found, max(DOUBT * (last_drip_s - found), 1.0)
