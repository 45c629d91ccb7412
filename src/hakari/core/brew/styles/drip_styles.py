"""The styles that pour water through a bed: their names, what may be chosen, and the doses they suit."""

from __future__ import annotations

from hakari.core.brew.styles.drip import (
    by_the_mark,
    front_loaded,
    level_hold,
    machine,
    one_fill,
    over_ice,
    split,
    staged,
    steady,
    twin_bloom,
)
from hakari.core.brew.styles.style import Option, OwnValue, RecipeStyle

CONES = ("ribbed-cone", "part-ribbed-cone", "smooth-cone", "flat-bottom", "thick-paper-cone")
POURED: Option = Option("strength", "pouring", (("normal", "evenly"), ("soft", "softly"), ("hard", "hard")))

DRIP_STYLES = (
    RecipeStyle(
        "staged", "staged", "A bloom and equal stages at fixed times: easy to do the same way tomorrow.", CONES, staged,
        (Option("stages", "stages", (("3", "3"), ("2", "2"), ("4", "4"), ("1", "1"), ("5", "5"))), POURED),
    ),
    RecipeStyle(
        "steady", "steady", "One slow spiral with as much in as out: the water keeps an even heat.", CONES, steady,
        (Option("pace", "pace", (("usual", "usual"), ("slow", "slower"), ("quick", "quicker"))),),
        kettle="a kettle with a narrow spout",
    ),
    RecipeStyle(
        "level-hold", "level-hold", "A working level, topped up when it has fallen: constant head and heat.", CONES,
        level_hold,
        (
            Option("tops", "top-ups", (("3", "3"), ("2", "2"), ("4", "4"))),
            Option("level", "level", (("half", "let it fall to half"), ("full", "keep it full"))),
        ),
        dose_g=(12, 40),
    ),
    RecipeStyle(
        "twin-bloom", "twin bloom", "Two blooms vent the crust; fast pours and swirls make a flat, even bed.", CONES,
        twin_bloom, (Option("fast", "fast pours", (("2", "2"), ("3", "3, for more yield"))),), dose_g=(12, 36),
    ),
    RecipeStyle(
        "split", "split", "The first share tunes acidity against sweetness, the rest strength: taste by arithmetic.", CONES,
        split,
        (
            Option("taste", "first share", (("even", "even"), ("sweeter", "sweeter"), ("brighter", "brighter"))),
            Option("body", "later pours", (("3", "3"), ("1", "1, lighter"), ("2", "2"), ("4", "4, stronger"))),
        ),
        grind=1.1, dose_g=(12, 32),
    ),
    RecipeStyle(
        "front-loaded", "front-loaded",
        "Most of the water early keeps the cone high and hot; a stir each way lets the bed settle flat.", CONES, front_loaded,
        dose_g=(14, 40), kettle="a kettle that pours fast",
    ),
    RecipeStyle(
        "one-fill", "one fill", "All the water in one go, hands off: only the grind is set until the time is right.",
        ("smooth-cone", "ribbed-cone", "part-ribbed-cone", "thick-paper-cone"), one_fill,
        (Option("over", "poured over", (("18", "18 s"), ("15", "15 s"), ("20", "20 s")), OwnValue("s", 5, 120)),),
        dose_g=(10, 22),
    ),
    RecipeStyle(
        "by-the-mark", "by the mark", "No scale: the same cup to the same mark; only dose and grind change.", CONES,
        by_the_mark,
        (Option("cup", "a cup of about", (("60", "60 g"), ("50", "50 g"), ("80", "80 g")), OwnValue("g", 20, 300)),),
        dose_g=(12, 40),
    ),
    RecipeStyle(
        "over-ice", "over ice", "Hot water draws, ice chills at once; what melts is part of the recipe.", CONES, over_ice,
        (Option("ice", "ice", (("40", "40 % of the water"), ("35", "35 %"), ("45", "45 %")), OwnValue("%", 10, 60)),),
        dose_g=(14, 36),
        ratio=15.0, grind=0.92,
    ),
    RecipeStyle(
        "machine", "machine", "The machine pours; dose and grind are yours.", ("drip-machine", "drip-machine-cone"), machine,
        (
            Option("flow", "it pours", (("2.6", "2.6 g/s"), ("2", "2 g/s"), ("3.5", "3.5 g/s")), OwnValue("g/s", 0.8, 10)),
            Option("bloom", "first wetting", (("0", "none"), ("30", "then 30 s pause"), ("45", "then 45 s")),
                   OwnValue("s", 0, 180)),
        ),
        dose_g=(40, 80), method="drip-machine",
        ratio=16.5, water_c=92.0, kettle="the machine's own",
    ),
)  # fmt: skip
