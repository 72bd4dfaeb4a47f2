"""Events from the database's notifications to the browsers' event streams."""

import asyncio
import json
from collections import OrderedDict
from collections.abc import AsyncIterator
from typing import Any
from uuid import UUID

import psycopg
import structlog
from fastapi import APIRouter, Request
from fastapi.sse import EventSourceResponse, ServerSentEvent
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import selectinload

from ..records.database import Database
from ..records.models import Take
from ..records.views import studies_of, take_view
from ..work.queue import CHANNEL

log = structlog.get_logger()
router = APIRouter(tags=["events"])
_WAITING = 500
_RETRY_SECONDS = 1.0
_REMEMBERED = 1000


class Events:
    """Listens on one connection and hands every event to the streams of its studies.

    A notice names a take and nothing else, since the database passes on 8 KB at most; what the take has become is read
    here, once for all streams.
    """

    def __init__(self, database: Database) -> None:
        self._database = database
        self._streams: dict[str, set[asyncio.Queue[dict[str, Any] | None]]] = {}
        # Studies of takes that are under way, so that progress need not ask.
        self._known: OrderedDict[str, list[str]] = OrderedDict()

    async def listen(self) -> None:
        """Pass events on until cancelled; after a lost connection every stream is told to read afresh."""
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self._database.address, autocommit=True) as connection:
                    await connection.execute(f"listen {CHANNEL}")
                    self.afresh()
                    async for notice in connection.notifies():
                        await self._read(json.loads(notice.payload))
            except (psycopg.Error, SQLAlchemyError, OSError) as error:
                log.warning("event connection lost", error=str(error).partition("\n")[0])
                await asyncio.sleep(_RETRY_SECONDS)

    def afresh(self) -> None:
        """Tell everybody to read everything again."""
        for study in list(self._streams):
            self.hand_on([study], {"event": "afresh"})

    async def _read(self, notice: dict[str, Any]) -> None:
        if not self._streams:
            return
        if "enlargement" in notice:
            self.hand_on([notice.pop("study")], {"event": "enlargement", **notice})
            return
        take_id = notice.pop("take")
        if notice:
            if take_id not in self._known:
                async with self._database.sessions() as session:
                    self._remember(take_id, await studies_of(session, UUID(take_id)))
            take = {"id": take_id, "step": int(notice["step"]), "steps": int(notice["steps"])}
            self.hand_on(self._known[take_id], {"event": "progress", "take": take, "elapsed": notice["elapsed"]})
            return
        async with self._database.sessions() as session:
            studies = await studies_of(session, UUID(take_id))
            take_row = await session.get(Take, UUID(take_id), options=[selectinload(Take.recipe)])
        self._remember(take_id, studies)
        if take_row is not None:
            self.hand_on(studies, {"event": "take", "take": take_view(take_row)})

    def _remember(self, take_id: str, studies: list[str]) -> None:
        self._known[take_id] = studies
        self._known.move_to_end(take_id)
        while len(self._known) > _REMEMBERED:
            self._known.popitem(last=False)

    def hand_on(self, studies: list[str], event: dict[str, Any]) -> None:
        """Put an event into the streams of some studies."""
        for study in studies:
            for stream in self._streams.get(study, ()):
                if stream.full():
                    # A browser that fell behind reads everything afresh instead of half of it.
                    while not stream.empty():
                        stream.get_nowait()
                    stream.put_nowait({"event": "afresh"})
                else:
                    stream.put_nowait(event)

    async def stream(self, study: str) -> AsyncIterator[dict[str, Any]]:
        """Events of one study."""
        queue: asyncio.Queue[dict[str, Any] | None] = asyncio.Queue(_WAITING)
        self._streams.setdefault(study, set()).add(queue)
        try:
            while (event := await queue.get()) is not None:
                yield event
        finally:
            self._streams[study].discard(queue)
            if not self._streams[study]:
                del self._streams[study]

    def close(self) -> None:
        """End every stream, so that a shutdown does not wait for browsers."""
        for streams in self._streams.values():
            for stream in streams:
                while stream.full():
                    stream.get_nowait()
                stream.put_nowait(None)


@router.get("/studies/{study_id}/events", response_class=EventSourceResponse)
async def study_events(study_id: str, request: Request) -> AsyncIterator[ServerSentEvent]:
    """`take` (a take changed), `progress` (steps done), `enlargement` (one changed, or how far it is), `afresh` (read the study again)."""
    events: Events = request.app.state.services.events
    yield ServerSentEvent(event="hello", data={})
    async for event in events.stream(study_id):
        yield ServerSentEvent(event=event["event"], data={k: v for k, v in event.items() if k != "event"})
