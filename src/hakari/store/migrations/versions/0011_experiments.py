"""Experiments at the bench, and answers of drills."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def _record() -> list[sa.Column[Any]]:
    return [
        sa.Column("id", sa.Integer(), nullable=False), sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False), sa.Column("deleted_at", sa.DateTime(), nullable=True),
    ]  # fmt: skip


def upgrade() -> None:
    """Make both tables."""
    op.create_table(
        "experiment", *_record(),
        sa.Column("name", sa.String(80), nullable=False), sa.Column("note", sa.String(600), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False), sa.Column("alone", sa.Boolean(), nullable=False),
        sa.Column("blind_seed", sa.String(40), nullable=True), sa.Column("sheets", sa.JSON(), nullable=False),
        sa.Column("finished_at", sa.DateTime(), nullable=True),
        sa.Column("coffee_id", sa.Integer(), nullable=True), sa.Column("grinder_id", sa.Integer(), nullable=True),
        sa.Column("plan_id", sa.Integer(), nullable=True), sa.Column("other_plan_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["coffee_id"], ["coffee.id"], name="fk_experiment_coffee_id_coffee"),
        sa.ForeignKeyConstraint(["grinder_id"], ["grinder.id"], name="fk_experiment_grinder_id_grinder"),
        sa.ForeignKeyConstraint(["plan_id"], ["plan.id"], name="fk_experiment_plan_id_plan"),
        sa.ForeignKeyConstraint(["other_plan_id"], ["plan.id"], name="fk_experiment_other_plan_id_plan"),
        sa.PrimaryKeyConstraint("id", name="pk_experiment"),
    )  # fmt: skip
    op.create_table(
        "drill_answer", *_record(),
        sa.Column("drill", sa.String(20), nullable=False), sa.Column("item", sa.String(80), nullable=False),
        sa.Column("value", sa.Double(), nullable=False), sa.Column("truth", sa.Double(), nullable=False),
        sa.Column("well", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_drill_answer"),
    )  # fmt: skip
    op.create_index("ix_drill_answer_drill", "drill_answer", ["drill"])


def downgrade() -> None:
    """Drop both tables."""
    op.drop_table("drill_answer")
    op.drop_table("experiment")
