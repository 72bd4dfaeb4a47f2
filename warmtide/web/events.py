"""Events from the database's notifications to the browsers' event streams."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

import psycopg
import structlog
from fastapi import APIRouter, Request
from fastapi.sse import EventSourceResponse, ServerSentEvent

from ..work.queue import CHANNEL

log = structlog.get_logger()
router = APIRouter(tags=["events"])
_WAITING = 500
_RETRY_SECONDS = 1.0


class Events:
    """Listens on one connection and hands every event to the streams of its studies."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._streams: dict[str, set[asyncio.Queue[dict[str, Any] | None]]] = {}

    async def listen(self) -> None:
        """Pass events on until cancelled; after a lost connection every stream is told to read afresh."""
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self._address, autocommit=True) as connection:
                    await connection.execute(f"listen {CHANNEL}")
                    self.hand_on({"event": "afresh", "studies": list(self._streams)})
                    async for notice in connection.notifies():
                        self.hand_on(json.loads(notice.payload))
            except (psycopg.Error, OSError) as error:
                log.warning("event connection lost", error=str(error))
                await asyncio.sleep(_RETRY_SECONDS)

    def hand_on(self, event: dict[str, Any]) -> None:
        for study in event.pop("studies", []):
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
    """`take` (a take changed), `progress` (steps done), `afresh` (read the study again)."""
    events: Events = request.app.state.services.events
    yield ServerSentEvent(event="hello", data={})
    async for event in events.stream(study_id):
        yield ServerSentEvent(event=event["event"], data={k: v for k, v in event.items() if k != "event"})
