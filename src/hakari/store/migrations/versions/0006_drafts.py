"""Drafts of the stations, a row a device and station."""

import sqlalchemy as sa
from alembic import op

import hakari.store.models

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

UTC = hakari.store.models.UtcDateTime


def upgrade() -> None:
    """Add them."""
    op.create_table(
        "draft",
        sa.Column("device", sa.String(length=40), nullable=False),
        sa.Column("station", sa.String(length=10), nullable=False),
        sa.Column("about", sa.String(length=80), nullable=False),
        sa.Column("fields", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", UTC(), nullable=False),
        sa.Column("deleted_at", UTC(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_draft")),
        sa.UniqueConstraint("device", "station", name=op.f("uq_draft_device")),
    )


def downgrade() -> None:
    """Take them away again."""
    op.drop_table("draft")
