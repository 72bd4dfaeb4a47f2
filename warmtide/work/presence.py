"""Who works where: every process that renders says now and then that it is there, and what it does."""

import asyncio
import os
import socket
import uuid
from datetime import UTC, datetime

import structlog
from sqlalchemy import delete, update
from sqlalchemy.exc import SQLAlchemyError

from ..core.model.recipe import ENGINE_VERSION
from ..records.database import Database
from ..records.models import WorkerRow

# A worker says so every few seconds; one that has not for longer than `GONE` is gone.
EVERY, GONE = 3.0, 12.0
log = structlog.get_logger()


class Presence:
    """What one process tells of itself in the table of workers."""

    def __init__(self, database: Database, does: str) -> None:
        self._database, self._does = database, does
        self.id = uuid.uuid4()
        self._takes: list[uuid.UUID] = []
        self._done = self._failed = 0
        self._seconds = 0.0

    def begin(self, take_id: uuid.UUID) -> None:
        """A take is begun."""
        self._takes.append(take_id)

    def end(self, take_id: uuid.UUID, seconds: float | None) -> None:
        """A take is over, done in so many seconds or not done."""
        if take_id in self._takes:
            self._takes.remove(take_id)
        self._done += seconds is not None
        self._failed += seconds is None
        self._seconds += seconds or 0.0

    async def keep(self) -> None:
        """Say so for ever; a database that is away hears of it later."""
        while True:
            try:
                await self._say()
            except (SQLAlchemyError, OSError) as error:
                log.info("presence not told", error=str(error).partition("\n")[0])
            await asyncio.sleep(EVERY)

    async def _say(self) -> None:
        values = {
            "take_id": self._takes[0] if self._takes else None, "done": self._done, "failed": self._failed,
            "seconds": round(self._seconds, 2), "seen": datetime.now(UTC),
        }  # fmt: skip
        async with self._database.sessions.begin() as session:
            found = await session.execute(
                update(WorkerRow).where(WorkerRow.id == self.id).values(**values).returning(WorkerRow.id)
            )
            if found.scalar() is None:
                session.add(
                    WorkerRow(
                        id=self.id,
                        host=socket.gethostname()[:200],
                        pid=os.getpid(),
                        engine=ENGINE_VERSION,
                        does=self._does,
                        **values,
                    )
                )

    async def leave(self) -> None:
        """Take the process out of the table; if that can't be told, others see that it is gone."""
        try:
            async with self._database.sessions.begin() as session:
                await session.execute(delete(WorkerRow).where(WorkerRow.id == self.id))
        except (SQLAlchemyError, OSError):
            return
