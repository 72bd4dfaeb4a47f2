"""where a source may change, and where each take could"""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("source", "take"):
        op.add_column(table, sa.Column("region", sa.String(length=64), nullable=True))


def downgrade() -> None:
    for table in ("take", "source"):
        op.drop_column(table, "region")
