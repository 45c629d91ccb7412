"""Counters: what is being worked on has a row for each."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Name the bench that there is."""
    op.add_column("bench", sa.Column("name", sa.String(length=40), nullable=False, server_default="bar"))


def downgrade() -> None:
    """Take the name away again; further counters stay as rows without one."""
    op.drop_column("bench", "name")
