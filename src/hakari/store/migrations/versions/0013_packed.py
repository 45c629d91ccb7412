"""Long columns packed, logs kept once, what lists ask for in columns of its own; roles, and which device made a row."""

from collections.abc import Iterator
from typing import Any

import sqlalchemy as sa
from alembic import op

from hakari.store.packed_json import pack

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

PACKED = {
    "sample": ("measurement", "curve", "whole"), "photo": ("details",), "plan": ("document", "prediction"),
    "brew": ("found",), "log_part": ("readings",), "slip": ("document", "advice", "view"),
}  # fmt: skip
OPTIONAL = ("found",)
RECORDS = (
    "bench", "brew", "coffee", "curve_point", "device", "draft", "drill_answer", "edit", "equal", "era", "experiment",
    "grinder", "log_part", "measurement_job", "own_brewer", "own_window", "photo", "plan", "recipe", "sample", "slip",
)  # fmt: skip
DERIVED: dict[str, dict[str, Any]] = {
    "plan": {"brewer": sa.String(80), "dose_g": sa.Double()},
    "sample": {"d50_low_um": sa.Double(), "d50_high_um": sa.Double()},
    "slip": {
        "thread": sa.String(200), "words": sa.Text(), "brewer": sa.String(80), "roast": sa.String(20),
        "good": sa.Double(), "liked": sa.Integer(), "starts_bags": sa.Boolean(), "follows": sa.Boolean(),
    },
}  # fmt: skip
AT_ONCE = 200


def upgrade() -> None:
    """Pack, and add the columns."""
    _keep_logs_once()
    for table, packed in PACKED.items():
        _pack(table, packed)
    for table in RECORDS:
        op.add_column(table, sa.Column("made_by_id", sa.Integer(), nullable=True))
    for table, columns in DERIVED.items():
        for name, kind in columns.items():
            op.add_column(table, sa.Column(name, kind, nullable=True))
    op.add_column("device", sa.Column("role", sa.String(10), nullable=False, server_default="manager"))
    op.add_column("device", sa.Column("counter_id", sa.Integer(), nullable=True))
    for table, column in (
        ("plan", "brewer"), ("slip", "thread"), ("slip", "starts_bags"), ("slip", "follows"), ("slip", "deleted_at"),
        ("sample", "deleted_at"), ("brew", "version"),
    ):  # fmt: skip
        op.create_index(f"ix_{table}_{column}", table, [column])
    # Whoever was let in could do everything; displays only watched.
    op.execute("UPDATE device SET role = 'display' WHERE guest")
    with op.batch_alter_table("device") as device:
        device.drop_column("guest")
    # A new device is a barista unless it is said otherwise.
    with op.batch_alter_table("device") as device:
        device.alter_column("role", server_default=None)


def _pack(table: str, columns: tuple[str, ...]) -> None:
    """Put packed columns in the place of plain ones."""
    new = [f"{c}_packed" for c in columns]
    for name in new:
        op.add_column(table, sa.Column(name, sa.LargeBinary(), nullable=True))
    kept = sa.table(
        table, sa.column("id", sa.Integer), *(sa.column(c, sa.JSON) for c in columns),
        *(sa.column(c, sa.LargeBinary) for c in new),
    )  # fmt: skip
    for row in _rows(kept):
        values = {f"{c}_packed": pack(row[c]) for c in columns if row[c] is not None}
        if values:
            op.execute(kept.update().where(kept.c.id == row["id"]).values(values))
    with op.batch_alter_table(table) as batch:
        for column in columns:
            batch.drop_column(column)
    with op.batch_alter_table(table) as batch:
        for column in columns:
            batch.alter_column(
                f"{column}_packed", new_column_name=column, existing_type=sa.LargeBinary(), nullable=column in OPTIONAL
            )


def _rows(kept: Any) -> Iterator[Any]:
    """All rows, a few at a time."""
    last = -1
    while rows := op.get_bind().execute(
        sa.select(kept).where(kept.c.id > last).order_by(kept.c.id).limit(AT_ONCE)
    ).mappings().all():  # fmt: skip
        yield from rows
        last = rows[-1]["id"]


def _keep_logs_once() -> None:
    """Take the logs that their brews keep out of the slips' documents."""
    slip = sa.table(
        "slip", sa.column("id", sa.Integer), sa.column("brew_id", sa.Integer), sa.column("document", sa.JSON)
    )
    part = sa.table("log_part", sa.column("brew_id", sa.Integer))
    logged = set(op.get_bind().scalars(sa.select(part.c.brew_id).distinct()))
    for row in _rows(slip):
        document = row["document"]
        if row["brew_id"] in logged and document.get("brew"):
            once = {**document, "brew": {**document["brew"], "log": {}}}
            op.execute(slip.update().where(slip.c.id == row["id"]).values(document=once))


def downgrade() -> None:
    """Nothing leads back: a copy of the database from before is in the folder's backups."""
    raise NotImplementedError("restore the copy that was made before the upgrade")
