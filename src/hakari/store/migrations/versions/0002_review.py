"""Corrections of a sample's grounds, what each photo's measuring said, and where a sample comes from."""

import sqlalchemy as sa
from alembic import op

import hakari.store.models

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the table and the columns."""
    op.create_table(
        "edit",
        sa.Column("sample_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=10), nullable=False),
        sa.Column("photo", sa.Integer(), nullable=False),
        sa.Column("grounds", sa.JSON(), nullable=False),
        sa.Column("drawn_px", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", hakari.store.models.UtcDateTime(), nullable=False),
        sa.Column("deleted_at", hakari.store.models.UtcDateTime(), nullable=True),
        sa.ForeignKeyConstraint(["sample_id"], ["sample.id"], name=op.f("fk_edit_sample_id_sample")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_edit")),
    )
    op.create_index(op.f("ix_edit_sample_id"), "edit", ["sample_id"])
    with op.batch_alter_table("photo") as batch:
        batch.add_column(sa.Column("details", sa.JSON(), nullable=False, server_default="{}"))
    with op.batch_alter_table("sample") as batch:
        batch.add_column(sa.Column("source", sa.String(length=10), nullable=False, server_default="photo"))


def downgrade() -> None:
    """Take them away again."""
    with op.batch_alter_table("sample") as batch:
        batch.drop_column("source")
    with op.batch_alter_table("photo") as batch:
        batch.drop_column("details")
    op.drop_index(op.f("ix_edit_sample_id"), "edit")
    op.drop_table("edit")
