"""The application."""

import asyncio
import contextlib
from collections.abc import AsyncIterator
from pathlib import Path

import structlog
from fastapi import FastAPI
from fastapi.responses import FileResponse, Response

from .. import __version__
from ..core.looks import registry
from ..engines.known import Known
from ..log import configure
from ..records.current import wait_until_current
from ..records.database import Database
from ..records.store import ImageStore
from ..settings import settings
from ..work.care import take_care
from ..work.disk import Usage
from ..work.engines import watch
from ..work.framer import Framer
from ..work.planning import look_once
from ..work.queue import make_app as make_queue
from ..work.stacks import LayerFiles
from . import (
    choices,
    cutting,
    events,
    exports,
    finish,
    guards,
    guides,
    hand,
    hand_tools,
    insight,
    lineage,
    live,
    looks,
    machines,
    outputs,
    phrases,
    saved,
    sources,
    studies,
    studyfile,
    sweeps,
    takes,
    wall,
)
from . import queue as line_up
from .assets import Assets
from .intake import Intake
from .live_process import LiveProcess
from .schemas import Problem
from .services import Services

log = structlog.get_logger()
# The first start renders the demo studies before the server may begin.
_DATABASE_SECONDS = 120.0


@contextlib.asynccontextmanager
async def _life(app: FastAPI) -> AsyncIterator[None]:
    chosen = settings()
    # The first page asks for the looks, and their modules take a while to load.
    await asyncio.gather(
        asyncio.to_thread(wait_until_current, chosen.database, _DATABASE_SECONDS), asyncio.to_thread(registry.looks)
    )
    database = Database(chosen.database, pool=16)
    store = ImageStore(chosen.store_at)
    queue = make_queue(chosen.database)
    async with queue.open_async():
        services = Services(
            database,
            store,
            Framer(store),
            queue,
            events.Events(database),
            LiveProcess(),
            Usage(store),
            Intake(),
            LayerFiles(store),
        )
        app.state.services = services
        caring = asyncio.create_task(take_care(database, queue, store))
        looking = asyncio.create_task(asyncio.to_thread(look_once))
        tasks = [asyncio.create_task(services.events.listen()), caring, looking]
        if chosen.engines is not None:
            tasks.append(asyncio.create_task(watch(Known(chosen.engines))))
        yield
        services.events.close()
        services.live.close()
        await services.intake.close()
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)
    await database.close()


def _serve_frontend(app: FastAPI, folder: Path) -> None:
    index = folder / "index.html"
    if (folder / "assets").is_dir():
        app.mount("/assets", Assets(folder / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    async def page(path: str) -> Response:
        """Every address of the interface is the one page; unknown addresses of the programming interface are not."""
        if path.startswith("api/") or path == "api":
            return guards.problem(404, "There is nothing at this address; docs/http.md lists what there is.")
        if path in ("favicon.svg",) and (folder / path).is_file():
            return FileResponse(folder / path)
        if not index.is_file():
            return guards.problem(503, "The interface is not built; run ./start --prepare.")
        return FileResponse(index, headers={"Cache-Control": "no-cache"})


def create_app() -> FastAPI:
    configure()
    app = FastAPI(title="Warm Tide", version=__version__, lifespan=_life, docs_url=None, redoc_url=None,
                  openapi_url="/api/openapi.json", responses={"default": {"model": Problem, "description": "One sentence"}})  # fmt: skip
    chosen = settings()
    guards.install(app, frozenset(host.strip().lower() for host in chosen.hosts.split(",")), chosen.key)
    for module in (
        studyfile,
        studies,
        sources,
        guides,
        cutting,
        hand,
        hand_tools,
        insight,
        sweeps,
        line_up,
        takes,
        outputs,
        finish,
        exports,
        saved,
        lineage,
        wall,
        choices,
        machines,
        looks,
        phrases,
        live,
        events,
    ):
        app.include_router(module.router, prefix="/api")
    _serve_frontend(app, settings().frontend)
    return app
