"""other engines, and who works where"""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

# The version of the built-in engine when queues were given its name.
_ENGINE = "16"


def upgrade() -> None:
    op.alter_column("take", "engine", type_=sa.String(90))
    op.execute("""update recipe set body = body || '{"engine": "built-in"}'""")
    for queue in ("takes", "later"):
        op.execute(f"update procrastinate_jobs set queue_name = '{queue}-{_ENGINE}' where queue_name = '{queue}'")
    op.create_table(
        "worker",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("host", sa.String(200), nullable=False),
        sa.Column("pid", sa.Integer(), nullable=False),
        sa.Column("engine", sa.String(90), nullable=False),
        sa.Column("does", sa.String(90), nullable=False),
        sa.Column("take_id", sa.Uuid(), nullable=True),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("failed", sa.Integer(), nullable=False),
        sa.Column("seconds", sa.Float(), nullable=False),
        sa.Column("began", sa.DateTime(timezone=True), nullable=False),
        sa.Column("seen", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("worker")
    op.execute("update recipe set body = body - 'engine'")
    op.alter_column("take", "engine", type_=sa.String(20))
