"""Alembic's entry: always online, on the address that `migrate` gives."""

from alembic import context
from sqlalchemy import create_engine, pool

from warmtide.records.models import Base


def _ours(name: str | None, kind: str, parents: object) -> bool:
    """The queue keeps its own tables in the same database; they are not ours to drop."""
    return not (kind == "table" and (name or "").startswith("procrastinate_"))


engine = create_engine(context.config.get_main_option("sqlalchemy.url") or "", poolclass=pool.NullPool)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, include_name=_ours)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
