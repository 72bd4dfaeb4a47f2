"""Whether a database is there and has the newest tables. Cheap: loading the migration tool takes a second."""

import time
from pathlib import Path

import psycopg

from . import queue_tables


class DatabaseAway(RuntimeError):
    """The database does not answer, or its tables are older than the program."""


_VERSIONS = Path(__file__).parent / "migrations" / "versions"


def newest_version() -> str:
    """The version that the code needs."""
    return max(path.name.split("_")[0] for path in _VERSIONS.glob("[0-9]*_*.py"))


def is_current(address: str) -> bool:
    """Whether every migration has run. Raises `psycopg.OperationalError` when nobody answers."""
    with psycopg.connect(address, connect_timeout=5) as connection:
        table = connection.execute("select to_regclass('alembic_version')").fetchone()
        if not table or table[0] is None:
            return False
        row = connection.execute("select version_num from alembic_version").fetchone()
        return row is not None and row[0] == newest_version()


def forget_workers(address: str) -> None:
    """Take every worker for gone, and put back what they were doing, which is not to blame for it: true right after the
    database was started, whatever its clock says of their last word."""
    with psycopg.connect(address, connect_timeout=5) as connection:
        queue_tables.forget_workers(connection)
        connection.execute("update take set state = 'queued', step = 0 where state = 'running'")


def wait_until_current(address: str, seconds: float) -> None:
    """Come back when the database answers and is current, or raise DatabaseAway with one sentence.

    The server loads while the database starts, and workers on other machines may be early too.
    """
    deadline = time.monotonic() + seconds
    while True:
        try:
            if is_current(address):
                return
            why = "has older tables; ./start brings them up to date"
        except psycopg.OperationalError:
            why = "does not answer"
        if time.monotonic() > deadline:
            raise DatabaseAway(f"The database {why}.")
        time.sleep(0.1)
