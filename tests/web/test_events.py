"""The fan-out of events to browsers, without a database."""

import asyncio
import unittest
from typing import Any

from warmtide.records.database import Database
from warmtide.web.events import Events


class FanOut(unittest.IsolatedAsyncioTestCase):
    async def asyncSetUp(self) -> None:
        self.events = Events(Database("postgresql://nowhere"))

    async def begin(self, study: str) -> tuple[Any, "asyncio.Task[dict[str, Any]]"]:
        """A stream that waits for its first event."""
        stream = self.events.stream(study)
        first = asyncio.ensure_future(anext(stream))
        await asyncio.sleep(0)
        return stream, first

    async def test_each_stream_hears_of_its_own_study(self) -> None:
        _, here = await self.begin("a")
        _, twice = await self.begin("a")
        _, there = await self.begin("b")
        self.events.hand_on(["a"], {"event": "take", "take": {"id": "1"}})
        self.assertEqual(await here, {"event": "take", "take": {"id": "1"}})
        self.assertEqual(await twice, {"event": "take", "take": {"id": "1"}})
        await asyncio.sleep(0)
        self.assertFalse(there.done())
        there.cancel()

    async def test_a_browser_that_fell_behind_reads_afresh(self) -> None:
        stream, first = await self.begin("a")
        for k in range(600):
            self.events.hand_on(["a"], {"event": "progress", "step": k})
        heard = [await first]
        while not heard or heard[-1]["event"] != "progress" or heard[-1]["step"] != 599:
            heard.append(await asyncio.wait_for(anext(stream), 1))
        self.assertIn({"event": "afresh"}, heard)
        self.assertLess(len(heard), 501)

    async def test_closing_ends_every_stream(self) -> None:
        _, first = await self.begin("a")
        self.events.close()
        with self.assertRaises(StopAsyncIteration):
            await first

    async def test_a_stream_that_ends_is_forgotten(self) -> None:
        stream, first = await self.begin("a")
        self.events.hand_on(["a"], {"event": "take"})
        await first
        await stream.aclose()
        self.assertEqual(self.events._streams, {})

    async def test_a_lost_connection_is_tried_again(self) -> None:
        listening = asyncio.create_task(Events(Database("postgresql://127.0.0.1:1/none")).listen())
        await asyncio.sleep(0.3)
        self.assertFalse(listening.done())
        listening.cancel()
