"""Translate a setting: ``hakari translate``."""

from __future__ import annotations

import argparse
from pathlib import Path

from hakari.cli.files import read_document, read_json
from hakari.core.errors import InputError
from hakari.core.translate.answer import PlanInUse, translate
from hakari.core.translate.nearest import target_setting
from hakari.formats.grinder import GrinderDocument, TranslationDocument, read_grinders
from hakari.formats.plan import PlanDocument


def run(a: argparse.Namespace) -> int:
    """Translate a setting to another grinder."""
    source, target = _grinder(a.source, a.from_name), _grinder(a.target, a.to_name)
    plan = read_document(a.plan, PlanDocument) if a.plan else None
    in_plan = PlanInUse(plan.core(), "the given plan") if plan else None
    answer = TranslationDocument.of(
        translate(target_setting(source.core(), a.setting), target.core(), a.match, in_plan)
    )
    if a.json:
        print(answer.model_dump_json())
        return 0
    low, high = answer.interval95_um
    print(
        f"{source.name} {a.setting} is {target.name} {answer.setting}: {answer.d50_um:.0f} µm ({low:.0f} to {high:.0f})"
    )
    if not answer.reachable:
        print(f"{target.name} does not reach {answer.target_um:.0f} µm; this is its nearest setting.")
    for n in answer.neighbours:
        print(f"  {n.setting}: {n.d50_um:.0f} µm, nearest in {100 * n.chance_nearest:.0f} of 100")
    if answer.plan:
        print(f"matched by {answer.match} in: {answer.plan}")
    for line in answer.differs + [f"assumed: {a}" for a in answer.assumptions]:
        print(line)
    return 0


def _grinder(path: Path, name: str | None) -> GrinderDocument:
    grinders = read_grinders(read_json(path))
    named = [g for g in grinders if name is None or g.name.lower() == name.strip().lower()]
    if len(named) != 1:
        held = ", ".join(g.name for g in grinders) or "no grinder"
        raise InputError(
            "which-grinder", f"{path.name} holds {held}.", "Say which with --from-name or --to-name.", field="grinder"
        )
    return named[0]
