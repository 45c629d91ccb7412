"""A recipe: what a person chooses, from which a plan is made on the grind at hand."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any

from pydantic import Field, model_validator

from hakari.core.brew.amounts import Amounts, amounts
from hakari.core.brew.brewers import Brewer, built_in
from hakari.core.brew.styles import style_of
from hakari.formats.base import Celsius, Document, Grams, Ratio, Seconds
from hakari.formats.plan import ActionDocument, HeatDocument, PourDocument, ShapeDocument, SteepDocument, brewer_of

TIME_MET_S, TIME_MET = 8.0, 0.05

ShortText = Annotated[str, Field(max_length=40)]


class Recipe(Document):
    """What a person chooses: two of dose, ratio, water and cup give the rest; a style with its options makes the pours.

    ``pours``, ``actions`` and ``steep`` hold what was changed by hand; the style's own then stand back. ``poured_dose_g`` is
    the coffee that the pours were set for: a bloom grows with the dose, the others with the water. ``after_g`` is hot
    water that goes into the drink after the brew. ``target_time_s`` is when the bed should be bare. ``shape`` is a brewer of
    one's own, used like the built-in ``brewer``, and ``brewer_name`` what it is called.
    """

    dose_g: Grams | None = 17.0
    ratio: Ratio | None = None
    water_g: Grams | None = None
    cup_g: Grams | None = None
    water_c: Celsius = 93.0
    brewer: Annotated[str, Field(max_length=40)] = "ribbed-cone"
    shape: ShapeDocument | None = None
    brewer_name: Annotated[str, Field(max_length=60)] | None = None
    filter: Annotated[str, Field(max_length=40)] | None = None
    filter_lot: Annotated[str, Field(max_length=40)] = ""
    school: Annotated[str, Field(max_length=40)] = "staged"
    options: Annotated[dict[ShortText, ShortText], Field(max_length=20)] = {}
    pours: Annotated[list[PourDocument], Field(max_length=60)] | None = None
    poured_dose_g: Grams | None = None
    actions: Annotated[list[ActionDocument], Field(max_length=60)] | None = None
    steep: SteepDocument | None = None
    after_g: Annotated[Grams, Field(ge=0, le=3000)] = 0.0
    heat: HeatDocument = HeatDocument()
    target_time_s: Annotated[Seconds, Field(ge=20, le=3600)] | None = None

    @model_validator(mode="before")
    @classmethod
    def _read_older(cls, data: Any) -> Any:
        """Older recipes: those before there were styles named stages and strength; bowls were brewed as presses are."""
        if isinstance(data, dict) and data.get("brewer") == "tasting-bowl" and data.get("school") == "long-steep":
            kept = {k: v for k, v in (data.get("options") or {}).items() if k == "minutes"}
            data = {**data, "school": "break-and-skim", "options": kept}
        if isinstance(data, dict) and "options" not in data and ("stages" in data or "strength" in data):
            older = {k: str(data[k]) for k in ("stages", "strength") if data.get(k) is not None}
            return {**data, "options": older}
        return data

    @property
    def time_span_s(self) -> tuple[float, float] | None:
        """From and to when a target time counts as met: what nobody tells apart in the cup."""
        t = self.target_time_s
        return None if t is None else (t - max(TIME_MET_S, TIME_MET * t), t + max(TIME_MET_S, TIME_MET * t))

    def core_brewer(self) -> Brewer:
        """Return the brewer: one's own shape, used like the built-in one."""
        base = built_in(self.brewer)
        if self.shape is None:
            return base
        own = brewer_of(self.shape)
        return replace(
            own, name=base.name, label=self.brewer_name or own.label, way=base.way, filter_name=base.filter_name,
            material=base.material, dose_g=base.dose_g,
            capacity_g=self.shape.capacity_g or base.capacity_g,
        )  # fmt: skip

    def amounts(self) -> Amounts:
        """Dose, water and cup; ``InputError`` when they do not follow."""
        ratio = self.ratio
        if self.dose_g is not None and ratio is None and self.water_g is None and self.cup_g is None:
            ratio = style_of(self.school).ratio
        found = amounts(self.core_brewer(), self.dose_g, ratio, self.water_g, self.cup_g)
        # Water is poured to the gram; what it was given as stays as it was typed.
        return found if self.water_g is not None else replace(found, water_g=float(round(found.water_g)))

    def core_filter(self) -> str:
        """Return the filter by its name: the chosen one, or what the brewer usually takes."""
        return self.filter or self.core_brewer().filter_name
