"""Takes that other engines make: `python -m warmtide.work.elsewhere` asks for them, as many at once as each engine takes.

Each engine has a queue of its own and its own share of this process, so that one that is slow or away holds up neither another nor the
built-in one, whose workers never wait for anybody.
"""

import asyncio
import signal
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import procrastinate

from ..core.model.errors import BadInput
from ..engines.client import RemoteEngine
from ..engines.known import Known
from ..log import configure
from ..records.current import wait_until_current
from ..records.database import Database
from ..records.store import ImageStore
from ..settings import settings
from .engines import watch
from .presence import Presence
from .queue import OTHERS, make_app
from .rendering import Tools
from .worker import attend

_LOOK_EVERY = 1.0
# Takes that wait for answers at once, of all engines together.
_THREADS = 96


class Desks:
    """One desk an engine: whoever takes its jobs and asks it for them."""

    def __init__(self, app: procrastinate.App, tools: Tools, known: Known) -> None:
        self._app, self._tools, self._known = app, tools, known
        self._open: dict[str, tuple[RemoteEngine, int, asyncio.Task[None]]] = {}

    async def follow(self) -> None:
        """Open a desk for every engine that is known, close those of others, for ever."""
        while True:
            for name, (engine, at_once, task) in list(self._open.items()):
                current = self._known.engines.get(name)
                if current is not engine or current.about.at_once != at_once or task.done():
                    await self._close(name)
            for name, engine in list(self._known.engines.items()):
                if name not in self._open:
                    count = engine.about.at_once
                    self._open[name] = (engine, count, asyncio.create_task(self._attend(name, count)))
            await asyncio.sleep(_LOOK_EVERY)

    async def _attend(self, name: str, count: int) -> None:
        await attend(self._app, f"{OTHERS}{name}", count, signals=False)

    async def _close(self, name: str) -> None:
        task = self._open.pop(name)[2]
        task.cancel()
        await asyncio.gather(task, return_exceptions=True)

    async def close(self) -> None:
        for name in list(self._open):
            await self._close(name)


async def run(path: Path) -> None:
    """Ask other engines for takes until told to stop."""
    chosen = settings()
    loop = asyncio.get_running_loop()
    loop.set_default_executor(ThreadPoolExecutor(_THREADS))
    stop = asyncio.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(number, stop.set)
    tools = Tools(Database(chosen.database, pool=8), ImageStore(chosen.store_at))
    app = make_app(chosen.database, pool=8, tools=tools)
    known = Known(path)
    tools.presence = Presence(tools.database, "other engines")
    desks = Desks(app, tools, known)
    async with app.open_async():
        tasks = [asyncio.create_task(work) for work in (watch(known), desks.follow(), tools.presence.keep())]
        await stop.wait()
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)
        await desks.close()
    await tools.presence.leave()
    await tools.close()


def main() -> None:
    configure()
    chosen = settings()
    if chosen.engines is None:
        raise BadInput("Name the file of engines in WARMTIDE_ENGINES.")
    wait_until_current(chosen.database, 60)
    asyncio.run(run(chosen.engines))


if __name__ == "__main__":
    main()
