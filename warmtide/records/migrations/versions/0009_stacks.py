"""touched pictures: their layers, with every version of them"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "stack",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("study_id", sa.Uuid(), sa.ForeignKey("study.id", ondelete="CASCADE"), nullable=False),
        sa.Column("name", sa.String(300), nullable=False),
        sa.Column("parents", JSONB(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_stack_study_id", "stack", ["study_id"])
    op.create_table(
        "stack_version",
        sa.Column("stack_id", sa.Uuid(), sa.ForeignKey("stack.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("number", sa.Integer(), primary_key=True),
        sa.Column("body", JSONB(), nullable=False),
        sa.Column("files", JSONB(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
    )
    op.add_column("source", sa.Column("stack_id", sa.Uuid(), nullable=True))
    op.create_foreign_key("source_stack_id_fkey", "source", "stack", ["stack_id"], ["id"], ondelete="SET NULL")


def downgrade() -> None:
    op.drop_constraint("source_stack_id_fkey", "source")
    op.drop_column("source", "stack_id")
    op.drop_table("stack_version")
    op.drop_table("stack")
