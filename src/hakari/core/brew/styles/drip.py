"""Plans that pour water through a bed, one builder a style."""

from __future__ import annotations

from hakari.core.brew.schedule import Action, Event, Pour, Strength
from hakari.core.brew.styles.style import Draft, Order, bloom_of, even, lasts

SPOON_G = 5.0  # a level tablespoon of ground coffee, about
STRENGTHS: dict[str, Strength] = {"soft": "soft", "normal": "normal", "hard": "hard"}


def _strength(order: Order) -> Strength:
    return STRENGTHS[order.options["strength"]]


def staged(order: Order) -> Draft:
    """Bloom of a bit more than twice the dose, then equal stages at fixed times.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Bloom of a bit more than twice the dose, then equal stages at fixed times.
    """
    stages = int(order.options["stages"])
    bloom = bloom_of(order.dose_g, 2.3)
    each = (order.water_g - bloom) / stages
    gap = max(35.0, each / 6.0 + 8.0)
    pours = [Pour(bloom, lasts(bloom, 6.0), 0.0)]
    pours += [Pour(each, lasts(each, 6.0), round(40.0 + i * gap), strength=_strength(order)) for i in range(stages)]
    return Draft(tuple(pours), (Action(12.0, "swirl"),))


def steady(order: Order) -> Draft:
    """Bloom, then one slow spiral with about as much in as out.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Bloom, then one slow spiral with about as much in as out.
    """
    bloom = bloom_of(order.dose_g, 2.2)
    rest = order.water_g - bloom
    rate = {"slow": 2.0, "usual": 2.6, "quick": 3.4}[order.options["pace"]]
    return Draft(
        (Pour(bloom, lasts(bloom, 5.0), 0.0, strength="soft"), Pour(rest, lasts(rest, rate), 38.0, strength="soft"))
    )


def level_hold(order: Order) -> Draft:
    """Short bloom, one strong pour to a working level, then top-ups when the level has fallen a little, or to half.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Short bloom, one strong pour to a working level, then top-ups when the level has fallen a little, or to half.
    """
    tops = int(order.options["tops"])
    bloom = bloom_of(order.dose_g, 1.8)
    first = 0.45 * order.water_g
    pours = [Pour(bloom, lasts(bloom, 6.0), 0.0), Pour(first, lasts(first, 9.0), 25.0, strength="hard")]
    each = (order.water_g - bloom - first) / tops
    until: Event = "half" if order.options["level"] == "half" else "level-back"
    pours += [Pour(each, lasts(each, 7.0), start_when=until) for _ in range(tops)]
    return Draft(tuple(pours))


def twin_bloom(order: Order) -> Draft:
    """Two blooms to vent the crust, the rest in fast pours, a swirl after each.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Two blooms to vent the crust, the rest in fast pours, a swirl after each.
    """
    fast = int(order.options["fast"])
    bloom = bloom_of(order.dose_g, 1.8)
    pours = [Pour(bloom, lasts(bloom, 7.0), 0.0), Pour(bloom, lasts(bloom, 7.0), 30.0)]
    at, actions = 62.0, [Action(10.0, "swirl"), Action(42.0, "swirl")]
    for water in even(order.water_g - 2 * bloom, fast):
        pours.append(Pour(water, lasts(water, 9.0), at, strength="hard"))
        actions.append(Action(at + lasts(water, 9.0) + 2.0, "swirl"))
        at = round(at + max(35.0, water / 9.0 + 14.0))
    return Draft(tuple(pours), tuple(actions))


def split(order: Order) -> Draft:
    """Build a plan of a first share in two pours, which sets acidity against sweetness, and the rest, which sets strength.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        A plan of a first share in two pours, which sets acidity against sweetness, and the rest, which sets
        strength.
    """
    share = 0.4 * order.water_g
    lean = {"even": 0.5, "sweeter": 0.42, "brighter": 0.6}[order.options["taste"]]
    later = int(order.options["body"])
    first = [share * lean, share * (1 - lean)]
    pours = [Pour(first[0], lasts(first[0], 6.0), 0.0), Pour(first[1], lasts(first[1], 6.0), 45.0)]
    pours += [Pour(w, lasts(w, 6.0), start_when="drained") for w in even(order.water_g - share, later)]
    return Draft(tuple(pours))


def front_loaded(order: Order) -> Draft:
    """Bloom, most of the water early, the cone kept high and hot, then the last pour when it has settled to half.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Bloom, most of the water early, the cone kept high and hot, then the last pour when it has settled to half.
    """
    bloom = bloom_of(order.dose_g, 2.5)
    main = 0.6 * order.water_g
    rest = order.water_g - bloom - main
    pours = (
        Pour(bloom, lasts(bloom, 6.0), 0.0),
        Pour(main, lasts(main, 8.0), 30.0, strength="hard"),
        Pour(rest, lasts(rest, 6.0), start_when="half", strength="soft"),
    )
    # The water turns with the pour; a stir each way stops it, so that the bed settles flat.
    return Draft(pours, (Action(32.0 + lasts(main, 8.0), "stir-back"),))


def one_fill(order: Order) -> Draft:
    """All the water in one go, hands off.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        All the water in one go, hands off.
    """
    return Draft((Pour(order.water_g, float(order.options["over"]), 0.0),))


def by_the_mark(order: Order) -> Draft:
    """No scale: small passes of the same cup, each when the last has stopped moving.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        No scale.
    """
    passes = max(1, round(order.water_g / float(order.options["cup"])))
    first, *others = even(order.water_g, passes)
    later = tuple(Pour(w, lasts(w, 7.0), start_when="drained") for w in others)
    spoons = max(1, round(2 * order.dose_g / SPOON_G) / 2)
    return Draft(
        (Pour(first, lasts(first, 7.0), 0.0), *later),
        by_marks=True,
        by_hand=(
            f"About {spoons:g} level tablespoons of coffee, the same every time.",
            # Who has no scale measures the cup with a jug, once.
            f"The same cup, filled to the same mark {passes} times; the mark is at about {first:.0f} ml.",
        ),
    )


def over_ice(order: Order) -> Draft:
    """Hot water reduced by the ice that melts under the brewer.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Hot water reduced by the ice that melts under the brewer.
    """
    share = float(order.options["ice"]) / 100
    ice = 5.0 * round(share * order.water_g / 5)
    hot = order.water_g - ice
    bloom = bloom_of(order.dose_g, 2.2)
    each = (hot - bloom) / 2
    pours = [Pour(bloom, lasts(bloom, 5.0), 0.0)]
    pours += [Pour(each, lasts(each, 5.0), 40.0 + 40.0 * i) for i in range(2)]
    return Draft(
        tuple(pours), (Action(12.0, "swirl"),), ice_g=ice, by_hand=(f"Put {ice:.0f} g of ice in the server first.",)
    )


def machine(order: Order) -> Draft:
    """Build a plan of a drip machine's even shower.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        A plan of a drip machine's even shower.
    """
    flow = float(order.options["flow"])
    pause = float(order.options["bloom"])
    first = bloom_of(order.dose_g, 1.5) if pause else 0.0
    rest = order.water_g - first
    if not pause:
        return Draft((Pour(rest, round(rest / flow), 0.0, strength="soft"),))
    starts = round(first / flow + pause)
    return Draft(
        (Pour(first, first / flow, 0.0, strength="soft"), Pour(rest, round(rest / flow), starts, strength="soft"))
    )
