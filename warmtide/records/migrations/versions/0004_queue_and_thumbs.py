"""small pictures for large sheets, order and pause of the queue, deletions that can be taken back"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("take", sa.Column("thumb", sa.String(length=64), nullable=True))
    op.add_column("sweep", sa.Column("paused", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.add_column("sweep", sa.Column("stopped", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.add_column("sweep", sa.Column("rank", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("sweep", sa.Column("deleted", sa.DateTime(timezone=True), nullable=True))
    op.add_column("study", sa.Column("deleted", sa.DateTime(timezone=True), nullable=True))


def downgrade() -> None:
    op.drop_column("study", "deleted")
    op.drop_column("sweep", "deleted")
    op.drop_column("sweep", "rank")
    op.drop_column("sweep", "stopped")
    op.drop_column("sweep", "paused")
    op.drop_column("take", "thumb")
