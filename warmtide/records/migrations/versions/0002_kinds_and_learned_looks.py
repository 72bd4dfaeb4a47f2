"""what kind of picture a source is, its depth guide, and learned looks"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("source", sa.Column("kind", sa.String(length=10), nullable=False, server_default="photo"))
    op.add_column("source", sa.Column("people", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.add_column("source", sa.Column("depth", sa.String(length=64), nullable=True))
    op.add_column("source", sa.Column("parents", postgresql.JSONB(), nullable=False, server_default="[]"))
    op.alter_column("source", "kind", server_default=None)
    op.alter_column("source", "parents", server_default=None)
    op.alter_column("source", "people", server_default=None)
    op.add_column("take", sa.Column("framing", postgresql.JSONB(), nullable=True))
    op.create_table(
        "learned_look",
        sa.Column("name", sa.String(length=20), nullable=False),
        sa.Column("title", sa.String(length=80), nullable=False),
        sa.Column("file", sa.String(length=64), nullable=False),
        sa.Column("references", sa.Integer(), nullable=False),
        sa.Column("colours", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("name"),
    )


def downgrade() -> None:
    op.drop_table("learned_look")
    op.drop_column("take", "framing")
    op.drop_column("source", "parents")
    op.drop_column("source", "depth")
    op.drop_column("source", "people")
    op.drop_column("source", "kind")
