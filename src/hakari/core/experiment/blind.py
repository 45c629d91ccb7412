"""Orders that are drawn and hidden: cups of a triangle, steps of a ladder, which of two comes first."""

from __future__ import annotations

import numpy as np

from hakari.core.errors import InputError

TRIANGLES = ("AAB", "ABA", "BAA", "BBA", "BAB", "ABB")
MOST_CODES = 900


def draw_triangles(rounds: int, rng: np.random.Generator) -> list[str]:
    """Draw the order of the cups of each round; the six orders take turns, so that place and kind are balanced.

    Parameters
    ----------
    rounds : int
        How many.
    rng : Generator
        Source of chance.

    Returns
    -------
    list of str
        ``"ABA"``: what is in the first, second and third cup.
    """
    drawn: list[str] = []
    while len(drawn) < rounds:
        drawn += [TRIANGLES[k] for k in rng.permutation(len(TRIANGLES))]
    return drawn[:rounds]


def odd_cup(order: str) -> int:
    """Return the place of the odd cup in a triangle's order, from 0.

    Parameters
    ----------
    order : str
        Two letters alike and one odd.

    Returns
    -------
    int
        Its place.
    """
    return next(k for k, letter in enumerate(order) if order.count(letter) == 1)


def draw_pairs(pairs: int, rng: np.random.Generator) -> list[str]:
    """Draw which of two is made first, ``"AB"`` or ``"BA"``, each as often as the other in blocks of two.

    Parameters
    ----------
    pairs : int
        How many.
    rng : Generator
        Source of chance.

    Returns
    -------
    list of str
        The orders.
    """
    drawn: list[str] = []
    while len(drawn) < pairs:
        drawn += ["AB", "BA"] if rng.random() < 0.5 else ["BA", "AB"]
    return drawn[:pairs]


def draw_order(things: int, rounds: int, rng: np.random.Generator) -> list[list[int]]:
    """Draw an order of several things for each round.

    Parameters
    ----------
    things : int
        How many things.
    rounds : int
        How many rounds.
    rng : Generator
        Source of chance.

    Returns
    -------
    list of list of int
        Their numbers from 0, a list a round.
    """
    return [[int(k) for k in rng.permutation(things)] for _ in range(rounds)]


def draw_codes(count: int, rng: np.random.Generator) -> list[str]:
    """Draw three-digit codes for cups, all different, which say nothing of what is in them.

    Parameters
    ----------
    count : int
        How many cups.
    rng : Generator
        Source of chance.

    Returns
    -------
    list of str
        The codes.

    Raises
    ------
    InputError
        ``too-many-cups`` above 900.
    """
    if count > MOST_CODES:
        raise InputError("too-many-cups", f"{count} cups are too many to taste.", "Plan fewer rounds.", field="rounds")
    return [str(100 + k) for k in rng.choice(MOST_CODES, size=count, replace=False)]
