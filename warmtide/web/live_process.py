"""The process that renders live drafts."""

import asyncio
from collections.abc import Awaitable, Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from typing import Any

from ..core.arrays import Byte
from ..core.engine.guides import Guides
from ..core.looks.registry import looks
from ..core.recipe import Recipe
from ..work.glimpse import glimpse, preview, ready, stay_while_wanted


class LiveProcess:
    """One process of its own, so that a draft never waits behind a sweep; begun when first needed."""

    def __init__(self) -> None:
        self._pool: ProcessPoolExecutor | None = None
        self._turn = asyncio.Lock()
        self._waiting = 0
        self._warming: asyncio.Task[None] | None = None

    async def run(
        self, source: Byte, recipe: Recipe, files: dict[str, bytes], guides: Guides
    ) -> tuple[bytes, dict[str, Any]]:
        """One draft (see `glimpse`); drafts of several browsers take turns."""
        self._waiting += 1
        try:
            async with self._turn:
                return await self._work(glimpse, source, recipe, files, guides)  # type: ignore[no-any-return]
        finally:
            self._waiting -= 1

    async def preview(
        self, source: Byte, recipe: Recipe, files: dict[str, bytes], gone: Callable[[], Awaitable[bool]]
    ) -> Byte | None:
        """One draft without figures, behind every live one; None when whoever asked is `gone` before it begins."""
        while True:
            if await gone():
                return None
            if self._waiting:
                await asyncio.sleep(0.03)
                continue
            async with self._turn:
                if self._waiting:
                    continue
                return await self._work(preview, source, recipe, files)  # type: ignore[no-any-return]

    async def _work(self, do: Callable[..., Any], *given: Any) -> Any:
        work = asyncio.get_running_loop().run_in_executor(self._process(), do, *given)
        try:
            return await work
        except BrokenProcessPool:
            self.close()
            raise

    def _process(self) -> ProcessPoolExecutor:
        if self._pool is None:
            self._pool = ProcessPoolExecutor(1, get_context("spawn"), stay_while_wanted)
        return self._pool

    def warm(self) -> None:
        """Begin the process, if it isn't there, while the artist is still looking."""
        if self._pool is None:
            self._process()
            self._warming = asyncio.create_task(self._warm())

    async def _warm(self) -> None:
        """Load one look after another, those that paint first; whoever wants a draft waits for one of them at most."""
        for name in sorted(looks(), key=lambda name: looks()[name].once):
            while self._waiting:
                await asyncio.sleep(0.03)
            try:
                async with self._turn:
                    await self._work(ready, name)
            except BrokenProcessPool:
                # The next draft begins another process, and loads what it needs.
                return

    def close(self) -> None:
        if self._warming is not None:
            self._warming.cancel()
            self._warming = None
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
            self._pool = None
