"""A sieved dose: what was taken out, and what was lost on the way."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.errors import InputError

LOSS_WORTH_SAYING = 0.03


@dataclass(frozen=True)
class Sieving:
    """Shares of the dose that was sieved: kept, taken out, and missing afterwards."""

    kept_share: float
    removed_share: float
    lost_share: float

    @property
    def lost_much(self) -> bool:
        """Whether more is missing than clings to a sieve."""
        return self.lost_share > LOSS_WORTH_SAYING


def judge_sieving(before_g: float, kept_g: float, removed_g: float) -> Sieving:
    """Return what sieving did to a dose; mass is kept.

    Parameters
    ----------
    before_g : float
        Ground coffee before, g.
    kept_g : float
        What is brewed, g.
    removed_g : float
        What was taken out, g.

    Returns
    -------
    Sieving
        Shares, which add up to one.

    Raises
    ------
    InputError
        ``more-than-before`` where both parts weigh more than the dose by over half a per cent.
    """
    if before_g <= 0 or min(kept_g, removed_g) < 0 or kept_g + removed_g > 1.005 * before_g:
        raise InputError(
            "more-than-before",
            f"{kept_g + removed_g:.1f} g came out of {before_g:.1f} g.",
            "Weigh both parts again on the same scale.",
            field="kept_g",
        )
    lost = max(0.0, before_g - kept_g - removed_g)
    whole = kept_g + removed_g + lost
    return Sieving(kept_g / whole, removed_g / whole, lost / whole)
