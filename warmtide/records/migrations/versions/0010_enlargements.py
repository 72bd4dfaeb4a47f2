"""pictures made larger, with what they came from"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "enlargement",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("study_id", sa.Uuid(), sa.ForeignKey("study.id", ondelete="CASCADE"), nullable=False),
        sa.Column("take_id", sa.Uuid(), sa.ForeignKey("take.id", ondelete="CASCADE"), nullable=True),
        sa.Column("source_id", sa.Uuid(), sa.ForeignKey("source.id", ondelete="CASCADE"), nullable=True),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("way", sa.String(20), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("image", sa.String(64), nullable=True),
        sa.Column("preview", sa.String(64), nullable=True),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.Column("seconds", sa.Float(), nullable=True),
        sa.Column("expected", sa.Float(), nullable=False),
        sa.Column("figures", JSONB(), nullable=True),
        sa.Column("fault", sa.String(), nullable=True),
        sa.Column("deaths", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=True),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("study_id", "key", name="enlargement_once"),
    )
    op.create_index("ix_enlargement_study_id", "enlargement", ["study_id"])
    op.create_index("ix_enlargement_key", "enlargement", ["key"])


def downgrade() -> None:
    op.drop_table("enlargement")
