"""``hakari.plan/1`` and ``hakari.prediction/1``."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, model_validator

from hakari.core.brew.brewers import Brewer, built_in, cone, flat
from hakari.core.brew.schedule import ROOM_C, Action, Ending, Heat, Plan, Pour, PressForce, Steep, check_plan
from hakari.core.flow.factors import FlowFactors
from hakari.core.psd.grind import Grind
from hakari.core.psd.grind_sources import grind_from_classes, grind_from_figures
from hakari.formats.base import Celsius, Document, Grams, Seconds, Triple

MOST_SECONDS = 1500


class GrindClasses(Document):
    """A grind as class masses."""

    edges_um: Annotated[list[float], Field(min_length=2, max_length=2000)]
    mass_fraction: Annotated[list[float], Field(min_length=1, max_length=2000)]
    fines_relative_sd: float = 0.0

    def core(self) -> Grind:
        """Return the core's grind."""
        grind = grind_from_classes(np.array(self.edges_um), np.array(self.mass_fraction))
        return Grind(grind.edges_um, grind.mass_fraction, self.fines_relative_sd)

    def csv(self) -> str:
        """Return the classes as a table: ``low_um, high_um, mass_fraction``."""
        classes = zip(self.edges_um[:-1], self.edges_um[1:], self.mass_fraction, strict=True)
        lines = [f"{low:.3f},{high:.3f},{mass:.8f}" for low, high, mass in classes]
        return "\n".join(["low_um,high_um,mass_fraction", *lines, ""])

    @classmethod
    def of(cls, grind: Grind) -> GrindClasses:
        """Write down a whole grind."""
        return cls(
            edges_um=[round(float(v), 3) for v in grind.edges_um],
            mass_fraction=[round(float(v), 8) for v in grind.mass_fraction],
            fines_relative_sd=round(grind.fines_relative_sd, 4),
        )  # fmt: skip


class GrindFigures(Document):
    """A grind by its figures."""

    median_um: float
    span: float = 1.1
    fines_below_100: float = 0.08

    def core(self) -> Grind:
        """Return the core's grind."""
        return grind_from_figures(self.median_um, self.span, self.fines_below_100)


class _ShapeDocument(Document):
    """What all shapes of one's own may say beyond their size: how it is used, what of the floor is open, what it keeps.

    ``capacity_g`` is how much water it takes at once; that of the built-in brewer it is used like, where it is not given.
    """

    way: Literal["drip", "steep", "valve", "tower"] = "drip"
    open_share: Annotated[float, Field(ge=0.01, le=1)] = 1.0
    mesh: bool = False
    held_g_per_g: Annotated[float, Field(ge=0.5, le=4)] = 2.0
    bypass: Literal["none", "edge", "ribs"] = "none"
    capacity_g: Annotated[Grams, Field(ge=50, le=20_000)] | None = None


class ConeDocument(_ShapeDocument):
    """A cone of one's own."""

    shape: Literal["cone"]
    half_angle_deg: float = 30.0
    outlet_mm: float = 20.0
    bypass: Literal["none", "edge", "ribs"] = "ribs"


class FlatDocument(_ShapeDocument):
    """A flat-bottomed brewer of one's own."""

    shape: Literal["flat"]
    diameter_mm: float = 70.0


ShapeDocument = Annotated[ConeDocument | FlatDocument, Field(discriminator="shape")]
BrewerDocument = str | ShapeDocument


def brewer_of(document: str | ConeDocument | FlatDocument) -> Brewer:
    """Return the core's brewer."""
    if isinstance(document, str):
        return built_in(document)
    made = (
        cone(document.half_angle_deg, document.outlet_mm, document.bypass)
        if isinstance(document, ConeDocument)
        else flat(document.diameter_mm, document.bypass)
    )
    return replace(
        made, way=document.way, open_share=document.open_share, mesh=document.mesh, held_g_per_g=document.held_g_per_g
    )


class PourDocument(Document):
    """One pour."""

    start_s: Seconds | None = None
    start_when: Literal["level-back", "half", "drained"] | None = None
    duration_s: Seconds
    water_g: Grams
    strength: Literal["soft", "normal", "hard"] = "normal"
    where: Literal["centre", "spiral", "edge"] = "spiral"

    @classmethod
    def of(cls, p: Pour) -> PourDocument:
        """Write down a pour, to a tenth of a gram."""
        return cls(
            start_s=p.start_s, start_when=p.start_when, duration_s=p.duration_s, water_g=round(p.water_g, 1),
            strength=p.strength, where=p.where,
        )  # fmt: skip


class ActionDocument(Document):
    """Something done to the bed."""

    at_s: Seconds
    do: Literal["swirl", "stir", "stir-back", "press", "open-valve", "close-valve"]

    @classmethod
    def of(cls, a: Action) -> ActionDocument:
        """Return the action as a document."""
        return cls(at_s=a.at_s, do=a.do)


class HeatDocument(Document):
    """What takes heat from the water."""

    material: Literal["plastic", "glass", "ceramic", "metal"] = "plastic"
    preheated: bool = True
    lid: bool = False


class SteepDocument(Document):
    """A steep: seconds from the first pour to the press, stirring in it, and the press."""

    seconds: Seconds
    stir_s: Seconds = 0.0
    press_s: Seconds = 20.0
    ending: Ending = "press"
    force: PressForce = "gentle"
    decant: bool = False

    def core(self) -> Steep:
        """Return the core's steep."""
        return Steep(self.seconds, self.stir_s, self.press_s, self.ending, self.force, self.decant)

    @classmethod
    def of(cls, s: Steep | None) -> SteepDocument | None:
        """Write down a steep, where there is one."""
        if s is None:
            return None
        return cls(
            seconds=s.seconds, stir_s=s.stir_s, press_s=s.press_s, ending=s.ending, force=s.force, decant=s.decant
        )


EARLIER_BED_FACTOR = 0.28


class FitDocument(Document):
    """Factors of the flow as fitted to logged brews, with the covariance of their logarithms (bed, filter, fines).

    ``bed_ratio`` is against the program's starting point. Earlier documents have ``bed_factor`` instead, which is absolute.
    """

    bed_ratio: Annotated[float, Field(gt=0, lt=1000)]
    filter_factor: Annotated[float, Field(gt=0, lt=100)]
    fines_factor: Annotated[float, Field(gt=0, lt=100)]
    fitted_on_brews: Annotated[int, Field(ge=1)]
    ln_covariance: Annotated[list[Triple], Field(min_length=3, max_length=3)]
    brew_scale: Annotated[float, Field(gt=0, lt=20)]
    brew_freedom: Annotated[float, Field(gt=0)]

    @model_validator(mode="before")
    @classmethod
    def _against_the_starting_point(cls, values: Any) -> Any:
        """Read the absolute factor of an earlier document as a ratio to the starting point of its time."""
        if not isinstance(values, dict) or "bed_factor" not in values or "bed_ratio" in values:
            return values
        absolute = values["bed_factor"]
        ratio = absolute / EARLIER_BED_FACTOR if isinstance(absolute, int | float) else absolute
        return {"bed_ratio": ratio, **{k: v for k, v in values.items() if k != "bed_factor"}}

    def core(self) -> FlowFactors:
        """Return the core's factors."""
        return FlowFactors(
            self.bed_ratio, self.filter_factor, self.fines_factor, self.fitted_on_brews, np.array(self.ln_covariance),
            self.brew_scale, self.brew_freedom,
        )  # fmt: skip

    @classmethod
    def of(cls, f: FlowFactors) -> FitDocument | None:
        """Write down factors; nothing where they rest on no brew."""
        if f.fitted_on_brews == 0 or f.ln_covariance is None:
            return None
        rows = [(float(a), float(b), float(c)) for a, b, c in f.ln_covariance]
        return cls(
            bed_ratio=f.bed_factor, filter_factor=f.filter_factor, fines_factor=f.fines_factor,
            fitted_on_brews=f.fitted_on_brews, ln_covariance=rows, brew_scale=f.brew_scale, brew_freedom=f.brew_freedom,
        )  # fmt: skip


class PlanDocument(Document):
    """A brew as planned. ``fit`` is how the flow was known then.

    ``water_g`` is for a steep without pours: all of it is then poured at once; ``dilution_g`` is water that is meant to go
    into the finished drink, ``ice_g`` ice that melts into it, ``held_back_g`` what of a concentrate stays out of it.
    ``by_marks``: there is no scale, every pour is a cup filled to the same mark. ``style`` and its options are those whose
    pours these are, where nobody moved them; advice uses the style's own levers then.
    """

    format: Literal["hakari.plan/1"] = "hakari.plan/1"
    grind: GrindClasses | GrindFigures
    brewer: BrewerDocument = "ribbed-cone"
    filter: Annotated[str, Field(max_length=40)] | None = None
    dose_g: Grams
    water_c: Celsius = 93.0
    roast: Literal["light", "medium", "medium-dark", "dark"] = "medium"
    pours: Annotated[list[PourDocument], Field(max_length=60)] = []
    actions: Annotated[list[ActionDocument], Field(max_length=60)] = []
    heat: HeatDocument = HeatDocument()
    steep: SteepDocument | None = None
    water_g: Grams | None = None
    dilution_g: Annotated[Grams, Field(ge=0, le=3000)] = 0.0
    ice_g: Annotated[Grams, Field(ge=0, le=3000)] = 0.0
    held_back_g: Annotated[Grams, Field(ge=0, le=500)] = 0.0
    by_marks: bool = False
    room_c: Celsius = ROOM_C
    fit: FitDocument | None = None
    style: Annotated[str, Field(max_length=40)] | None = None
    style_options: dict[str, str] = {}

    @property
    def steep_s(self) -> float | None:
        """How long it stands; ``None`` where it drips."""
        return self.steep.seconds if self.steep else None

    def factors(self) -> FlowFactors:
        """How the flow is known: fitted, or the starting points."""
        return self.fit.core() if self.fit else FlowFactors()

    def cup_g(self, brewed_g: float) -> float:
        """Return the mass of the drink as it is drunk: what was brewed and not held back, with the water and ice in it."""
        return max(brewed_g - self.held_back_g, 0.0) + self.dilution_g + self.ice_g

    def cup_tds_percent(self, brewed_g: float, tds_percent: float) -> float:
        """Return the strength of the drink as it is drunk, %."""
        cup_g = self.cup_g(brewed_g)
        return tds_percent * max(brewed_g - self.held_back_g, 0.0) / cup_g if cup_g else 0.0

    def core(self) -> Plan:
        """Return the core's plan, checked."""
        pours = tuple(Pour(p.water_g, p.duration_s, p.start_s, p.start_when, p.strength, p.where) for p in self.pours)
        if not pours and self.steep is not None and self.water_g is not None:
            pours = (Pour(self.water_g, min(15.0, self.steep.seconds), 0.0),)
        steep = self.steep.core() if self.steep else None
        plan = Plan(
            brewer=brewer_of(self.brewer), dose_g=self.dose_g, water_c=self.water_c, roast=self.roast, pours=pours,
            actions=tuple(Action(a.at_s, a.do) for a in self.actions),
            heat=Heat(self.heat.material, self.heat.preheated, self.heat.lid),
            filter_name=self.filter or brewer_of(self.brewer).filter_name, steep=steep,
            room_c=self.room_c,
        )  # fmt: skip
        check_plan(plan)
        return plan
