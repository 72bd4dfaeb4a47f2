"""faces that the artist marked, and those that each take was planned with"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("source", "take"):
        op.add_column(table, sa.Column("faces", postgresql.JSONB(), nullable=True))


def downgrade() -> None:
    for table in ("take", "source"):
        op.drop_column(table, "faces")
