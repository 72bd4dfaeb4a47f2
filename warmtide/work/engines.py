"""Which other engines there are, as a process follows it."""

import asyncio

import structlog

from ..core.model.errors import BadInput
from ..engines.known import Known

_LOOK_EVERY, _ASK_EVERY = 1.0, 15.0
log = structlog.get_logger()


async def watch(known: Known) -> None:
    """Follow the file of engines, and ask each now and then what it is by now, for ever."""
    asked = 0.0
    while True:
        try:
            changed = await asyncio.to_thread(known.read)
            now = asyncio.get_running_loop().time()
            if changed or now - asked > _ASK_EVERY:
                asked = now
                for fault in await asyncio.to_thread(known.refresh):
                    log.warning("engine is another", fault=fault)
        except BadInput as error:
            log.warning("engines can't be read", fault=str(error))
        await asyncio.sleep(_LOOK_EVERY)
