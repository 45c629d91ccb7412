"""The units that people read and type."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add them; grams and °C as before."""
    with op.batch_alter_table("bench") as bench:
        bench.add_column(sa.Column("mass_unit", sa.String(length=4), nullable=False, server_default="g"))
        bench.add_column(sa.Column("temperature_unit", sa.String(length=4), nullable=False, server_default="C"))


def downgrade() -> None:
    """Take them away again."""
    with op.batch_alter_table("bench") as bench:
        bench.drop_column("temperature_unit")
        bench.drop_column("mass_unit")
