"""Displays that only watch the brew."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Tell them from devices that may do everything."""
    op.add_column("device", sa.Column("guest", sa.Boolean(), nullable=False, server_default=sa.false()))


def downgrade() -> None:
    """Shut them out and forget the difference."""
    op.execute("DELETE FROM device WHERE guest")
    op.drop_column("device", "guest")
