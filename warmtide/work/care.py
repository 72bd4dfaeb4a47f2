"""What must be seen to while the program runs: lost workers, deleted work, files that nobody holds."""

import asyncio
import time
from uuid import UUID

import procrastinate
import structlog

from ..records.database import Database
from ..records.store import ImageStore
from .forget import forget_deleted, forget_files
from .queue import announce, requeue_orphans, revive_stalled

log = structlog.get_logger()
_EVERY, _FORGET_EVERY = 1.0, 3600.0
_FIRST_FORGET = 60.0


async def take_care(database: Database, queue: procrastinate.App, store: ImageStore) -> None:
    """Take up what lost workers left behind, again and again, and once an hour let go of what was deleted."""
    due = time.monotonic() + _FIRST_FORGET
    while True:
        try:
            async with database.sessions.begin() as session:
                revived = await revive_stalled(queue, session)
                orphans = await requeue_orphans(queue, session)
                if revived or orphans:
                    await announce(session, {UUID(take_id) for take_id in (*revived, *orphans)})
                    log.info("takes taken up again", stalled=len(revived), orphans=len(orphans))
            if time.monotonic() > due:
                due = time.monotonic() + _FORGET_EVERY
                async with database.sessions.begin() as session:
                    await forget_deleted(session)
                async with database.sessions() as session:
                    given = await forget_files(session, store)
                if given:
                    log.info("files let go", bytes=given)
        except Exception as error:
            log.warning("care failed", error=str(error).partition("\n")[0])
        await asyncio.sleep(_EVERY)
