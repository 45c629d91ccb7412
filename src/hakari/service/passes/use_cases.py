"""Passes: begun, told of, discarded and brought back."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Literal

from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.service.passes.views import OpenPass, PassView, discarded_passes, open_passes, pass_view
from hakari.service.plans.use_cases import plan_again
from hakari.service.workspace.at_hand import at_hand, brew_of, go_on_from, slip_of
from hakari.service.workspace.transaction import Workspace, check_may_delete, find
from hakari.store import models
from hakari.store.snapshots import ToldCup as ToldCup


class PassSearch(Document):
    """Which passes to list."""

    state: Literal["open", "discarded"] = "open"


class PassList(Document):
    """Passes of a counter, the newest first."""

    passes: list[OpenPass]


class NewPass(Document):
    """A pass to begin: with coffee, grind and plan of another one, or of the one at hand."""

    like_id: int | None = None


def list_passes(ws: Workspace, search: PassSearch) -> PassList:
    """Return the open passes of a counter, or those that were discarded."""
    with ws.transaction() as session:
        find_them = open_passes if search.state == "open" else discarded_passes
        return PassList(passes=find_them(session))


def pass_detail(ws: Workspace, pass_id: int) -> PassView:
    """Return a pass as it stands, whether it is at hand or not."""
    with ws.transaction() as session:
        return pass_view(session, find(session, models.Pass, pass_id, "brew", deleted_too=True))


def begin_pass(ws: Workspace, new: NewPass) -> PassView:
    """Begin a pass and take it up; its plan is made again, as what was learned since may predict it otherwise."""
    with ws.transaction() as session:
        like = find(session, models.Pass, new.like_id, "brew") if new.like_id is not None else at_hand(session)
        slip = slip_of(session, like)
        row = go_on_from(session, like, from_slip_id=slip.id if slip is not None else like.from_slip_id)
        plan_again(session, row)
        session.flush()
        return pass_view(session, row)


def tell(ws: Workspace, pass_id: int, told: ToldCup) -> PassView:
    """Keep what was typed and tapped of a cup, at once; of what was told before only what is named here changes."""
    with ws.transaction() as session:
        row = find(session, models.Pass, pass_id, "brew")
        before = row.told or ToldCup()
        row.told = before.model_copy(update={name: getattr(told, name) for name in told.model_fields_set})
        session.flush()
        return pass_view(session, row)


def take_back_told(ws: Workspace, pass_id: int) -> PassView:
    """Forget what was told of a cup and is in no slip."""
    with ws.transaction() as session:
        row = find(session, models.Pass, pass_id, "brew")
        row.told = None
        session.flush()
        return pass_view(session, row)


def discard_pass(ws: Workspace, pass_id: int) -> int | None:
    """Discard a pass with its brew, whose identity is returned; both can be brought back for 30 days.

    Raises
    ------
    InputError
        ``kept-as-slip`` for a pass that was kept; ``not-yours`` as everywhere.
    """
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Pass, pass_id, "brew")
        check_may_delete(session, row)
        slip = slip_of(session, row)
        if slip is not None:
            raise InputError(
                "kept-as-slip", f"This brew is kept as slip {slip.number}.", "Delete the slip, on Slips, instead."
            )
        now = datetime.now(UTC)
        brew = brew_of(session, row)
        if brew is not None:
            brew.deleted_at = now
            if brew.started_at is not None and brew.closed_at is None:
                brew.closed_at = now
        row.deleted_at = now
        return row.brew_id


def restore_pass(ws: Workspace, pass_id: int) -> PassView:
    """Bring a discarded pass back, with its brew, as it was."""
    with ws.brewing, ws.transaction() as session:
        row = find(session, models.Pass, pass_id, "brew", deleted_too=True)
        brew = brew_of(session, row)
        if brew is not None and brew.deleted_at is not None:
            # The clock of a brew that was discarded while it ran goes on from its start.
            brew.closed_at = None if brew.closed_at == brew.deleted_at else brew.closed_at
            brew.deleted_at = None
        row.deleted_at = None
        session.flush()
        return pass_view(session, row)
