"""What is done behind everybody's back after a start: takes that fill in, and kernels that are missing.

`python -m warmtide.work.behind K/N` does its share and ends. It runs only when nothing else wants the processor
(`launch.child`), so that an artist who is there already never waits for it.
"""

import asyncio
import sys

import psycopg

from ..log import configure
from ..records.current import wait_until_current
from ..settings import settings
from .queue import LATER
from .warm import is_whole, warm


def _waiting(address: str) -> bool:
    with psycopg.connect(address, connect_timeout=5) as connection:
        found = connection.execute(
            "select exists (select from procrastinate_jobs where queue_name = %s and status = 'todo')", (LATER,)
        ).fetchone()
        return bool(found and found[0])


def run(share: int, of: int) -> None:
    """Render what waits, compiling what that needs; one of several processes compiles its share of the kernels first."""
    address = settings().database
    wait_until_current(address, 60)
    for do in (_compile, _render) if share else (_render, _compile):
        do(address, share, of)


def _compile(_address: str, share: int, of: int) -> None:
    if not is_whole(f"{share}-{of}"):
        warm(share, of)


def _render(address: str, _share: int, _of: int) -> None:
    if _waiting(address):
        from .worker import work

        asyncio.run(work(LATER, until_empty=True))


if __name__ == "__main__":
    configure()
    run(*(int(number) for number in sys.argv[1].split("/")))
