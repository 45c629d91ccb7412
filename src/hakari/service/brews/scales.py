"""What can stand under a brew: the practice scale, a log played again, or nothing."""

from __future__ import annotations

from hakari.core.brew.schedule import Plan
from hakari.core.errors import InputError
from hakari.core.psd.grind import Grind
from hakari.device.practice_scale import FAULTS, PracticeScale
from hakari.device.replay import ReplayedScale
from hakari.device.source import WeightSource
from hakari.formats.base import Document
from hakari.formats.brew_log import read_log
from hakari.service.workspace.transaction import Workspace
from hakari.store.snapshots import KeptScale

MOST_LOG_CHARS = 8_000_000
# What a brew keeps in place of a scale when its log came from a file.
LOG_FROM_FILE = KeptScale(key="file", label="a log from a file", standing="brewer", simulated=False, connected=False)


class ScaleOption(Document):
    """A choice of what stands under the brew."""

    key: str
    label: str
    words: str
    simulated: bool


class ScaleOptions(Document):
    """All choices."""

    scales: list[ScaleOption]


def scale_options() -> ScaleOptions:
    """Return what a brew can be followed with."""
    return ScaleOptions(
        scales=[
            ScaleOption(key="none", label="By hand", words="Tap when a pour ends.", simulated=False),
            ScaleOption(
                key="practice-brewer", label="Practice scale under the brewer", simulated=True,
                words="Simulated: a hand pours the plan with its errors; the scale shows what was poured.",
            ),
            ScaleOption(
                key="practice-cup", label="Practice scale under the cup", simulated=True,
                words="Simulated: the scale shows what drips into the cup, and finds the bare bed.",
            ),
            ScaleOption(key="replay", label="Play a log", words="A CSV that was kept, at its own times.", simulated=False),
        ]
    )  # fmt: skip


def make_scale(ws: Workspace, key: str, log_csv: str | None, seed: int) -> KeptScale | None:
    """Return what a brew keeps of its scale, enough to set it up again; ``None`` by hand.

    Raises
    ------
    InputError
        ``no-log``, ``log-malformed``.
    """
    if key == "none":
        return None
    if key == "replay":
        if not log_csv:
            raise InputError("no-log", "There is no log to play.", "Choose a CSV file first.", field="log_csv")
        log, _ = read_log(log_csv)
        kept = ws.files.put(log_csv.encode())
        return KeptScale(
            key=key, label="a log played again", standing=log.standing, simulated=False, connected=True, file=kept
        )
    return KeptScale(
        key=key, label="practice scale, simulated", standing="cup" if key == "practice-cup" else "brewer",
        simulated=True, connected=True, seed=seed, lag_s=FAULTS.lag_s,
    )  # fmt: skip


def open_scale(ws: Workspace, scale: KeptScale, plan: Plan, grind: Grind) -> WeightSource:
    """Set the scale of a brew up, the same each time: a restarted server goes on with it."""
    if scale.key == "replay" and scale.file:
        log = read_log(ws.files.get(scale.file).decode())[0].core()
        t, weight = log.column(log.drink_g if scale.standing == "cup" else log.poured_g)
        return ReplayedScale(t, weight, scale.standing, scale.label)
    return PracticeScale(plan, grind, scale.standing, scale.seed)
