"""What is kept, from the command line, whether the program is running or not."""

import asyncio
import uuid
from pathlib import Path

from ..core.errors import BadInput


def reread(study: str, everything: bool, data: Path | None) -> None:
    """Read takes again, on the running program's database or one that is started for it."""
    from ..launch.postgres import Postgres
    from ..records.database import Database
    from ..records.store import ImageStore
    from ..settings import ROOT
    from ..work.reread import reread as read_again

    try:
        wanted = uuid.UUID(study) if study else None
    except ValueError:
        raise BadInput(f"A study has a number like {uuid.UUID(int=1)}; {study!r} is none.") from None
    folder = data or ROOT / ".data"
    if not folder.is_dir():
        raise BadInput(f"There is no data folder {folder}; name it with --data.")
    server = Postgres(folder)
    running = server.running() if server.is_made() else None
    if running is None and not server.is_made():
        raise BadInput(f"{folder} holds no database; name the data folder with --data.")

    async def run(address: str) -> tuple[int, int]:
        database = Database(address)
        try:
            return await read_again(database, ImageStore(str(folder / "images")), wanted, everything)
        finally:
            await database.close()

    try:
        done, failed = asyncio.run(run(running or server.start()))
    finally:
        if running is None:
            server.stop()
    left = f", {failed} could not be read since their source is gone" if failed else ""
    print(f"{done} takes read again{left}")
