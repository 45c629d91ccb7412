"""The rows. Quantities are kept in the unit of their name, times in UTC.

What lists and searches ask for has a column of its own, filled from the documents (``derived.py``): no list reads those.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import DateTime, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from hakari.formats.advice import AdviceDocument
from hakari.formats.base import ErrorDocument, Pair
from hakari.formats.brew_log import BrewNote, CapturedDocument, StepMark
from hakari.formats.experiment import Body
from hakari.formats.grinder import DialDocument
from hakari.formats.measurement import MeasurementDocument
from hakari.formats.plan import GrindClasses, PlanDocument, ShapeDocument
from hakari.formats.prediction import PredictionDocument
from hakari.formats.recipe import Recipe
from hakari.formats.slip import SlipDocument, TargetDocument
from hakari.store.base import Base as Base  # with all tables, for whoever asks the models for it
from hakari.store.base import RecordMixin, derived
from hakari.store.json_column import TypedJson
from hakari.store.packed_json import PackedJson
from hakari.store.snapshots import (
    CurveView,
    KeptScale,
    MeasurementOrder,
    PhotoDetails,
    PhotoProgress,
    PhotoSetting,
    SlipFigures,
    ToldCup,
)

# The documents of a sample are read together, when one of them is asked for.
FIGURES: dict[str, Any] = {"deferred": True, "deferred_group": "figures"}


class Coffee(RecordMixin, Base):
    """A coffee on the shelf."""

    __tablename__ = "coffee"
    name: Mapped[str] = mapped_column(String(80))
    roast: Mapped[str] = mapped_column(String(20))
    process: Mapped[str] = mapped_column(String(80), default="")
    origin: Mapped[str] = mapped_column(String(80), default="")
    roaster: Mapped[str] = mapped_column(String(80), default="")
    flavours: Mapped[str] = mapped_column(String(200), default="")
    roasted_at: Mapped[datetime | None]
    dense: Mapped[bool] = mapped_column(default=False)
    bag_g: Mapped[float | None]
    rest_school: Mapped[str] = mapped_column(String(20), default="second-day")


class Grinder(RecordMixin, Base):
    """A grinder and its dial, as in ``hakari.grinder/1``."""

    __tablename__ = "grinder"
    name: Mapped[str] = mapped_column(String(80))
    burrs: Mapped[str] = mapped_column(String(40))
    note: Mapped[str] = mapped_column(String(120), default="")
    dial: Mapped[DialDocument] = mapped_column(TypedJson(DialDocument))
    step_travel_um: Mapped[float | None]
    eras: Mapped[list[Era]] = relationship(back_populates="grinder", order_by="Era.id", lazy="selectin")


class Era(RecordMixin, Base):
    """A time in which a grinder's curve held; the last one is the present. ``reason`` is what began it, "" for the first."""

    __tablename__ = "era"
    grinder_id: Mapped[int] = mapped_column(ForeignKey("grinder.id"), index=True)
    label: Mapped[str] = mapped_column(String(80), default="since the start")
    reason: Mapped[str] = mapped_column(String(20), default="")
    grinder: Mapped[Grinder] = relationship(back_populates="eras")
    points: Mapped[list[CurvePoint]] = relationship(back_populates="era", order_by="CurvePoint.id", lazy="selectin")


class CurvePoint(RecordMixin, Base):
    """A measured setting of one era, by a ``photo``, ``sieve`` or ``table``, or ``typed``; an unused one is off the curve."""

    __tablename__ = "curve_point"
    era_id: Mapped[int] = mapped_column(ForeignKey("era.id"), index=True)
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("sample.id"), index=True)
    setting: Mapped[str] = mapped_column(String(40))
    d50_um: Mapped[float]
    ci95_low_um: Mapped[float]
    ci95_high_um: Mapped[float]
    fines_below_100: Mapped[float | None]
    span: Mapped[float | None]
    roast: Mapped[str | None] = mapped_column(String(20))
    basis: Mapped[str] = mapped_column(String(10), default="photo")
    used: Mapped[bool] = mapped_column(default=True)
    era: Mapped[Era] = relationship(back_populates="points")


class SettingEquivalence(RecordMixin, Base):
    """Two settings on different grinders that a recipe or a person names as equivalent."""

    __tablename__ = "equal"
    era_a_id: Mapped[int] = mapped_column(ForeignKey("era.id"), index=True)
    setting_a: Mapped[str] = mapped_column(String(40))
    era_b_id: Mapped[int] = mapped_column(ForeignKey("era.id"), index=True)
    setting_b: Mapped[str] = mapped_column(String(40))
    era_a: Mapped[Era] = relationship(foreign_keys=[era_a_id])
    era_b: Mapped[Era] = relationship(foreign_keys=[era_b_id])


class OwnWindow(RecordMixin, Base):
    """A user's own window of size for a method, in place of the starting one; known by its label."""

    __tablename__ = "own_window"
    label: Mapped[str] = mapped_column(String(80), unique=True)
    low_um: Mapped[float]
    high_um: Mapped[float]


class Sample(RecordMixin, Base):
    """One measured grind: its figures as ``hakari.measurement/1``, its curve, and where its grounds are kept.

    ``source`` is ``photo``, or ``sieve`` or ``table`` for classes that were typed in or read from a file; those have no
    grounds.
    """

    __tablename__ = "sample"
    __table_args__ = (Index("ix_sample_deleted_at", "deleted_at"),)
    coffee_id: Mapped[int | None] = mapped_column(ForeignKey("coffee.id"))
    era_id: Mapped[int | None] = mapped_column(ForeignKey("era.id"))
    setting: Mapped[str | None] = mapped_column(String(40))
    simulated: Mapped[bool] = mapped_column(default=False)
    d50_um: Mapped[float]
    measurement: Mapped[MeasurementDocument] = mapped_column(
        PackedJson(MeasurementDocument), deferred=True, deferred_group="figures"
    )
    curve: Mapped[CurveView] = mapped_column(PackedJson(CurveView), **FIGURES)
    whole: Mapped[GrindClasses] = mapped_column(PackedJson(GrindClasses), **FIGURES)
    grounds_hash: Mapped[str] = mapped_column(String(64))
    source: Mapped[str] = mapped_column(String(10), default="photo")
    d50_low_um: Mapped[float] = derived()
    d50_high_um: Mapped[float] = derived()
    photos: Mapped[list[Photo]] = relationship(back_populates="sample", order_by="Photo.id", lazy="selectin")
    edits: Mapped[list[Edit]] = relationship(order_by="Edit.id", lazy="selectin")


class Photo(RecordMixin, Base):
    """A photo of a sample; the picture itself is a file named by its content."""

    __tablename__ = "photo"
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"), index=True)
    content_hash: Mapped[str] = mapped_column(String(64), index=True)
    file_name: Mapped[str] = mapped_column(String(200))
    width_px: Mapped[int]
    height_px: Mapped[int]
    um_per_px: Mapped[float]
    details: Mapped[PhotoDetails] = mapped_column(PackedJson(PhotoDetails), default=PhotoDetails)
    sample: Mapped[Sample] = relationship(back_populates="photos")


class Edit(RecordMixin, Base):
    """A person's correction of a sample's grounds, in the order of ids; one that was taken back is marked deleted."""

    __tablename__ = "edit"
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"), index=True)
    kind: Mapped[str] = mapped_column(String(10))
    photo: Mapped[int] = mapped_column(default=0)
    grounds: Mapped[list[int]] = mapped_column(TypedJson(list[int]))
    drawn_px: Mapped[list[Pair]] = mapped_column(TypedJson(list[Pair]))


class OwnBrewer(RecordMixin, Base):
    """A brewer of one's own: a shape, used like a built-in one."""

    __tablename__ = "own_brewer"
    name: Mapped[str] = mapped_column(String(60))
    base: Mapped[str] = mapped_column(String(40))
    shape: Mapped[ShapeDocument] = mapped_column(TypedJson(ShapeDocument))


class SavedRecipe(RecordMixin, Base):
    """A recipe under a name, with the grinder, setting and size that it was written for."""

    __tablename__ = "recipe"
    name: Mapped[str] = mapped_column(String(80))
    recipe: Mapped[Recipe] = mapped_column(TypedJson(Recipe))
    grinder_name: Mapped[str | None] = mapped_column(String(80))
    setting: Mapped[str | None] = mapped_column(String(40))
    median_um: Mapped[float | None]


class Plan(RecordMixin, Base):
    """A plan as it was made; never changed afterwards.

    ``shown`` is all that the page showed of it when its first brew began, sentences too; the brew goes by that.
    """

    __tablename__ = "plan"
    coffee_id: Mapped[int | None] = mapped_column(ForeignKey("coffee.id"))
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("sample.id"))
    era_id: Mapped[int | None] = mapped_column(ForeignKey("era.id"))
    setting: Mapped[str | None] = mapped_column(String(40))
    recipe: Mapped[Recipe] = mapped_column(TypedJson(Recipe))
    document: Mapped[PlanDocument] = mapped_column(PackedJson(PlanDocument))
    prediction: Mapped[PredictionDocument] = mapped_column(PackedJson(PredictionDocument), deferred=True)
    shown: Mapped[dict[str, Any] | None] = mapped_column(PackedJson(dict[str, Any]), deferred=True)
    brewer: Mapped[str] = derived(String(80), index=True)
    dose_g: Mapped[float] = derived()


class Brew(RecordMixin, Base):
    """A plan being brewed or brewed; times in seconds of the brew since its first pour.

    ``speed`` is how many seconds of the brew pass in one of the clock's: 1, or more where the practice scale plays fast.
    ``dose_g`` is the dose as weighed in, after ``weighed_after`` steps were over.
    ``marks`` are steps that were over (``StepMark``), ``begun`` those that a hand began sooner or later than planned,
    ``notes`` what was seen (``BrewNote``), ``scale`` what stood under it, ``found`` what the log told
    (``CapturedDocument``). ``bare_bed_by`` says whose the bare bed is: the hand's, the scale's, or (``drip``) estimated from
    the last drip.
    """

    __tablename__ = "brew"
    __table_args__ = (Index("ix_brew_version", "version"),)
    plan_id: Mapped[int] = mapped_column(ForeignKey("plan.id"), index=True)
    started_at: Mapped[datetime | None]
    closed_at: Mapped[datetime | None]
    speed: Mapped[float] = mapped_column(default=1.0)
    dose_g: Mapped[float | None]
    weighed_after: Mapped[int] = mapped_column(default=0)
    marks: Mapped[list[StepMark]] = mapped_column(TypedJson(list[StepMark]), default=list)
    begun: Mapped[list[StepMark]] = mapped_column(TypedJson(list[StepMark]), default=list)
    notes: Mapped[list[BrewNote]] = mapped_column(TypedJson(list[BrewNote]), default=list)
    scale: Mapped[KeptScale | None] = mapped_column(TypedJson(KeptScale))
    found: Mapped[CapturedDocument | None] = mapped_column(PackedJson(CapturedDocument))
    bare_bed_s: Mapped[float | None]
    bare_bed_by: Mapped[str | None] = mapped_column(String(10))
    last_drip_s: Mapped[float | None]
    stalled: Mapped[bool | None]
    in_fit: Mapped[bool] = mapped_column(default=True)
    bed_photo: Mapped[str | None] = mapped_column(String(64))
    parts: Mapped[list[LogPart]] = relationship(order_by="LogPart.id")


class LogPart(RecordMixin, Base):
    """A second or so of readings of a brew, as ``[time_s, weight_g]``, and what the scale stood under."""

    __tablename__ = "log_part"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    standing: Mapped[str] = mapped_column(String(10))
    readings: Mapped[list[Pair]] = mapped_column(PackedJson(list[Pair]))


class Slip(RecordMixin, Base):
    """One pass with everything on it; a snapshot that later changes do not touch.

    The log of its brew is kept once, with the brew, not in ``document``. ``thread`` is what its dial-in is known by,
    ``starts_bags`` whether it may be where the next bag of its ``roast`` starts, ``follows`` whether it carried out a change,
    ``good`` what was said for the cup less what was said against it, ``liked`` 0 where nobody said.
    """

    __tablename__ = "slip"
    __table_args__ = (Index("ix_slip_deleted_at", "deleted_at"),)
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), unique=True)
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("slip.id"))
    number: Mapped[int]
    document: Mapped[SlipDocument] = mapped_column(PackedJson(SlipDocument), deferred=True)
    advice: Mapped[AdviceDocument] = mapped_column(PackedJson(AdviceDocument), deferred=True)
    view: Mapped[SlipFigures] = mapped_column(PackedJson(SlipFigures))
    thread: Mapped[str] = derived(String(200), index=True)
    words: Mapped[str] = derived(Text())
    brewer: Mapped[str] = derived(String(80))
    roast: Mapped[str] = derived(String(20))
    good: Mapped[float] = derived()
    liked: Mapped[int] = derived()
    starts_bags: Mapped[bool] = derived(index=True)
    follows: Mapped[bool] = derived(index=True)


class Experiment(RecordMixin, Base):
    """An experiment at the bench: what was planned and noted, and what it is about.

    ``blind_seed`` draws the hidden orders of its rounds; it leaves the folder in no export. ``sheets`` are the rounds whose
    pouring sheet was opened. ``alone`` says that one person pours and tastes.
    """

    __tablename__ = "experiment"
    name: Mapped[str] = mapped_column(String(80))
    note: Mapped[str] = mapped_column(String(600), default="")
    document: Mapped[Body] = mapped_column(TypedJson(Body))
    alone: Mapped[bool] = mapped_column(default=False)
    blind_seed: Mapped[str | None] = mapped_column(String(40))
    sheets: Mapped[list[int]] = mapped_column(TypedJson(list[int]), default=list)
    finished_at: Mapped[datetime | None]
    coffee_id: Mapped[int | None] = mapped_column(ForeignKey("coffee.id"))
    grinder_id: Mapped[int | None] = mapped_column(ForeignKey("grinder.id"))
    plan_id: Mapped[int | None] = mapped_column(ForeignKey("plan.id"))
    other_plan_id: Mapped[int | None] = mapped_column(ForeignKey("plan.id"))


class DrillAnswer(RecordMixin, Base):
    """One answer of a drill: what was asked, and how it went.

    ``item`` names what comes again when it is due; ``value`` and ``truth`` are in the drill's own measure (a guess and a
    size in µm, a difference in ln size, a score), ``well`` whether it went well.
    """

    __tablename__ = "drill_answer"
    drill: Mapped[str] = mapped_column(String(20), index=True)
    item: Mapped[str] = mapped_column(String(80))
    value: Mapped[float]
    truth: Mapped[float]
    well: Mapped[bool]


class MeasurementJob(RecordMixin, Base):
    """Photos that are being measured: kept until it is over, so that a restart goes on with them."""

    __tablename__ = "measurement_job"
    order: Mapped[MeasurementOrder] = mapped_column("ordered", TypedJson(MeasurementOrder))
    photos: Mapped[list[PhotoProgress]] = mapped_column(TypedJson(list[PhotoProgress]))
    finished: Mapped[bool] = mapped_column(default=False)
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("sample.id"))
    error: Mapped[ErrorDocument | None] = mapped_column(TypedJson(ErrorDocument))


class Draft(RecordMixin, Base):
    """What a device has typed at a station and not saved; the fields are the page's own."""

    __tablename__ = "draft"
    __table_args__ = (UniqueConstraint("device", "station"),)
    device: Mapped[str] = mapped_column(String(40))
    station: Mapped[str] = mapped_column(String(10))
    about: Mapped[str] = mapped_column(String(80))
    fields: Mapped[dict[str, Any]] = mapped_column(TypedJson(dict[str, Any]))


class Workbench(RecordMixin, Base):
    """A counter and its habits. Effects are learned from slips above ``learns_after``."""

    __tablename__ = "bench"
    name: Mapped[str] = mapped_column(String(40), default="bar")
    target: Mapped[str] = mapped_column(String(20), default="classical")
    school: Mapped[str] = mapped_column(String(20), default="grind-first")
    scale: Mapped[str] = mapped_column(String(20), default="none")
    learns_after: Mapped[int] = mapped_column(default=0)
    mass_unit: Mapped[str] = mapped_column(String(4), default="g")
    temperature_unit: Mapped[str] = mapped_column(String(4), default="C")
    own_target: Mapped[TargetDocument | None] = mapped_column(TypedJson(TargetDocument))


class Pass(RecordMixin, Base):
    """One pass along the chain at a counter: coffee, grind, plan, brew and cup; with its slip it is kept.

    The pass at hand of a counter is the one that was taken up last; a deleted one was discarded. ``from_slip_id`` is the
    slip that it starts from, ``told`` what was said of the cup and is in no slip yet, ``photo_setting`` whether the setting
    is known to be that of the photo.
    """

    __tablename__ = "pass"
    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"), index=True)
    taken_up_at: Mapped[datetime | None] = mapped_column(index=True)
    coffee_id: Mapped[int | None] = mapped_column(ForeignKey("coffee.id"))
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("sample.id"))
    grinder_id: Mapped[int | None] = mapped_column(ForeignKey("grinder.id"))
    setting: Mapped[str | None] = mapped_column(String(40))
    photo_setting: Mapped[PhotoSetting] = mapped_column(String(10), default="chosen")
    plan_id: Mapped[int | None] = mapped_column(ForeignKey("plan.id"))
    brew_id: Mapped[int | None] = mapped_column(ForeignKey("brew.id"), unique=True)
    from_slip_id: Mapped[int | None] = mapped_column(ForeignKey("slip.id"))
    told: Mapped[ToldCup | None] = mapped_column(TypedJson(ToldCup))


class Device(RecordMixin, Base):
    """A device that was let in; only its token's hash is kept, and a deleted one is revoked.

    Its ``role`` is ``manager``, ``barista`` or ``display``, which only watches the brew at its counter.
    """

    __tablename__ = "device"
    name: Mapped[str] = mapped_column(String(60))
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    role: Mapped[str] = mapped_column(String(10), default="barista")
    counter_id: Mapped[int | None]
    last_used_at: Mapped[datetime | None]


class Lease(Base):
    """What one of several servers does alone, and until when unless it says so again; by the database's clock."""

    __tablename__ = "lease"
    name: Mapped[str] = mapped_column(String(60), primary_key=True)
    holder: Mapped[str] = mapped_column(String(40))
    until: Mapped[datetime] = mapped_column(DateTime(timezone=True))
