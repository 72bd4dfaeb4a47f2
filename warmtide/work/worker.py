"""A worker process: takes from the queue, one at a time, one thread."""

import asyncio
from collections.abc import Callable

import procrastinate
import structlog

from ..core.model.errors import BadInput
from ..core.model.recipe import Recipe
from ..log import configure
from ..records.current import DatabaseAway, wait_until_current
from ..records.database import Database
from ..records.store import ImageStore
from ..settings import settings
from .presence import Presence
from .queue import HEARTBEAT, STALLED_AFTER, TAKES, make_app
from .rendering import Tools
from .warm import warm_looks


async def attend(
    app: procrastinate.App, queue: str, at_once: int = 1, until_empty: bool = False, signals: bool = True
) -> None:
    """Take jobs from a queue, `at_once` side by side, for ever or until there are none."""
    await app.run_worker_async(
        queues=[queue], wait=not until_empty, concurrency=at_once, update_heartbeat_interval=HEARTBEAT, install_signal_handlers=signals,
        stalled_worker_timeout=10 * STALLED_AFTER, fetch_job_polling_interval=2.0, abort_job_polling_interval=0.5,
        shutdown_graceful_timeout=3.0, delete_jobs="always",
    )  # fmt: skip


async def work(queue: str, until_empty: bool = False, give_way: Callable[[], None] | None = None) -> None:
    """Render takes of one queue, for ever or until there are none; `give_way` is called between their steps."""
    chosen = settings()
    tools = Tools(Database(chosen.database, pool=2), ImageStore(chosen.store_at), give_way)
    app = make_app(chosen.database, tools=tools)
    presence = tools.presence = Presence(tools.database, "takes" if queue == TAKES else "what fills in")
    keeping = asyncio.create_task(presence.keep())
    try:
        async with app.open_async():
            await attend(app, queue, until_empty=until_empty)
    finally:
        keeping.cancel()
        await asyncio.gather(keeping, return_exceptions=True)
        await presence.leave()
        await tools.close()


def run() -> None:
    """Work until told to stop."""
    configure()
    try:
        wait_until_current(settings().database, 60)
    except DatabaseAway as error:
        raise BadInput(f"{error} Name it in WARMTIDE_DATABASE, or use ./start.") from None
    warm_looks((Recipe().look,))
    structlog.get_logger().info("worker ready")
    asyncio.run(work(TAKES))
