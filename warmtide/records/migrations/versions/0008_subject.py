"""what the artist painted into the subject of a source and out of it, and what each take was planned with"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("source", "take"):
        op.add_column(table, sa.Column("subject", sa.String(64), nullable=True))


def downgrade() -> None:
    for table in ("take", "source"):
        op.drop_column(table, "subject")
