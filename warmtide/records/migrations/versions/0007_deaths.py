"""How many workers a take has cost."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("take", sa.Column("deaths", sa.Integer(), nullable=False, server_default="0"))


def downgrade() -> None:
    op.drop_column("take", "deaths")
