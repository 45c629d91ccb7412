"""Concentrates diluted, ice melted, drops counted: sums that can be trusted because mass and heat are kept."""

from __future__ import annotations

from dataclasses import dataclass

from hakari.core.brew.heat import WATER_J_PER_GK

DROP_G = 0.05
MELTING_J_PER_G = 334.0


@dataclass(frozen=True)
class DilutionStep:
    """After so much water was added: what is in the cup, its strength and its heat."""

    added_g: float
    cup_g: float
    tds_percent: float
    celsius: float


def dilute(concentrate_g: float, tds_percent: float, celsius: float, water_g: float, water_c: float) -> DilutionStep:
    """Add water to a concentrate; solids and heat are kept.

    Parameters
    ----------
    concentrate_g : float
        Mass of the concentrate, g.
    tds_percent : float
        Strength, %.
    celsius : float
        Temperature of the concentrate, °C.
    water_g : float
        Water, g.
    water_c : float
        Temperature of the water, °C.

    Returns
    -------
    DilutionStep
        Mass, strength and temperature of the mixture.
    """
    cup = concentrate_g + water_g
    heat = (concentrate_g * celsius + water_g * water_c) / cup
    return DilutionStep(water_g, cup, tds_percent * concentrate_g / cup, heat)


def steps_to(
    concentrate_g: float,
    tds_percent: float,
    celsius: float,
    wanted_percent: float,
    water_c: float,
    step_g: float = 20.0,
) -> tuple[DilutionStep, ...]:
    """Equal steps of water until the strength is at or under the wanted one; the last one lands on it.

    Parameters
    ----------
    concentrate_g : float
        Mass of the concentrate, g.
    tds_percent : float
        Strength, %.
    celsius : float
        Temperature of the concentrate, °C.
    wanted_percent : float
        Strength that is wanted, %.
    water_c : float
        Temperature of the water, °C.
    step_g : float
        Water added in each step, g.

    Returns
    -------
    tuple[DilutionStep, ...]
        Equal steps of water until the strength is at or under the wanted one.
    """
    whole = max(concentrate_g * (tds_percent / wanted_percent - 1.0), 0.0)
    added = [step_g * k for k in range(int(whole / step_g) + 1)]
    if whole - added[-1] > 0.5:
        added.append(whole)
    return tuple(dilute(concentrate_g, tds_percent, celsius, w, water_c) for w in added)


def rescue_g(cup_g: float, tds_percent: float, wanted_percent: float, concentrate_percent: float) -> float:
    """How much held-back concentrate brings a cup that is too weak to the wanted strength; 0 when it is not too weak.

    Parameters
    ----------
    cup_g : float
        Mass of the drink, g.
    tds_percent : float
        Strength, %.
    wanted_percent : float
        Strength that is wanted, %.
    concentrate_percent : float
        Strength of the concentrate, %.

    Returns
    -------
    float
        How much held-back concentrate brings a cup that is too weak to the wanted strength, g.
    """
    if tds_percent >= wanted_percent:
        return 0.0
    return cup_g * (wanted_percent - tds_percent) / (concentrate_percent - wanted_percent)


def over_ice(hot_g: float, hot_c: float, ice_g: float) -> tuple[float, float]:
    """Return the final temperature in °C, and how much of the ice has melted, by heat balance without the glass.

    Parameters
    ----------
    hot_g : float
        Mass of the drink, g.
    hot_c : float
        Temperature of the drink, °C.
    ice_g : float
        Mass of the ice, g.

    Returns
    -------
    tuple of two floats
        The final temperature in °C, and how much of the ice has melted, by heat balance without the glass.
    """
    to_melt = ice_g * MELTING_J_PER_G
    to_cool = hot_g * WATER_J_PER_GK * hot_c
    if to_cool <= to_melt:
        return 0.0, to_cool / MELTING_J_PER_G
    return (to_cool - to_melt) / ((hot_g + ice_g) * WATER_J_PER_GK), ice_g


def drops_per_second(water_g: float, seconds: float) -> float:
    """How fast a drip has to fall.

    Parameters
    ----------
    water_g : float
        Water, g.
    seconds : float
        Time, s.

    Returns
    -------
    float
        Drops a second.
    """
    return water_g / DROP_G / seconds
