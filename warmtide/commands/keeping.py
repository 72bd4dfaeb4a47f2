"""What is kept, from the command line, whether the program is running or not."""

import asyncio
import os
import uuid
from collections.abc import Awaitable, Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from ..core.model.errors import BadInput

if TYPE_CHECKING:
    from ..records.database import Database
    from ..records.store import ImageStore

Result = TypeVar("Result")


def reread(study: str, everything: bool, data: Path | None) -> None:
    """Read takes again, on the running program's database or one that is started for it."""
    from ..work.reread import reread as read_again

    try:
        wanted = uuid.UUID(study) if study else None
    except ValueError:
        raise BadInput(f"A study has a number like {uuid.UUID(int=1)}; {study!r} is none.") from None
    with kept_in(data) as kept:
        done, failed = asyncio.run(kept.do(lambda database, store: read_again(database, store, wanted, everything)))
    left = f", {failed} could not be read since their source is gone" if failed else ""
    print(f"{done} takes read again{left}")


def check(repair: bool, data: Path | None) -> None:
    """Verify every file that is kept; with `repair` mend what can be."""
    from ..records.database import Database
    from ..records.store import ImageStore
    from ..work.check import Report, refuse_lost, told
    from ..work.check import check as check_all
    from ..work.queue import make_app
    from .files import say

    with kept_in(data) as kept:

        async def work(database: Database, store: ImageStore) -> Report:
            if not repair:
                return await check_all(database, store, None, say)
            queue = make_app(database.address)
            async with queue.open_async():
                return await check_all(database, store, queue, say)

        report = asyncio.run(kept.do(work))
    print(told(report, repair))
    refuse_lost(report)


class _Kept:
    """The database and the store of a data folder."""

    def __init__(self, address: str, folder: Path) -> None:
        self.address, self.folder = address, folder

    async def do(self, work: "Callable[[Database, ImageStore], Awaitable[Result]]") -> Result:
        from ..records.database import Database
        from ..records.store import ImageStore
        from ..settings import settings

        database = Database(self.address)
        given = os.environ.get("WARMTIDE_STORE")
        try:
            return await work(database, ImageStore(settings().store_at if given else str(self.folder / "images")))
        finally:
            await database.close()


@contextmanager
def kept_in(data: Path | None) -> Iterator[_Kept]:
    """What a data folder holds: of the running program, or of a database that is started for it."""
    from ..launch.postgres import Postgres
    from ..launch.refusal import Refusal
    from ..settings import ROOT

    folder = data or ROOT / ".data"
    if not folder.is_dir():
        raise BadInput(f"There is no data folder {folder}; name it with --data.")
    server = Postgres(folder)
    try:
        if not server.is_made():
            raise BadInput(f"{folder} holds no database; name the data folder with --data.")
        running = server.running()
        address = running or server.start()
    except Refusal as error:
        raise BadInput(str(error)) from None
    try:
        yield _Kept(address, folder)
    finally:
        if running is None:
            server.stop()
