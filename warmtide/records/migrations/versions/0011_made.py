"""how a source was made of others"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("source", sa.Column("made", JSONB(), nullable=True))


def downgrade() -> None:
    op.drop_column("source", "made")
