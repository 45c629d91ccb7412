"""leases: what one of several servers does alone"""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "lease",
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("holder", sa.String(length=40), nullable=False),
        sa.Column("until", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_lease")),
    )


def downgrade() -> None:
    op.drop_table("lease")
