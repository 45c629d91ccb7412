"""What more photos of a sample would buy, and whether those there are tell one step of its grinder from the next."""

from __future__ import annotations

import numpy as np
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.core.photo.review import Reviewed
from hakari.core.psd.photo_requirement import (
    SAME_LIGHT_ERROR,
    half_width_with_more,
    is_limited_by_light,
    photos_to_narrow,
    same_light_half_width,
)
from hakari.core.psd.summary import narrowing
from hakari.formats.base import Document, Pair
from hakari.service.grinders.curves import core_of, grinder_document
from hakari.service.workspace.transaction import lookup
from hakari.store import models

# Half width of D50, a share, that is enough where it is not known what one step of the grinder moves.
WANTED_IN_ONE_LIGHT = 0.04
MOST_WORTH_TAKING = 6


class NarrowedView(Document):
    """D50 and its interval of the first so many photos."""

    photos: int
    d50_um: float
    ci95_um: Pair


class MorePhotosView(Document):
    """What more photos of the same grind would buy, in words, and how the interval narrowed photo by photo.

    ``now`` is how well the median is known, in all and against another photo in the same light; ``narrowing`` is of the
    latter. ``step_share`` is how much one step of its grinder moves the median, where that is known; ``enough`` whether two
    samples as good as this one in the same light tell such a step apart, or the wanted width is reached. Where it is not
    enough, ``limited_by_light`` says that more photos in the same light no longer narrow it.
    """

    words: str
    now: str
    narrowing: list[NarrowedView]
    step_share: float | None
    enough: bool
    limited_by_light: bool


def _step_share(session: Session, row: models.Sample) -> float | None:
    """How much one step of its grinder moves the median at the sample's setting, as a share; None where unknown."""
    era = lookup(session, models.Era, row.era_id)
    if era is None or row.setting is None:
        return None
    try:
        core = core_of(grinder_document(era.grinder, session))
        here = core.dial.parse(row.setting)
        away = np.abs(core.dial.positions() - core.dial.at(row.setting))
        near = int(np.argmin(np.where(away > 1e-9, away, np.inf)))
        median_um = core.curve().median_um
        return float(abs(np.log(median_um[near] / median_um[here])))
    except InputError:
        return None


def more_photos(session: Session, row: models.Sample, now: Reviewed) -> MorePhotosView:
    """Return what more photos in the same light would buy, and whether these tell two steps of the grinder apart."""
    m = row.measurement
    half, photos, light = m.enough.half_width, max(m.photos, 1), min(m.light_error, SAME_LIGHT_ERROR)
    if row.source != "photo":
        return MorePhotosView(
            words="More sieves between these would narrow it.", now=f"±{100 * half:.0f} % now", narrowing=[],
            step_share=None, enough=False, limited_by_light=False,
        )  # fmt: skip
    same, step = same_light_half_width(half, m.light_error, photos), _step_share(session, row)
    # Two settings are told apart when the difference of two such samples is larger than its own interval.
    wanted = step / 2**0.5 if step is not None else WANTED_IN_ONE_LIGHT
    enough = half <= m.enough.wanted or same <= wanted
    limited = not enough and is_limited_by_light(same, light)
    shared = " against another photo in this light" if m.light_error > SAME_LIGHT_ERROR else ""
    if enough:
        words = f"D50 is known to ±{100 * same:.1f} %{shared}"
        words += ", enough to tell one step on this grinder" if step is not None and same <= wanted else ""
    elif limited:
        words = f"More photos in this light no longer narrow ±{100 * same:.1f} %{shared}"
    else:
        words = _with_more(same, photos, light, wanted, shared, tells_step=step is not None)
    if step is not None and "one step" not in words:
        words += f"; one step on this grinder is {100 * step:.1f} %"
    narrowed = narrowing(now.particles, m.resolution_limit_um, m.light_error) if photos > 1 else []
    return MorePhotosView(
        words=words + ".", step_share=step, enough=enough, limited_by_light=limited,
        now=f"±{100 * half:.0f} % in all, ±{100 * same:.1f} % within this light" if shared else f"±{100 * half:.1f} % now",
        narrowing=[NarrowedView(photos=n.photos, d50_um=n.d50_um, ci95_um=n.ci95_um) for n in narrowed],
    )  # fmt: skip


def _with_more(same: float, photos: int, light: float, wanted: float, shared: str, tells_step: bool) -> str:
    """Return what the next photos bring; where no reasonable number is enough, what three do."""
    more = photos_to_narrow(same, photos, light, wanted)
    more = more if more is not None and more <= MOST_WORTH_TAKING else None
    reached = wanted if more is not None else half_width_with_more(same, light, photos, 3)
    count = ("One", "Two", "Three", "Four", "Five", "Six")[(more or 3) - 1]
    words = f"{count} more {'photo' if more == 1 else 'photos'} would bring D50 to ±{100 * reached:.1f} %{shared}"
    return words + (", enough to tell one step on this grinder" if more is not None and tells_step else "")
