"""first tables"""

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    # The queue's own tables; its schema can't be applied twice.
    connection = op.get_bind()
    if connection.exec_driver_sql("select to_regclass('procrastinate_jobs')").scalar() is None:
        driver = connection.connection.driver_connection
        assert driver is not None
        driver.execute(SchemaManager.get_schema())
    op.create_table(
        "recipe",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("digest", sa.String(length=64), nullable=False),
        sa.Column("body", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("digest"),
    )
    op.create_table(
        "study",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("demo", sa.Boolean(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.Column("touched", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_study_touched"), "study", ["touched"], unique=False)
    op.create_table(
        "source",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("study_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=300), nullable=False),
        sa.Column("original", sa.String(length=64), nullable=False),
        sa.Column("format", sa.String(length=10), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("has_alpha", sa.Boolean(), nullable=False),
        sa.Column("notes", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("framing", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_source_study_id"), "source", ["study_id"], unique=False)
    op.create_table(
        "sweep",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("study_id", sa.Uuid(), nullable=False),
        sa.Column("source_id", sa.Uuid(), nullable=False),
        sa.Column("recipe_id", sa.Uuid(), nullable=False),
        sa.Column("spans", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["recipe_id"],
            ["recipe.id"],
        ),
        sa.ForeignKeyConstraint(["source_id"], ["source.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_sweep_study_id"), "sweep", ["study_id"], unique=False)
    op.create_table(
        "take",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("key", sa.String(length=64), nullable=False),
        sa.Column("source_id", sa.Uuid(), nullable=True),
        sa.Column("recipe_id", sa.Uuid(), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("engine", sa.String(length=20), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("steps", sa.Integer(), nullable=False),
        sa.Column("image", sa.String(length=64), nullable=True),
        sa.Column("preview", sa.String(length=64), nullable=True),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=True),
        sa.Column("expected", sa.Double(), nullable=False),
        sa.Column("readings", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("fault", sa.String(), nullable=True),
        sa.Column("job_id", sa.BigInteger(), nullable=True),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.Column("finished", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(
            ["recipe_id"],
            ["recipe.id"],
        ),
        sa.ForeignKeyConstraint(["source_id"], ["source.id"], ondelete="SET NULL"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("key"),
    )
    op.create_index(op.f("ix_take_source_id"), "take", ["source_id"], unique=False)
    op.create_index("take_state", "take", ["state"], unique=False)
    op.create_table(
        "cell",
        sa.Column("sweep_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("take_id", sa.Uuid(), nullable=False),
        sa.ForeignKeyConstraint(["sweep_id"], ["sweep.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(
            ["take_id"],
            ["take.id"],
        ),
        sa.PrimaryKeyConstraint("sweep_id", "position"),
    )
    op.create_index(op.f("ix_cell_take_id"), "cell", ["take_id"], unique=False)
    op.create_table(
        "mark",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("study_id", sa.Uuid(), nullable=False),
        sa.Column("take_id", sa.Uuid(), nullable=False),
        sa.Column("value", sa.String(length=10), nullable=True),
        sa.Column("note", sa.String(length=2000), nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["study_id"], ["study.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["take_id"], ["take.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("study_id", "take_id", name="mark_once"),
    )
    op.create_index(op.f("ix_mark_study_id"), "mark", ["study_id"], unique=False)


def downgrade() -> None:
    op.drop_index(op.f("ix_mark_study_id"), table_name="mark")
    op.drop_table("mark")
    op.drop_index(op.f("ix_cell_take_id"), table_name="cell")
    op.drop_table("cell")
    op.drop_index("take_state", table_name="take")
    op.drop_index(op.f("ix_take_source_id"), table_name="take")
    op.drop_table("take")
    op.drop_index(op.f("ix_sweep_study_id"), table_name="sweep")
    op.drop_table("sweep")
    op.drop_index(op.f("ix_source_study_id"), table_name="source")
    op.drop_table("source")
    op.drop_index(op.f("ix_study_touched"), table_name="study")
    op.drop_table("study")
    op.drop_table("recipe")
