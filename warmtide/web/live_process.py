"""The process that renders live drafts."""

import asyncio
import os
import time
from collections.abc import Awaitable, Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from typing import Any

from ..core.maths.arrays import Byte
from ..core.model.guides import Guides
from ..core.model.recipe import Recipe
from ..work.glimpse import glimpse, preview, ready, stay_while_wanted
from .faults import Busy, Ended
from .turns import Turns

# Drafts and previews that may wait at once, and how long one waits for its turn.
_MOST_DRAFTS, _MOST_PREVIEWS = 16, 64
_PATIENCE_SECONDS = 20.0
# Longer than any draft takes, kernels that must be compiled first included: what runs on is ended.
_LONGEST_SECONDS = 90.0
_IDLE_SECONDS = 900.0
_FULL = "Too many drafts are asked for at once; wait a moment and try again."
_DIED = "The drafts' process ended and is started again; move a control to see a draft."


class LiveProcess:
    """One process of its own, so that a draft never waits behind a sweep; begun when first needed."""

    def __init__(self) -> None:
        self._pool: ProcessPoolExecutor | None = None
        self._turns = Turns(1, _MOST_DRAFTS, _PATIENCE_SECONDS, _FULL)
        self._behind = 0
        self._warming: asyncio.Task[None] | None = None
        self._used = time.monotonic()

    async def run(
        self, source: Byte, recipe: Recipe, files: dict[str, bytes], guides: Guides
    ) -> tuple[bytes, dict[str, Any]]:
        """One draft (see `glimpse`); drafts of several browsers take turns.

        Raises
        ------
        Busy : too many wait already, or it did not come to its turn in time. Ended : the process did.
        """
        async with self._turns.taken():
            return await self._work(glimpse, source, recipe, files, guides)  # type: ignore[no-any-return]

    async def preview(
        self, source: Byte, recipe: Recipe, files: dict[str, bytes], gone: Callable[[], Awaitable[bool]]
    ) -> Byte | None:
        """One draft without figures, behind every live one; None when whoever asked is `gone` before it begins."""
        if self._behind >= _MOST_PREVIEWS:
            raise Busy(_FULL)
        self._behind += 1
        try:
            while True:
                if await gone():
                    return None
                if self._turns.waiting:
                    await asyncio.sleep(0.03)
                    continue
                async with self._turns.behind():
                    if self._turns.waiting:
                        continue
                    return await self._work(preview, source, recipe, files)  # type: ignore[no-any-return]
        finally:
            self._behind -= 1

    async def _work(self, do: Callable[..., Any], *given: Any) -> Any:
        self._used = time.monotonic()
        work = asyncio.get_running_loop().run_in_executor(self._process(), do, *given)
        try:
            async with asyncio.timeout(_LONGEST_SECONDS):
                return await work
        except (BrokenProcessPool, TimeoutError):
            self._drop()
            raise Ended(_DIED) from None

    def _process(self) -> ProcessPoolExecutor:
        if self._pool is None:
            self._pool = ProcessPoolExecutor(1, get_context("spawn"), stay_while_wanted, (os.getpid(),))
        return self._pool

    def warm(self) -> None:
        """Begin the process, if it isn't there, while the artist is still looking."""
        if self._pool is None:
            self._process()
            self._warming = asyncio.create_task(self._warm())

    async def _warm(self) -> None:
        """Load the look that a study begins with (another takes a draft some hundredths of a second longer, once), and end
        the process when it is not used any more."""
        try:
            async with self._turns.behind():
                await self._work(ready, Recipe().look)
        except Ended:
            # The next draft begins another process, and loads what it needs.
            return
        while time.monotonic() - self._used < _IDLE_SECONDS:
            await asyncio.sleep(_IDLE_SECONDS / 10)
        # Nobody has asked for a draft for a while: its memory is of more use elsewhere.
        self._drop()

    def _drop(self) -> None:
        """End the process, whatever it does."""
        pool, self._pool = self._pool, None
        if pool is None:
            return
        processes = list((getattr(pool, "_processes", None) or {}).values())
        pool.shutdown(wait=False, cancel_futures=True)
        for process in processes:
            process.kill()

    def close(self) -> None:
        if self._warming is not None:
            self._warming.cancel()
            self._warming = None
        self._drop()
