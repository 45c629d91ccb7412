"""What rows keep of their time that is no open format of its own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hakari.core.brew.schedule import Ending, PressForce
from hakari.formats.advice import StateDocument
from hakari.formats.base import ContentHash, Document, ErrorDocument, Pair
from hakari.formats.slip import LeverOrderName

# Whether a setting was chosen for the photo's grind or measured with it, is to be asked for, or is not known.
PhotoSetting = Literal["chosen", "ask", "unknown"]
# How much is brewed at once.
BrewSize = Literal["cup", "two cups", "four cups", "batch"]
Typed = Annotated[str, Field(max_length=40)]


class CurveView(Document):
    """A smooth curve and its band: density of mass per ln d and cumulative share at each size."""

    size_um: list[float]
    density: list[float]
    cumulative: list[float]
    low: list[float]
    high: list[float]


class OrderedPhoto(Document):
    """A photo that was sent to be measured."""

    file_name: str
    content_hash: ContentHash


class MeasurementOrder(Document):
    """What to measure and what is known of it; with ``sample_id`` the photos are added to that sample.

    ``counter_id`` is where it was sent from: the sample is put on that bench.
    """

    photos: list[OrderedPhoto]
    scale: str = "card"
    bar_mm: float | None = None
    coffee_id: int | None = None
    grinder_id: int | None = None
    setting: str | None = None
    sample_id: int | None = None
    counter_id: int | None = None


class PhotoProgress(Document):
    """How far one photo is; a refused one says why and what to do."""

    file_name: str
    state: Literal["waiting", "measuring", "done", "refused"]
    grounds: int | None = None
    seconds: float | None = None
    error: ErrorDocument | None = None


class PhotoDetails(Document):
    """Where the scale of a photo came from, and what was looked at, in px of the photo."""

    scale_method: str = "card"
    tilt_deg: float | None = None
    region_px: list[Pair] = []
    scale_mark_px: list[Pair] = []
    ten_mm_px: list[Pair] = []


class ScaleView(Document):
    """What stands under the brew."""

    key: str
    label: str
    standing: Literal["brewer", "cup"]
    simulated: bool
    connected: bool


class KeptScale(ScaleView):
    """What a brew keeps of its scale, enough to set it up again."""

    file: ContentHash | None = None
    seed: int = 0
    lag_s: float = 0.0


class FollowedView(Document):
    """The change of the slip before that this pass carried out: what it said, and how much better the cup was, −1 to 1."""

    words: str
    kind: str | None = None
    better: float
    before: StateDocument | None = None
    after: StateDocument
    half_width95: StateDocument
    effect_size: float = 1.0


class SlipFigures(Document):
    """The figures of a slip; they are of its own time and never change.

    ``judged`` is what the cup was found to be, where that was not right: then it is not in the target, whatever its figures
    say. ``drawdown_half_s`` is half the 95 % interval of a bare bed that was estimated from the last drip.
    """

    coffee: str
    brewer: str
    grinder: str | None
    setting: str | None
    grind_assumed: bool = False
    dose_g: float
    water_g: float
    water_c: float
    drawdown_s: float
    drawdown_half_s: float | None = None
    last_drip_s: float | None = None
    ending: Ending | None = None
    drawdown_measured: bool
    predicted_drawdown_s: float
    tds_percent: float
    ey_percent: float
    tds_measured: bool
    taste: dict[str, int]
    bed: list[str]
    note: str = ""
    liked: int | None = None
    iced: bool = False
    style: str = ""
    pours: int | None = None
    stalled: bool = False
    added_g: float | None = None
    held_back_g: float | None = None
    in_target: bool
    judged: str = ""
    target: str
    curve_size_um: list[float]
    curve_density: list[float]
    median_um: float | None = None
    changed: list[str]
    changed_words: str | None
    things_changed: list[str] = []
    followed: FollowedView | None = None
    next_words: str | None


class ToldCup(Document):
    """What was typed and tapped of a cup, as it was typed: it may be no number yet."""

    bare: Typed = ""
    drip: Typed = ""
    stalled: bool = False
    tds: Typed = ""
    drink: Typed = ""
    added: Typed = ""
    back: Typed = ""
    spent: Typed = ""
    ground: Typed = ""
    taste: dict[Typed, Annotated[int, Field(ge=0, le=3)]] = Field({}, max_length=40)
    cooled: dict[Typed, Annotated[int, Field(ge=0, le=3)]] = Field({}, max_length=40)
    bed: Annotated[list[Typed], Field(max_length=20)] = []
    stuck: bool = False
    force: PressForce | None = None
    water: Literal["soft", "fine", "hard", "alkaline"] | None = None
    dirty: bool = False
    liked: Annotated[int, Field(ge=1, le=5)] | None = None
    note: Annotated[str, Field(max_length=600)] = ""
    target: Annotated[str, Field(max_length=20)] = "classical"
    own_target: Annotated[list[Typed], Field(max_length=4)] = []
    change_first: LeverOrderName = "grind-first"
    lean: Literal["brighter", "rounder", "cleaner", "fuller"] | None = None
