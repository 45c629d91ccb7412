"""The setting card for the wall: methods by grinders, each cell a setting with its range and how sure it is."""

from __future__ import annotations

from datetime import UTC, datetime

import numpy as np

from hakari.core.brew.methods import Window
from hakari.core.errors import InputError
from hakari.core.grinder.grinder import TARGET_SEED, Grinder
from hakari.core.grinder.kinds import SteplessDial
from hakari.core.translate.nearest import nearest_setting, target_size
from hakari.formats.base import Document
from hakari.formats.setting_card import Cell, SettingCard, card_csv, card_pdf, card_png
from hakari.service.cache import Cache
from hakari.service.grinders.curves import HeldGrinder, core_of, grinder_document
from hakari.service.grinders.grind_guide import windows_of
from hakari.service.workspace.transaction import Workspace, list_active
from hakari.store import models

USUAL = (
    "pressure shot", "plunger tube, short", "ribbed cone, 15–25 g", "smooth cone", "flat-bottomed dripper",
    "thick-paper cone", "valve dripper", "press pot, unstirred", "drip machine", "cold steep",
)  # fmt: skip


class CardView(Document):
    """The table as the page shows it."""

    made_on: str
    grinders: list[str]
    rows: list[CardRow]
    all_methods: list[str]


class CardRow(Document):
    """A method with one cell for each grinder."""

    method: str
    window: str
    looks_like: str
    cells: list[CardCell]


class CardCell(Document):
    """A setting for the middle of a window, the settings of its ends, and how many steps the middle may be off."""

    setting: str | None
    fine: str | None
    coarse: str | None
    sure: str


def read_card(ws: Workspace, methods: list[str] | None = None) -> CardView:
    """Return the card for some methods; the usual ones when none is named."""
    card = _make(ws, methods)
    return CardView(
        made_on=card.made_on, grinders=list(card.grinders), all_methods=list(card.all_methods),
        rows=[
            CardRow(
                method=name, window=window, looks_like=looks,
                cells=[CardCell(setting=c.setting, fine=c.fine, coarse=c.coarse, sure=c.sure) for c in cells],
            )
            for name, window, looks, cells in card.rows
        ],
    )  # fmt: skip


def card_file(ws: Workspace, form: str, methods: list[str] | None = None) -> bytes:
    """Return the card as ``pdf``, ``png`` or ``csv``."""
    card = _make(ws, methods)
    return {"pdf": card_pdf, "png": card_png, "csv": card_csv}[form](card)


def _make(ws: Workspace, methods: list[str] | None) -> SettingCard:
    with ws.transaction() as session:
        windows = windows_of(session)
        known = [w.label for w in windows]
        chosen = [w for w in windows if w.label in (methods or USUAL)]
        if not chosen:
            raise InputError("no-methods", "No method of the guide is chosen.", "Choose at least one.", field="methods")
        cores = []
        for row in list_active(session, models.Grinder):
            core = core_of(grinder_document(row, session))
            try:
                core.curve(TARGET_SEED)
            except InputError:
                continue
            cores.append(core)
    if not cores:
        raise InputError(
            "no-curves", "No grinder has a curve yet, so there is nothing to put on a card.",
            "Measure one setting of a grinder first.", field="grinders",
        )  # fmt: skip
    now = datetime.now(UTC)
    return SettingCard(
        made_on=f"{now.day} {now:%B %Y}", grinders=tuple(core.name for core in cores),
        rows=tuple(
            (w.label, f"{w.low_um:.0f}–{w.high_um:.0f} µm", w.looks_like,
             tuple(_cell_held(core, w) for core in cores))
            for w in chosen
        ),
        all_methods=tuple(known),
    )  # fmt: skip


_cells: Cache[Cell] = Cache(2000)


def _cell_held(core: HeldGrinder, window: Window) -> Cell:
    return _cells.get((core.document, window.low_um, window.high_um), lambda: _cell(core, window))


def _cell(core: Grinder, window: Window) -> Cell:
    middle = nearest_setting(core, target_size(window.middle_um, 0.001))
    if not middle.reachable:
        return Cell(None, None, None, "not reached")
    ends = [nearest_setting(core, target_size(um, 0.001)).setting for um in (window.low_um, window.high_um)]
    return Cell(middle.setting, ends[0], ends[1], _sure(core, middle.place, middle.interval95_um))


def _sure(core: Grinder, place: int, interval_um: tuple[float, float]) -> str:
    """How many steps the 95 % interval of the size at a setting spans to either side, in words."""
    median = core.curve(TARGET_SEED).median_um
    near = np.abs(np.log(median[[max(place - 1, 0), min(place + 1, len(median) - 1)]] / median[place]))
    step = float(near[near > 0].mean()) if (near > 0).any() else 1.0
    steps = float(np.log(interval_um[1] / interval_um[0])) / 2 / step
    unit = core.dial.unit
    if isinstance(core.dial, SteplessDial):
        return f"± {max(steps, 1.0) * core.dial.readable:.1g}"
    if steps < 0.75:
        return f"to the {unit}"
    plural = {"half": "halves"}.get(unit, f"{unit}s")
    count = round(steps)
    return f"± {max(count, 1)} {unit if count <= 1 else plural}"
