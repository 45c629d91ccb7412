"""A slip as a file: to print, to send, or to read elsewhere."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

import numpy as np

from hakari.core.brew.schedule import Ending
from hakari.core.brew.units import clock
from hakari.formats.slip_paper import SlipPaper, slip_pdf, slip_png
from hakari.service.slips.use_cases import SlipDetail, slip_detail, slip_steps
from hakari.service.workspace.transaction import Workspace

SlipForm = Literal["pdf", "png", "json"]


def slip_file(ws: Workspace, slip_id: int, form: SlipForm, dated: str = "") -> bytes:
    """Return a slip as PDF, PNG or ``hakari.slip/1``, on paper with its date as the device that asks writes it."""
    detail = slip_detail(ws, slip_id)
    if form == "json":
        return detail.document.model_dump_json(indent=1).encode()
    steps = tuple((clock(s.ends_s if s.kind in ENDS else s.at_s), s.words) for s in slip_steps(ws, slip_id))
    paper = paper_of(detail, steps, dated)
    return slip_pdf(paper) if form == "pdf" else slip_png(paper)


ENDS = ("drain", "last-drip")  # these have no start that anybody does
TIME_WORDS: dict[Ending, str] = {
    "press": "Pressed by", "skim": "Skimmed by", "draw-off": "Drawn off by", "draw-down": "Drawn down by",
    "off-heat": "Off the heat by",
}  # fmt: skip


def _added(s: SlipDetail) -> list[tuple[str, str, bool]]:
    """Return the water that really went into a concentrate, or else what was planned, and what was held back."""
    plan, added = s.document.plan, s.document.outcome.added_water_g
    rows = []
    if added is not None or plan.dilution_g > 0:
        rows.append(
            ("Water added after", f"{added:.0f} g" if added is not None else f"~{plan.dilution_g:.0f} g", False)
        )
    if plan.held_back_g > 0:
        rows.append(("Concentrate held back", f"{plan.held_back_g:.0f} g", False))
    return rows


def paper_of(s: SlipDetail, steps: tuple[tuple[str, str], ...], dated: str = "") -> SlipPaper:
    """Return what stands on the paper; ``steps`` are the times and words of the plan, ``dated`` its date, where given."""
    guessed = "" if s.tds_measured else "~"
    time = f"{'' if s.drawdown_measured else '~'}{clock(s.drawdown_s)}"
    time += f" ±{s.drawdown_half_s:.0f} s" if s.drawdown_half_s is not None else ""
    rows = (
        (
            s.grinder or "Grind",
            s.setting or ("assumed" if s.grind_assumed else "by photo"),
            bool({"grinder", "setting"} & set(s.changed)),
        ),
        ("Coffee", f"{s.dose_g:.1f} g", "dose_g" in s.changed),
        ("Water", f"{s.water_g:.0f} g", "water_g" in s.changed),
        *([("Style", s.style, False)] if s.style else []),
        *([("Pours", str(s.pours), False)] if s.pours else []),
        *_added(s),
        ("Heat", f"{s.water_c:.0f} °C", "water_c" in s.changed),
        (TIME_WORDS[s.ending] if s.ending else "Bare bed", time, False),
        *([("Last drip", clock(s.last_drip_s), False)] if s.last_drip_s is not None and not s.ending else []),
        *([("Stalled", "yes", False)] if s.stalled else []),
        ("Strength", f"{guessed}{s.tds_percent:.2f} %", False),
        ("Extraction", f"{guessed}{s.ey_percent:.1f} %", False),
    )
    taste = ", ".join(f"{word} {strength}" for word, strength in sorted(s.taste.items(), key=lambda kv: -kv[1]))
    bed = ", ".join(s.bed)
    liked = f"liked {s.liked} of 5" if s.liked else ""
    size, height = np.log(np.array(s.curve_size_um)), np.array(s.curve_density)
    u = (size - size[0]) / max(float(np.ptp(size)), 1e-9)
    v = height / max(float(height.max()), 1e-9)
    return SlipPaper(
        title=f"Slip {s.number}", coffee=f"{s.coffee or 'A coffee'} in the {s.brewer}",
        when=dated or f"{datetime.fromisoformat(s.created_at).astimezone():%Y-%m-%d %H:%M %Z}", rows=rows,
        taste="; ".join(p for p in (taste, liked, f"bed {bed}" if bed else "") if p) or "not tasted",
        target=f"in the {s.target} target" if s.in_target else s.judged or f"outside the {s.target} target",
        good=s.in_target,
        next_words=s.next_words or "", curve=tuple((float(a), float(b)) for a, b in zip(u, v, strict=True)), steps=steps,
    )  # fmt: skip
