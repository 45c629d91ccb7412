"""Passes: what a counter held becomes a row of its own; plans keep what was shown; more is known of coffees."""

import json
import re
from contextlib import suppress
from datetime import UTC, datetime
from typing import Any

import sqlalchemy as sa
from alembic import op

import hakari.store.base
from hakari.store.snapshots import ToldCup

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

UTC_TIME = hakari.store.base.UtcDateTime
POINTERS = {
    "coffee_id": "coffee", "sample_id": "sample", "grinder_id": "grinder", "plan_id": "plan", "brew_id": "brew",
    "slip_id": "slip",
}  # fmt: skip
# What a device had typed of a cup, by the names of then.
TOLD = (
    "bare", "drip", "stalled", "tds", "drink", "added", "spent", "ground", "taste", "cooled", "bed", "stuck", "force",
    "water", "dirty", "liked", "note",
)  # fmt: skip


def upgrade() -> None:
    """Make the table; brews of no counter get theirs when the program starts (``store/passes.py``)."""
    op.create_table(
        "pass",
        sa.Column("bench_id", sa.Integer(), nullable=False),
        sa.Column("taken_up_at", UTC_TIME(), nullable=True),
        sa.Column("coffee_id", sa.Integer(), nullable=True),
        sa.Column("sample_id", sa.Integer(), nullable=True),
        sa.Column("grinder_id", sa.Integer(), nullable=True),
        sa.Column("setting", sa.String(length=40), nullable=True),
        sa.Column("photo_setting", sa.String(length=10), nullable=False),
        sa.Column("plan_id", sa.Integer(), nullable=True),
        sa.Column("brew_id", sa.Integer(), nullable=True),
        sa.Column("from_slip_id", sa.Integer(), nullable=True),
        sa.Column("told", sa.JSON(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", UTC_TIME(), nullable=False),
        sa.Column("deleted_at", UTC_TIME(), nullable=True),
        sa.Column("made_by_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["bench_id"], ["bench.id"], name=op.f("fk_pass_bench_id_bench")),
        *(
            sa.ForeignKeyConstraint([column], [f"{table}.id"], name=op.f(f"fk_pass_{column}_{table}"))
            for column, table in {**POINTERS, "from_slip_id": "slip"}.items()
            if column != "slip_id"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pass")),
        sa.UniqueConstraint("brew_id", name=op.f("uq_pass_brew_id")),
    )
    op.create_index(op.f("ix_pass_bench_id"), "pass", ["bench_id"])
    op.create_index(op.f("ix_pass_taken_up_at"), "pass", ["taken_up_at"])
    op.add_column("plan", sa.Column("shown", sa.LargeBinary(), nullable=True))
    with op.batch_alter_table("brew") as brew:
        brew.add_column(sa.Column("begun", sa.JSON(), nullable=False, server_default="[]"))
    with op.batch_alter_table("coffee") as coffee:
        for name, length in (("origin", 80), ("roaster", 80), ("flavours", 200)):
            coffee.add_column(sa.Column(name, sa.String(length=length), nullable=False, server_default=""))
    # Threads and words are derived again: by size of brew, and with all that slips show.
    op.execute("UPDATE slip SET thread = NULL")
    _fill(datetime.now(UTC).replace(tzinfo=None))
    with op.batch_alter_table("bench") as bench:
        for column in (*POINTERS, "setting"):
            bench.drop_column(column)


def _rows(query: str, **values: Any) -> list[Any]:
    return list(op.get_bind().execute(sa.text(query), values).mappings())


def _fill(now: datetime) -> None:
    """Make a pass of what each counter held."""
    drafts = _drafts()
    known: set[int] = set()
    for bench in _rows("SELECT * FROM bench ORDER BY id"):
        held: dict[str, Any] = {k: bench[k] for k in ("coffee_id", "sample_id", "grinder_id", "setting", "plan_id")}
        brew_id, slip_id = bench["brew_id"], bench["slip_id"]
        slips = _rows("SELECT id, brew_id, parent_id FROM slip WHERE brew_id = :brew", brew=brew_id)
        if brew_id is not None and brew_id not in known:
            known.add(brew_id)
            came_from = slips[0]["parent_id"] if slips else slip_id
            of_plan = _of_plan(held["plan_id"])
            told = drafts.get((held["plan_id"], brew_id))
            _add(bench["id"], now, {**held, **of_plan, "brew_id": brew_id, "from_slip_id": came_from}, told)
            # What was chosen for the next brew already stays at hand.
            if slips and {**held, **of_plan} != held:
                _add(bench["id"], now, {**held, "from_slip_id": slips[0]["id"]}, None)
        elif any(value is not None for value in held.values()):
            _add(bench["id"], now, {**held, "from_slip_id": slip_id}, drafts.get((held["plan_id"], 0)))


def _of_plan(plan_id: int | None) -> dict[str, Any]:
    found = _rows(
        "SELECT plan.coffee_id, plan.sample_id, era.grinder_id, plan.setting FROM plan"
        " LEFT JOIN era ON era.id = plan.era_id WHERE plan.id = :plan", plan=plan_id,
    )  # fmt: skip
    return dict(found[0]) if found else {}


def _add(bench_id: int, now: datetime, values: dict[str, Any], told: dict[str, Any] | None) -> None:
    kept = sa.table("pass", *(sa.column(name) for name in ("id", "version", "photo_setting")), sa.column("told", sa.JSON),
                    *(sa.column(name, UTC_TIME()) for name in ("created_at", "taken_up_at")),
                    *(sa.column(name) for name in ("bench_id", *values)))  # fmt: skip
    at = now.replace(tzinfo=UTC)
    # Of two of one counter the later one is at hand; a row is known by when it was made.
    last = _rows('SELECT count(*) AS n FROM "pass"')[0]["n"]
    at = at.replace(microsecond=min(at.microsecond + last, 999_999))
    row = {**values, "bench_id": bench_id, "version": 1, "photo_setting": "chosen", "created_at": at, "taken_up_at": at}
    op.execute(kept.insert().values({**row, "told": told} if told else row))


def _drafts() -> dict[tuple[int, int], dict[str, Any]]:
    """Return what was typed of cups and is in no slip, by plan and brew."""
    found = {}
    for draft in _rows("SELECT about, fields FROM draft WHERE station = 'cup' AND deleted_at IS NULL"):
        about = re.fullmatch(r"plan (\d+), brew (\d+)", draft["about"])
        fields = json.loads(draft["fields"]) if isinstance(draft["fields"], str) else draft["fields"]
        if about is None or not isinstance(fields, dict) or not isinstance(fields.get("told"), dict):
            continue
        told = {name: fields["told"][name] for name in TOLD if fields["told"].get(name) is not None}
        told["change_first"] = fields.get("changeFirst") or "grind-first"
        # A draft is the page's own, of any form; what cannot be read would keep its pass from being opened.
        with suppress(ValueError):
            found[int(about[1]), int(about[2])] = ToldCup.model_validate(told).model_dump(mode="json")
    return found


def downgrade() -> None:
    """Nothing leads back: a copy of the database from before is in the folder's backups."""
    raise NotImplementedError("restore the copy that was made before the upgrade")
