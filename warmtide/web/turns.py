"""Places that are taken one after another, by so many at most who wait for so long at most."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from .faults import Busy


class Turns:
    """So many `places` at once. Whoever comes when `most` wait already, or has waited for `seconds`, is told `full`."""

    def __init__(self, places: int, most: int, seconds: float, full: str) -> None:
        self._places = asyncio.Semaphore(places)
        self._most, self._seconds, self._full = most, seconds, full
        self.waiting = 0

    @asynccontextmanager
    async def taken(self) -> AsyncIterator[None]:
        """A place, once it is free.

        Raises
        ------
        Busy : too many wait, or it took too long.
        """
        if self.waiting >= self._most:
            raise Busy(self._full)
        self.waiting += 1
        try:
            async with asyncio.timeout(self._seconds):
                await self._places.acquire()
        except TimeoutError:
            raise Busy(self._full) from None
        finally:
            self.waiting -= 1
        try:
            yield
        finally:
            self._places.release()

    @asynccontextmanager
    async def behind(self) -> AsyncIterator[None]:
        """A place without an end to the waiting, for what nobody looks for."""
        async with self._places:
            yield
