"""Styles that keep coffee and water together for a while: pots, tubes, valves, jars and towers."""

from __future__ import annotations

from hakari.core.brew.schedule import Action, Pour, Steep
from hakari.core.brew.styles.circulating import percolator, vacuum
from hakari.core.brew.styles.cold import cold_drip, cold_steep, concentrate
from hakari.core.brew.styles.contact import chosen_seconds, contact_seconds, fill_seconds, pressed
from hakari.core.brew.styles.style import Draft, Option, Order, OwnValue, RecipeStyle, lasts

CRUST_S = 240.0
CRUST_STIR_S = 12.0


def long_steep(order: Order) -> Draft:
    """Pour, stir or break at four minutes, wait, press gently, pour off at once.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Pour, stir or break at four minutes, wait, press gently, pour off at once.
    """
    stir = max(float(order.options["stir"]), CRUST_STIR_S if order.options["crust"] == "stir" else 0.0)
    chosen = chosen_seconds(order)
    fill = fill_seconds(order.water_g, chosen)
    seconds, late = contact_seconds(chosen, fill, stir)
    # A crust is broken at four minutes, or at the end of a shorter steep.
    broken = (Action(max(fill, min(CRUST_S, seconds - 10.0)), "stir"),) if order.options["crust"] == "break" else ()
    return Draft(
        (Pour(order.water_g, fill, 0.0),),
        broken,
        pressed(order, seconds, stir),
        by_hand=(*late, *_left(order)),
    )


def break_and_skim(order: Order) -> Draft:
    """Pour to the brim, wait, break the crust, skim, let it settle, taste as it cools.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        A plan that ends with breaking and skimming.
    """
    seconds = chosen_seconds(order)
    return Draft(
        (Pour(order.water_g, fill_seconds(order.water_g, seconds), 0.0),), steep=Steep(seconds, 0.0, 20.0, "skim"),
        by_hand=("Break the crust with a spoon, skim the foam, let it settle, sip from the top.",),
    )  # fmt: skip


def _left(order: Order) -> tuple[str, ...]:
    """Return what to know of a drink that stays on its grounds."""
    if order.options["after"] == "decant":
        return ()
    return ("Left on the grounds it goes on steeping: the prediction is for the first cup.",)


def stirred_steep(order: Order) -> Draft:
    """Finer, stirred throughout, paper under the mesh, a slow press.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Finer, stirred throughout, paper under the mesh, a slow press.
    """
    stir = float(order.options["stir"])
    chosen = chosen_seconds(order)
    fill = fill_seconds(order.water_g, chosen)
    seconds, late = contact_seconds(chosen, fill, stir)
    return Draft(
        (Pour(order.water_g, fill, 0.0),),
        steep=pressed(order, seconds, stir),
        by_hand=("Lay a paper under the mesh; stop when it resists.", *late, *_left(order)),
    )


def bloom_and_steep(order: Order) -> Draft:
    """Most of the water, the crust stirred, topped up, pressed.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        Most of the water, the crust stirred, topped up, pressed.
    """
    minutes = float(order.options["minutes"])
    first = 0.6 * order.water_g
    rest = order.water_g - first
    fill = lasts(first, 14.0)
    top_up = max(45.0, fill + 15.0)
    pours = (Pour(first, fill, 0.0), Pour(rest, lasts(rest, 14.0), top_up))
    seconds = max(float(round(60 * minutes)), top_up + lasts(rest, 14.0) + 10.0)
    before = order.options["crust"] == "before"
    stirred = Action(top_up - 12.0 if before else top_up + lasts(rest, 14.0), "stir")
    return Draft(pours, (stirred,), pressed(order, seconds, 0.0), by_hand=_left(order))


def steep_and_release(order: Order) -> Draft:
    """Build a plan with the valve closed for minutes, then drained; or closed for the bloom only.

    Parameters
    ----------
    order : Order
        Dose, water, brewer and options.

    Returns
    -------
    Draft
        A plan with the valve closed for minutes, then drained.
    """
    if order.options["closed"] == "bloom":
        bloom = 0.2 * order.water_g
        rest = order.water_g - bloom
        pours = (Pour(bloom, lasts(bloom, 6.0), 0.0), Pour(rest, lasts(rest, 6.0), 45.0))
        return Draft(pours, (Action(15.0, "swirl"), Action(44.0, "open-valve")))
    seconds = round(60 * float(order.options["minutes"]))
    fill = lasts(order.water_g, 12.0)
    return Draft((Pour(order.water_g, fill, 0.0),), (Action(fill + 5.0, "stir"), Action(seconds, "open-valve")))


ANY_STEEP_S, ANY_STEEP_MIN = OwnValue("s", 5, 24 * 3600), OwnValue("min", 5 / 60, 24 * 60)
ANY_STIR_S = OwnValue("s", 0, 24 * 3600)

ANY_PRESS_S = OwnValue("s", 3, 180)
FORCE = Option("force", "the plunger", (("gentle", "gently"), ("firm", "firmly"), ("hard", "hard")), minor=True)
AFTER = Option("after", "then", (("decant", "poured off at once"), ("leave", "left on the grounds")), minor=True)


def _press_over(seconds: str, *others: str) -> Option:
    """Return the choice of how long the plunger goes down."""
    return Option("press", "pressed over", tuple((s, f"{s} s") for s in (seconds, *others)), ANY_PRESS_S, minor=True)


STEEP_STYLES = (
    RecipeStyle(
        "long-steep", "long steep", "Pour, wait, press gently: forgiving, and the same every day.",
        ("press-pot",), long_steep,
        (
            Option("minutes", "minutes", (("4", "4"), ("6", "6"), ("8", "8")), ANY_STEEP_MIN),
            Option("crust", "crust", (("break", "broken"), ("none", "left alone"), ("stir", "stirred in"))),
            Option("stir", "stirring", (("0", "none"), ("15", "15 s"), ("30", "30 s")), ANY_STIR_S, minor=True),
            _press_over("25", "15", "40"), FORCE, AFTER,
        ),
        dose_g=(8, 80), method="press-pot",
    ),
    RecipeStyle(
        "break-and-skim", "break and skim", "Every coffee alike: poured, broken, skimmed, tasted as it cools.",
        ("tasting-bowl",), break_and_skim,
        (Option("minutes", "minutes", (("4", "4"), ("3", "3"), ("5", "5")), ANY_STEEP_MIN),),
        dose_g=(8, 20), ratio=17.5, ratios=(14.0, 20.0), water_c=94.0, method="tasting-bowl",
    ),
    RecipeStyle(
        "stirred-steep", "stirred steep", "Finer and stirred throughout: agitation made constant.", ("press-pot",),
        stirred_steep,
        (
            Option("stir", "stirring", (("45", "45 s"), ("30", "30 s"), ("60", "60 s"), ("90", "90 s")), ANY_STIR_S),
            Option("minutes", "minutes", (("1.75", "1:45"), ("2.5", "2½"), ("4", "4")), ANY_STEEP_MIN),
            _press_over("45", "30", "60"), FORCE, AFTER,
        ),
        dose_g=(12, 60), method="press-pot-stirred",
    ),
    RecipeStyle(
        "bloom-and-steep", "bloom and steep",
        "Most of the water first, the crust stirred in so that the gas is out, then the rest.",
        ("press-pot",),
        bloom_and_steep,
        (
            Option("minutes", "minutes", (("4", "4"), ("5", "5"), ("6", "6")), ANY_STEEP_MIN),
            Option("crust", "crust stirred in", (("before", "before the rest"), ("after", "after it"))),
            _press_over("25", "15", "40"), FORCE, AFTER,
        ),
        dose_g=(12, 80),
        method="press-pot",
    ),
    RecipeStyle(
        "steep-and-release", "steep and release", "Everything is wet alike before it drains.", ("valve-dripper",),
        steep_and_release,
        (
            Option("closed", "valve closed", (("all", "for the steep"), ("bloom", "for the bloom only"))),
            Option("minutes", "minutes", (("2.5", "2½"), ("2", "2"), ("3", "3"), ("4", "4")), ANY_STEEP_MIN),
        ),
        dose_g=(12, 36), method="valve-dripper",
    ),
    RecipeStyle(
        "concentrate", "concentrate and dilute", "A short, strong brew, then water in small steps: strength set exactly.",
        ("plunger-tube",), concentrate,
        (
            Option("short", "short ratio, 1 :", (("6", "6"), ("5", "5"), ("7", "7"), ("8", "8")), OwnValue("ratio", 3, 12)),
            Option("seconds", "steep", (("75", "1:15"), ("60", "1:00"), ("105", "1:45"), ("150", "2:30")), ANY_STEEP_S),
            Option("stir", "stirring", (("12", "12 s"), ("0", "none"), ("30", "30 s")), ANY_STIR_S, minor=True),
            _press_over("30", "20", "45"), FORCE,
            Option("back", "hold back", (("0", "nothing"), ("10", "10 g"), ("20", "20 g")), OwnValue("g", 0, 60)),
        ),
        dose_g=(11, 32), ratio=13.0, water_c=90.0, method="plunger-tube",
    ),
    RecipeStyle(
        "vacuum", "drawn up and down", "Stirred at one heat and drawn off clean through cloth.", ("vacuum-pot",), vacuum,
        (Option("seconds", "up for", (("75", "1:15"), ("60", "1:00"), ("90", "1:30")), OwnValue("s", 15, 600)),),
        dose_g=(12, 45),
        kettle="the pot's own burner", method="vacuum-pot",
    ),
    RecipeStyle(
        "percolate", "round and round", "Water goes over the grounds again and again; coarse, or it turns bitter.",
        ("percolator-pot",), percolator,
        (Option("minutes", "minutes", (("6", "6"), ("5", "5"), ("8", "8")), OwnValue("min", 2, 30)),),
        dose_g=(20, 90), water_c=96.0, kettle="the pot's own heat", method="percolator-pot",
    ),
    RecipeStyle(
        "cold-steep", "cold steep", "Hours without heat: sweet, low in acidity.", ("cold-jar",), cold_steep,
        (
            Option("hours", "hours", (("14", "14"), ("10", "10"), ("12", "12"), ("18", "18")), OwnValue("h", 4, 48)),
            Option("where", "standing", (("bench", "on the bench"), ("fridge", "in the fridge"))),
        ),
        dose_g=(30, 250), ratio=9.0, ratios=(4.0, 16.0), water_c=20.0, kettle="none", method="cold-jar",
    ),
    RecipeStyle(
        "cold-drip", "cold drip", "Drop by drop through the bed: clear and strong.", ("drip-tower",), cold_drip,
        (Option("hours", "hours", (("5", "5"), ("3", "3"), ("4", "4"), ("8", "8")), OwnValue("h", 1, 24)),),
        dose_g=(25, 120), ratio=10.0,
        ratios=(5.0, 15.0), water_c=20.0, kettle="none", method="drip-tower",
    ),
)  # fmt: skip
