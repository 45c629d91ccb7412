"""Rows of ``hakari batch``: one a photo and one a sample, as Parquet, CSV or JSON lines."""

from __future__ import annotations

from hakari.formats.base import Document

OK = "ok"


class BatchPlace(Document):
    """What a list says of a photo; all but its sample may be missing."""

    sample: str
    grinder: str | None = None
    setting: str | None = None
    coffee: str | None = None
    place: str | None = None
    date: str | None = None


class PhotoRow(BatchPlace):
    """One photo: what was measured, or why it was not (``status`` is the code of the refusal)."""

    photo: str
    sha256: str
    status: str = OK
    message: str = ""
    d10_um: float | None = None
    d50_um: float | None = None
    d90_um: float | None = None
    d50_low_um: float | None = None
    d50_high_um: float | None = None
    span: float | None = None
    fines_below_100: float | None = None
    mass_below_200: float | None = None
    grounds: int | None = None
    coverage: float | None = None
    resolution_limit_um: float | None = None
    cut_um: float | None = None
    light_error: float | None = None
    verdict: str | None = None
    seconds: float | None = None
    scale: str = "card"
    key: str = ""


class SampleRow(BatchPlace):
    """One sample: the figures of its photos together, as the page has them."""

    photos: int
    failed: int
    d10_um: float | None = None
    d50_um: float | None = None
    d90_um: float | None = None
    d50_low_um: float | None = None
    d50_high_um: float | None = None
    span: float | None = None
    fines_below_100: float | None = None
    mass_below_200: float | None = None
    grounds: int | None = None
    cut_um: float | None = None
    light_error: float | None = None
    verdict: str | None = None
    key: str = ""
