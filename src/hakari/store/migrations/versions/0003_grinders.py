"""Eras with reasons, curve points with roast, basis and a switch, settings that are equals, a user's own windows."""

from typing import Any

import sqlalchemy as sa
from alembic import op

import hakari.store.base

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def _kept() -> list[sa.Column[Any]]:
    return [
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", hakari.store.base.UtcDateTime(), nullable=False),
        sa.Column("deleted_at", hakari.store.base.UtcDateTime(), nullable=True),
    ]


def upgrade() -> None:
    """Add the tables and the columns."""
    op.add_column("grinder", sa.Column("step_travel_um", sa.Double(), nullable=True))
    op.add_column("era", sa.Column("reason", sa.String(length=20), nullable=False, server_default=""))
    op.add_column("curve_point", sa.Column("roast", sa.String(length=20), nullable=True))
    op.add_column("curve_point", sa.Column("basis", sa.String(length=10), nullable=False, server_default="photo"))
    op.add_column("curve_point", sa.Column("used", sa.Boolean(), nullable=False, server_default=sa.true()))
    op.execute("UPDATE curve_point SET basis = 'typed' WHERE sample_id IS NULL")
    op.create_table(
        "equal",
        sa.Column("era_a_id", sa.Integer(), nullable=False),
        sa.Column("setting_a", sa.String(length=40), nullable=False),
        sa.Column("era_b_id", sa.Integer(), nullable=False),
        sa.Column("setting_b", sa.String(length=40), nullable=False),
        *_kept(),
        sa.ForeignKeyConstraint(["era_a_id"], ["era.id"], name=op.f("fk_equal_era_a_id_era")),
        sa.ForeignKeyConstraint(["era_b_id"], ["era.id"], name=op.f("fk_equal_era_b_id_era")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_equal")),
    )
    op.create_index(op.f("ix_equal_era_a_id"), "equal", ["era_a_id"])
    op.create_index(op.f("ix_equal_era_b_id"), "equal", ["era_b_id"])
    op.create_table(
        "own_window",
        sa.Column("label", sa.String(length=80), nullable=False),
        sa.Column("low_um", sa.Double(), nullable=False),
        sa.Column("high_um", sa.Double(), nullable=False),
        *_kept(),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_own_window")),
        sa.UniqueConstraint("label", name=op.f("uq_own_window_label")),
    )


def downgrade() -> None:
    """Take them away again."""
    op.drop_table("own_window")
    op.drop_table("equal")
    for column in ("used", "basis", "roast"):
        op.drop_column("curve_point", column)
    op.drop_column("era", "reason")
    op.drop_column("grinder", "step_travel_um")
