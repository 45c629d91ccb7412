"""Drafts of the stations, a row a device and station; photos that are being measured."""

import sqlalchemy as sa
from alembic import op

import hakari.store.base

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

UTC = hakari.store.base.UtcDateTime


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
    op.create_table(
        "measurement_job",
        sa.Column("ordered", sa.JSON(), nullable=False),
        sa.Column("photos", sa.JSON(), nullable=False),
        sa.Column("finished", sa.Boolean(), nullable=False),
        sa.Column("sample_id", sa.Integer(), nullable=True),
        sa.Column("error", sa.JSON(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", UTC(), nullable=False),
        sa.Column("deleted_at", UTC(), nullable=True),
        sa.ForeignKeyConstraint(["sample_id"], ["sample.id"], name=op.f("fk_measurement_job_sample_id_sample")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_measurement_job")),
    )


def downgrade() -> None:
    """Take them away again."""
    op.drop_table("measurement_job")
    op.drop_table("draft")
