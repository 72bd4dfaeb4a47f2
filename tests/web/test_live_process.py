"""The live process: looks are loaded one after another, and a draft waits for one of them at most."""

import asyncio
import unittest
from concurrent.futures.process import BrokenProcessPool
from typing import Any

import numpy as np

from warmtide.core.engine.guides import NO_GUIDES
from warmtide.core.looks.registry import looks
from warmtide.core.recipe import Recipe
from warmtide.web.live_process import LiveProcess
from warmtide.work.glimpse import glimpse, ready


class Recorded(LiveProcess):
    """A live process that only notes what it is given to do; each thing takes a hundredth of a second."""

    def __init__(self, breaks_at: int | None = None) -> None:
        super().__init__()
        self.done: list[str] = []
        self.breaks_at = breaks_at

    def _process(self) -> Any:
        self._pool = self._pool or _Nothing()  # type: ignore[assignment]
        return self._pool

    async def _work(self, do: Any, *given: Any) -> Any:
        await asyncio.sleep(0.01)
        if self.breaks_at == len(self.done):
            self.close()
            raise BrokenProcessPool
        self.done.append(given[0] if do is ready else "draft" if do is glimpse else "preview")
        return b"", {}


class _Nothing:
    def shutdown(self, wait: bool, cancel_futures: bool) -> None:
        pass


async def drafted(live: LiveProcess) -> None:
    await live.run(np.zeros((8, 8, 3), np.uint8), Recipe(), {}, NO_GUIDES)


class Warming(unittest.IsolatedAsyncioTestCase):
    async def warmed(self, live: Recorded) -> None:
        while live._warming is not None and not live._warming.done():
            await asyncio.sleep(0.01)

    async def test_every_look_is_loaded_once_those_that_paint_first(self) -> None:
        live = Recorded()
        live.warm()
        live.warm()
        await self.warmed(live)
        self.assertEqual(sorted(live.done), sorted(looks()))
        things = [looks()[name].once for name in live.done]
        self.assertEqual(things, sorted(things))

    async def test_a_draft_waits_for_one_look_at_most(self) -> None:
        live = Recorded()
        live.warm()
        await asyncio.sleep(0.025)
        loaded = len(live.done)
        await drafted(live)
        self.assertLessEqual(live.done.index("draft"), loaded + 1)
        self.assertLess(live.done.index("draft"), len(looks()) - 5)
        await self.warmed(live)
        self.assertEqual(len(live.done), len(looks()) + 1)

    async def test_closing_ends_it(self) -> None:
        live = Recorded()
        live.warm()
        await asyncio.sleep(0.025)
        live.close()
        loaded = len(live.done)
        await asyncio.sleep(0.05)
        self.assertLess(loaded, len(looks()))
        self.assertEqual(len(live.done), loaded)

    async def test_a_process_that_breaks_while_it_loads_is_given_up_in_silence(self) -> None:
        live = Recorded(breaks_at=2)
        live.warm()
        task = live._warming
        assert task is not None
        await asyncio.wait([task])
        self.assertTrue(task.cancelled() or task.exception() is None)
        self.assertEqual(len(live.done), 2)
        live.breaks_at = None
        await drafted(live)
        self.assertEqual(live.done[-1], "draft")


if __name__ == "__main__":
    unittest.main()
