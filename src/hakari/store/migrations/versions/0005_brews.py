"""Brews that are followed: their clock, marks, notes, scale, log and what it told; bags and rest of coffees."""

import sqlalchemy as sa
from alembic import op

import hakari.store.base

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

UTC = hakari.store.base.UtcDateTime


def upgrade() -> None:
    """Add them."""
    with op.batch_alter_table("brew") as brew:
        brew.add_column(sa.Column("closed_at", UTC(), nullable=True))
        brew.add_column(sa.Column("speed", sa.Double(), nullable=False, server_default="1"))
        brew.add_column(sa.Column("dose_g", sa.Double(), nullable=True))
        brew.add_column(sa.Column("weighed_after", sa.Integer(), nullable=False, server_default="0"))
        brew.add_column(sa.Column("marks", sa.JSON(), nullable=False, server_default="[]"))
        brew.add_column(sa.Column("notes", sa.JSON(), nullable=False, server_default="[]"))
        brew.add_column(sa.Column("scale", sa.JSON(), nullable=True))
        brew.add_column(sa.Column("found", sa.JSON(), nullable=True))
        brew.add_column(sa.Column("bare_bed_by", sa.String(length=10), nullable=True))
        brew.add_column(sa.Column("in_fit", sa.Boolean(), nullable=False, server_default=sa.true()))
        brew.add_column(sa.Column("bed_photo", sa.String(length=64), nullable=True))
    with op.batch_alter_table("coffee") as coffee:
        coffee.add_column(sa.Column("bag_g", sa.Double(), nullable=True))
        coffee.add_column(sa.Column("rest_school", sa.String(length=20), nullable=False, server_default="second-day"))
    with op.batch_alter_table("bench") as bench:
        bench.add_column(sa.Column("scale", sa.String(length=20), nullable=False, server_default="none"))
        bench.add_column(sa.Column("own_target", sa.JSON(), nullable=True))
        bench.add_column(sa.Column("learns_after", sa.Integer(), nullable=False, server_default="0"))
    op.create_table(
        "log_part",
        sa.Column("brew_id", sa.Integer(), nullable=False),
        sa.Column("standing", sa.String(length=10), nullable=False),
        sa.Column("readings", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", UTC(), nullable=False),
        sa.Column("deleted_at", UTC(), nullable=True),
        sa.ForeignKeyConstraint(["brew_id"], ["brew.id"], name=op.f("fk_log_part_brew_id_brew")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_log_part")),
    )
    op.create_index(op.f("ix_log_part_brew_id"), "log_part", ["brew_id"])


def downgrade() -> None:
    """Take them away again."""
    op.drop_table("log_part")
    with op.batch_alter_table("coffee") as coffee:
        coffee.drop_column("bag_g")
        coffee.drop_column("rest_school")
    with op.batch_alter_table("bench") as bench:
        bench.drop_column("scale")
        bench.drop_column("learns_after")
        bench.drop_column("own_target")
    with op.batch_alter_table("brew") as brew:
        for name in (
            "closed_at", "speed", "dose_g", "weighed_after", "marks", "notes", "scale", "found", "bare_bed_by", "in_fit",
            "bed_photo",
        ):  # fmt: skip
            brew.drop_column(name)
