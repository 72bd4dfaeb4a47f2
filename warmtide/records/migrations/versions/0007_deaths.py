"""How many workers a take has cost, and how often its job was lost without its doing."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name in ("deaths", "losses"):
        op.add_column("take", sa.Column(name, sa.Integer(), nullable=False, server_default="0"))


def downgrade() -> None:
    for name in ("losses", "deaths"):
        op.drop_column("take", name)
