"""walls: how what was kept hangs"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "wall",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("study_id", sa.Uuid(), sa.ForeignKey("study.id", ondelete="CASCADE"), nullable=True),
        sa.Column("body", JSONB(), nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("study_id", name="wall_once", postgresql_nulls_not_distinct=True),
    )


def downgrade() -> None:
    op.drop_table("wall")
