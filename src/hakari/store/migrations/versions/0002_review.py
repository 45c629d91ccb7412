"""Corrections of a sample's grounds, what each photo's measuring said, and where a sample comes from."""

import sqlalchemy as sa
from alembic import op

import hakari.store.base

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
        sa.Column("created_at", hakari.store.base.UtcDateTime(), nullable=False),
        sa.Column("deleted_at", hakari.store.base.UtcDateTime(), nullable=True),
        sa.ForeignKeyConstraint(["sample_id"], ["sample.id"], name=op.f("fk_edit_sample_id_sample")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_edit")),
    )
    op.create_index(op.f("ix_edit_sample_id"), "edit", ["sample_id"])
    op.add_column("photo", sa.Column("details", sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("sample", sa.Column("source", sa.String(length=10), nullable=False, server_default="photo"))
    _complete_measurements()


def _complete_measurements() -> None:
    """Say of samples measured before what their documents now say: a verdict, and how sure the median is."""
    sample = sa.table("sample", sa.column("id", sa.Integer), sa.column("measurement", sa.JSON))
    rows = op.get_bind().execute(sa.select(sample.c.id, sample.c.measurement)).all()
    for identity, measurement in rows:
        worst = next((f for s in ("problem", "warning") for f in measurement["findings"] if f["severity"] == s), None)
        level = "good" if worst is None else "retake" if worst["severity"] == "problem" else "usable"
        low, high = measurement["ci95"]["d50_um"]
        verdict = {"level": level, "reason": worst["message"] if worst else "Nothing to mend."}
        enough = {"half_width": (high / low) ** 0.5 - 1, "wanted": 0.02, "more_photos": None}
        told = {**measurement, "verdict": verdict, "enough": enough, "between": None}
        op.execute(sample.update().where(sample.c.id == identity).values(measurement=told))


def downgrade() -> None:
    """Take them away again."""
    # In place: making the tables anew would break what refers to them.
    op.drop_column("sample", "source")
    op.drop_column("photo", "details")
    op.drop_index(op.f("ix_edit_sample_id"), "edit")
    op.drop_table("edit")
