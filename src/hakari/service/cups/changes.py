"""What changed between two brews: found from their plans, not asked for; several things at once are said to be several."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.service.grinders.curves import words_between
from hakari.service.workspace.transaction import find, lookup, units_of, workbench_row
from hakari.store import models


def things_changed(session: Session, before: models.Plan, after: models.Plan) -> list[str]:
    """Each thing that differs between two plans, in words; a dose that keeps the ratio or the water is one thing."""
    old, new = before.recipe, after.recipe
    found, units = _grind(session, before, after), units_of(workbench_row(session))
    if old.water_c != new.water_c:
        found.append(f"{units.heat(new.water_c)} from {units.heat(old.water_c)}")
    dose = (before.document.dose_g, after.document.dose_g)
    water = tuple(sum(p.water_g for p in d.document.pours) for d in (before, after))
    if abs(dose[1] - dose[0]) >= 0.05:
        found.append(f"{units.masses(dose[1], digits=None)} of coffee from {units.masses(dose[0], digits=None)}")
    if abs(water[1] / dose[1] - water[0] / dose[0]) > 0.12 and abs(water[1] - water[0]) > 1.0:
        found.append(f"{units.masses(water[1])} of water from {units.masses(water[0])}")
    if old.core_brewer().label != new.core_brewer().label:
        found.append(f"in the {new.core_brewer().label}")
    elif old.core_filter() != new.core_filter():
        found.append(f"through {new.core_filter().replace('-', ' ')}")
    if old.filter_lot.strip().lower() != new.filter_lot.strip().lower():
        found.append("paper of another lot")
    if (old.school, old.options) != (new.school, new.options):
        found.append("other pours")
    elif old.steep != new.steep or old.actions != new.actions:
        found.append("another steep" if new.steep else "stirred otherwise")
    elif old.pours != new.pours and (new.pours or old.pours):
        found.append("pours moved by hand")
    if old.after_g != new.after_g:
        found.append(f"{units.masses(new.after_g)} of water after the brew")
    if old.heat != new.heat:
        found.append("brewer warmed" if new.heat.preheated and not old.heat.preheated else "brewer heated otherwise")
    return found


def _grind(session: Session, before: models.Plan, after: models.Plan) -> list[str]:
    eras = [lookup(session, models.Era, p.era_id) for p in (before, after)]
    old, new = eras
    if old is not None and new is not None and old.grinder_id == new.grinder_id:
        if before.setting and after.setting and before.setting != after.setting:
            return [words_between(find(session, models.Era, new.id, "era").grinder, before.setting, after.setting)]
        return ["the mill was cleaned or moved"] if old.id != new.id else []
    if new is not None and old is not new:
        return [f"to the {new.grinder.name}"]
    return []
