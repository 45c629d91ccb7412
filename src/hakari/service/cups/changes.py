"""What changed between two brews: found from their plans, not asked for; several things at once are said to be several."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.core.brew.changes import Change, changes_between
from hakari.core.brew.display_units import DisplayUnits
from hakari.core.brew.schedule import Plan
from hakari.service.grinders.curves import words_between
from hakari.service.workspace.transaction import find, lookup, units_of, workbench_row
from hakari.store import models

OTHERWISE: dict[Change, str] = {
    "pours": "other pours",
    "steep": "another steep",
    "stirring": "stirred otherwise",
    "room": "steeped elsewhere",
}


def things_changed(session: Session, before: models.Plan, after: models.Plan) -> list[str]:
    """Each thing that differs between two plans, in words; a dose that keeps the ratio or the water is one thing."""
    old, new = before.recipe, after.recipe
    units = units_of(workbench_row(session))
    plans = before.document.core(), after.document.core()
    told = (_in_words(c, plans, units) for c in changes_between(*plans))
    found = [*_grind(session, before, after), *(words for words in told if words is not None)]
    if old.filter_lot.strip().lower() != new.filter_lot.strip().lower():
        found.append("paper of another lot")
    if old.after_g != new.after_g:
        found.append(f"{units.masses(new.after_g)} of water after the brew")
    return found


def _in_words(change: Change, plans: tuple[Plan, Plan], units: DisplayUnits) -> str | None:
    """Return what differs between two plans with its values; nothing where both are written alike, as no hand tells them."""
    old, new = plans
    match change:
        case "temperature":
            now, then = units.heat(new.water_c), units.heat(old.water_c)
            return f"{now} from {then}" if now != then else None
        case "dose":
            return f"{units.masses(new.dose_g, digits=None)} of coffee from {units.masses(old.dose_g, digits=None)}"
        case "water":
            return f"{units.masses(new.water_g)} of water from {units.masses(old.water_g)}"
        case "brewer":
            return f"in the {new.brewer.label}"
        case "filter":
            return f"through {new.filter_name.replace('-', ' ')}"
        case "heat":
            warmed = new.heat.preheated and not old.heat.preheated
            return "brewer warmed" if warmed else "brewer heated otherwise"
    return OTHERWISE[change]


def _grind(session: Session, before: models.Plan, after: models.Plan) -> list[str]:
    eras = [lookup(session, models.Era, p.era_id) for p in (before, after)]
    old, new = eras
    if old is not None and new is not None and old.grinder_id == new.grinder_id:
        if before.setting and after.setting and before.setting != after.setting:
            return [words_between(find(session, models.Era, new.id, "era").grinder, before.setting, after.setting)]
        return ["the grinder was cleaned or moved"] if old.id != new.id else []
    if new is not None and old is not new:
        return [f"to the {new.grinder.name}"]
    return []
