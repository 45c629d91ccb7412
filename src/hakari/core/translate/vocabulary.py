"""What a barista calls a grind: methods, kitchen comparisons, the five grades, and how much "a touch" is."""

from __future__ import annotations

from dataclasses import dataclass

# Names for methods, as words without hyphens.
METHODS = {
    "boiled": "boiled-pot", "unfiltered pot": "boiled-pot", "pressure shot": "pressure-shot", "shot": "pressure-shot",
    "espresso": "pressure-shot", "stovetop": "stovetop-pot", "plunger": "plunger-tube", "tube": "plunger-tube",
    "plunger tube": "plunger-tube", "thick paper cone": "thick-paper-cone", "thick paper": "thick-paper-cone",
    "smooth cone": "smooth-cone", "ribbed cone": "ribbed-cone", "cone": "ribbed-cone", "pour over": "ribbed-cone",
    "drip": "ribbed-cone", "filter": "ribbed-cone", "flat bottomed dripper": "flat-bottom", "flat": "flat-bottom",
    "flat bottom": "flat-bottom", "valve dripper": "valve-dripper", "valve": "valve-dripper", "vacuum": "vacuum-pot",
    "vacuum pot": "vacuum-pot", "siphon": "vacuum-pot", "tasting bowl": "tasting-bowl", "bowl": "tasting-bowl",
    "cupping": "tasting-bowl", "slow cold drip": "drip-tower", "cold drip": "drip-tower", "drip machine": "drip-machine",
    "machine": "drip-machine", "long press pot": "press-pot-long", "stirred press pot": "press-pot-stirred",
    "press pot": "press-pot", "press": "press-pot-long", "percolator": "percolator-pot", "cold steep": "cold-jar",
    "cold jar": "cold-jar", "cold brew": "cold-jar",
}  # fmt: skip
# Kitchen words as sizes in µm: the eye's measure, good to a fifth.
LOOKS_UM = {
    "flour": 90.0, "icing sugar": 200.0, "powdered sugar": 200.0, "caster sugar": 350.0, "fine salt": 450.0,
    "table salt": 500.0, "salt": 580.0, "fine sand": 350.0, "sand": 650.0, "coarse sand": 850.0, "sugar": 600.0,
    "granulated sugar": 600.0, "semolina": 750.0, "demerara": 900.0, "coarse sugar": 900.0, "raw sugar": 900.0,
    "coarse salt": 1050.0, "sea salt": 1050.0, "cracked pepper": 1150.0, "rock salt": 1300.0,
}  # fmt: skip
# The five grades and their two ends in µm; opinions differ, so a grade is a wide band.
GRADES_UM = {
    "extra fine": (150.0, 300.0), "very fine": (150.0, 300.0), "fine": (300.0, 500.0), "medium fine": (500.0, 650.0),
    "medium": (650.0, 850.0), "medium coarse": (850.0, 1050.0), "coarse": (1050.0, 1350.0),
    "extra coarse": (1350.0, 1700.0), "very coarse": (1350.0, 1700.0),
}  # fmt: skip
# How much a word moves the size, as a share of it; the plain comparative is the last.
AMOUNTS = (
    (r"(?:just )?a (?:tiny )?(?:touch|bit|little|shade|hair|tad)|slightly|touch|bit", 0.05),
    (r"much|a lot|far|clearly|way", 0.20),
    (r"", 0.10),
)
AGAIN = r"(?:last time|last|before|now|this|today|yesterday|it is|it was|the last one|previous|the previous one)"
UNITS = r"clicks?|steps?|marks?|quarters?|numbers?|notches|notch|halves|half|turns?|tenths?|thirds?|eighths?|fifths?|seconds?"
FILLERS = {
    "grind", "ground", "it", "please", "the", "my", "for", "like", "as", "a", "an", "about", "around", "roughly", "use",
    "i", "want", "try", "something", "size", "of",
}  # fmt: skip


@dataclass(frozen=True)
class Named:
    """What a word means: the middle of its sizes in µm, how vague it is (ln), and the word."""

    um: float
    ln_sd: float
    said: str
