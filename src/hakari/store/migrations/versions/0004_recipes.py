"""Recipes kept under a name, brewers of one's own."""

import sqlalchemy as sa
from alembic import op

import hakari.store.base

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the tables."""
    op.create_table(
        "recipe",
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("recipe", sa.JSON(), nullable=False),
        sa.Column("grinder_name", sa.String(length=80), nullable=True),
        sa.Column("setting", sa.String(length=40), nullable=True),
        sa.Column("median_um", sa.Double(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", hakari.store.base.UtcDateTime(), nullable=False),
        sa.Column("deleted_at", hakari.store.base.UtcDateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recipe")),
    )
    op.create_table(
        "own_brewer",
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("base", sa.String(length=40), nullable=False),
        sa.Column("shape", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", hakari.store.base.UtcDateTime(), nullable=False),
        sa.Column("deleted_at", hakari.store.base.UtcDateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_own_brewer")),
    )


def downgrade() -> None:
    """Take them away again."""
    op.drop_table("own_brewer")
    op.drop_table("recipe")
