"""The application."""

import asyncio
import contextlib
from collections.abc import AsyncIterator
from pathlib import Path

import structlog
from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.middleware.trustedhost import TrustedHostMiddleware

from .. import __version__
from ..core.looks import registry
from ..log import configure
from ..records.current import wait_until_current
from ..records.database import Database
from ..records.store import ImageStore
from ..settings import settings
from ..work.forget import forget_deleted
from ..work.planning import Framer, look_once
from ..work.queue import make_app as make_queue
from ..work.queue import requeue_orphans, revive_stalled
from . import choices, events, guards, guides, insight, live, looks, outputs, phrases, sources, studies, sweeps, takes
from . import queue as line_up
from .live_process import LiveProcess
from .services import Services

log = structlog.get_logger()
_CARE_SECONDS = 3.0
# The first start renders the demo studies before the server may begin.
_DATABASE_SECONDS = 120.0


async def _care(services: Services) -> None:
    """Take up what a lost worker left behind."""
    while True:
        try:
            revived = await revive_stalled(services.queue)
            async with services.database.sessions.begin() as session:
                orphans = await requeue_orphans(services.queue, session)
                await forget_deleted(session)
            if revived or orphans:
                log.info("takes taken up again", stalled=revived, orphans=orphans)
        except Exception as error:
            log.warning("care failed", error=str(error))
        await asyncio.sleep(_CARE_SECONDS)


@contextlib.asynccontextmanager
async def _life(app: FastAPI) -> AsyncIterator[None]:
    chosen = settings()
    # The first page asks for the looks, and their modules take a while to load.
    await asyncio.gather(
        asyncio.to_thread(wait_until_current, chosen.database, _DATABASE_SECONDS), asyncio.to_thread(registry.looks)
    )
    database = Database(chosen.database)
    store = ImageStore(chosen.store)
    queue = make_queue(chosen.database)
    async with queue.open_async():
        services = Services(database, store, Framer(store), queue, events.Events(chosen.database), LiveProcess())
        app.state.services = services
        looking = asyncio.create_task(asyncio.to_thread(look_once))
        tasks = [asyncio.create_task(services.events.listen()), asyncio.create_task(_care(services)), looking]
        yield
        services.events.close()
        services.live.close()
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)
    await database.close()


def _serve_frontend(app: FastAPI, folder: Path) -> None:
    index = folder / "index.html"
    if (folder / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=folder / "assets"), name="assets")

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
                  openapi_url="/api/openapi.json")  # fmt: skip
    guards.install(app)
    hosts = [host.strip() for host in settings().hosts.split(",")]
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=hosts, www_redirect=False)
    for module in (
        studies,
        sources,
        guides,
        insight,
        sweeps,
        line_up,
        takes,
        outputs,
        choices,
        looks,
        phrases,
        live,
        events,
    ):
        app.include_router(module.router, prefix="/api")
    _serve_frontend(app, settings().frontend)
    return app
