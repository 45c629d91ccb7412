"""Schools, brewers and filters to choose from, and which of one's settings or methods suit a plan."""

from __future__ import annotations

from hakari.core.brew.brewers import BUILT_IN
from hakari.core.brew.filters import FILTERS
from hakari.core.brew.schools import SCHOOLS
from hakari.formats.base import Document, Pair


class ChoiceView(Document):
    """A value of an option and its words."""

    value: str
    words: str


class OptionView(Document):
    """A choice that a school really has; the first value is the usual one."""

    name: str
    label: str
    values: list[ChoiceView]


class SchoolView(Document):
    """A school, for which brewers and doses."""

    name: str
    label: str
    reason: str
    brewers: list[str]
    options: list[OptionView]
    dose_g: Pair
    ratio: float
    water_c: float
    kettle: str


class BrewerView(Document):
    """A brewer by its shape."""

    name: str
    label: str
    way: str
    filter: str
    material: str
    dose_g: Pair
    capacity_g: float


class FilterView(Document):
    """A filter."""

    name: str
    label: str


class MethodList(Document):
    """All that a plan can be made of."""

    schools: list[SchoolView]
    brewers: list[BrewerView]
    filters: list[FilterView]


def list_methods() -> MethodList:
    """Schools, brewers and filters; brewers for which nothing is predicted are left to the guide."""
    return MethodList(
        schools=[
            SchoolView(
                name=s.name, label=s.label, reason=s.reason, brewers=list(s.brewers),
                options=[
                    OptionView(name=o.name, label=o.label, values=[ChoiceView(value=v, words=w) for v, w in o.values])
                    for o in s.options
                ],
                dose_g=s.dose_g, ratio=s.ratio, water_c=s.water_c, kettle=s.kettle,
            )
            for s in SCHOOLS.values()
        ],
        brewers=[
            BrewerView(name=b.name, label=b.label, way=b.way, filter=b.filter_name, material=b.material, dose_g=b.dose_g,
                       capacity_g=b.capacity_g)
            for b in BUILT_IN.values()
            if b.way != "advice"
        ],
        filters=[FilterView(name=f.name, label=f.label) for f in FILTERS.values()],
    )  # fmt: skip
