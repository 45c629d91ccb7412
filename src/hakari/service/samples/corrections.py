"""Corrections of a sample's grounds by hand: made, taken back, done again."""

from __future__ import annotations

from datetime import UTC, datetime

from hakari.core.errors import InputError
from hakari.core.photo.review import Edit, EditKind, check_edit
from hakari.service.samples.use_cases import find_photo, recompute
from hakari.service.samples.views import SampleDetail, reviewed, sample_detail_view
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models


def correct(
    ws: Workspace,
    sample_id: int,
    kind: EditKind,
    photo: int,
    grounds: list[int],
    drawn_px: list[tuple[float, float]],
) -> SampleDetail:
    """Apply a correction and bring the figures up to date.

    Raises
    ------
    InputError
        When the correction would do nothing or would leave no ground to count; nothing is changed then.
    """
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        find_photo(row, photo)
        check_edit(reviewed(ws, row), Edit(0, kind, photo, tuple(grounds), tuple(drawn_px)))
        # What was taken back and not done again is gone once something new is done.
        for edit in [e for e in row.edits if e.deleted_at is not None]:
            row.edits.remove(edit)
            session.delete(edit)
        row.edits.append(models.Edit(kind=kind, photo=photo, grounds=list(grounds), drawn_px=drawn_px))
        session.flush()
        recompute(ws, session, row)
        return sample_detail_view(ws, session, row)


def set_undone(ws: Workspace, sample_id: int, edit_id: int, undone: bool) -> SampleDetail:
    """Take a correction back, or do it again.

    Raises
    ------
    InputError
        ``no-such-correction``.
    """
    with ws.transaction() as session:
        row = find(session, models.Sample, sample_id, "sample")
        edit = next((e for e in row.edits if e.id == edit_id), None)
        if edit is None:
            raise InputError("no-such-correction", "There is no such correction.", "Look at the list again.")
        # Correcting is no deleting: whoever looks at a sample may undo a correction.
        edit.deleted_at = datetime.now(UTC) if undone else None
        session.flush()
        recompute(ws, session, row)
        return sample_detail_view(ws, session, row)
