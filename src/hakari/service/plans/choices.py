"""What is chosen for a pass before it begins: coffee, photo, grinder and setting; its plan follows."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.service.grinders.translation import setting_of_words
from hakari.service.plans.use_cases import check_setting, plan_again
from hakari.service.workspace.at_hand import to_change
from hakari.service.workspace.transaction import lookup
from hakari.store import models


def choose_coffee(session: Session, coffee: models.Coffee) -> None:
    """Choose the coffee of the pass at hand; a photo of another coffee's grounds says nothing of this one."""
    here = to_change(session)
    here.coffee_id = coffee.id
    sample = lookup(session, models.Sample, here.sample_id)
    if sample is not None and sample.coffee_id not in (None, coffee.id):
        here.sample_id, here.photo_setting = None, "chosen"
    plan_again(session, here)


def choose_sample(session: Session, sample: models.Sample) -> None:
    """Choose a measured grind with the setting it was ground at; where nobody said it, the page asks about those at hand."""
    here = to_change(session)
    here.sample_id = sample.id
    if sample.coffee_id is not None:
        here.coffee_id = sample.coffee_id
    era = lookup(session, models.Era, sample.era_id)
    if era is not None:
        here.grinder_id, here.setting, here.photo_setting = era.grinder_id, sample.setting, "chosen"
    else:
        here.photo_setting = "ask" if here.setting is not None else "chosen"
    plan_again(session, here)


def put_sample_away(session: Session) -> None:
    """Leave out the measured grind of the pass at hand."""
    here = to_change(session)
    here.sample_id, here.photo_setting = None, "chosen"
    plan_again(session, here)


def choose_setting(session: Session, grinder: models.Grinder, setting: str | None) -> None:
    """Choose the grinder of the pass at hand, and its setting where that is known."""
    here = to_change(session)
    here.grinder_id, here.photo_setting = grinder.id, "chosen"
    here.setting = check_setting(grinder, setting_of_words(session, grinder, setting)) if setting else None
    plan_again(session, here)


def say_setting_unknown(session: Session) -> None:
    """Say that nobody knows at which setting the photo's grounds were ground: the plan goes by the photo as it is."""
    here = to_change(session)
    here.photo_setting = "unknown"
    plan_again(session, here)
