"""What the routes share, made once when the server starts."""

import os
from collections import OrderedDict
from collections.abc import AsyncIterator
from dataclasses import dataclass, field
from typing import Annotated

import procrastinate
from fastapi import Depends, Request
from sqlalchemy.ext.asyncio import AsyncSession

from ..records.database import Database
from ..records.store import ImageStore
from ..work.disk import Usage
from ..work.framer import Framer
from ..work.stacks import LayerFiles
from .events import Events
from .intake import Intake
from .live_process import LiveProcess
from .turns import Turns

_MOST_CUTS, _CUT_SECONDS = 8, 30.0
_CUTS_FULL = "Too many pictures are being cut out just now; try again in a moment."


@dataclass
class Services:
    database: Database
    store: ImageStore
    framer: Framer
    queue: procrastinate.App
    events: Events
    live: LiveProcess
    usage: Usage
    intake: Intake
    layers: LayerFiles
    # Looks tried on sources, small, by pixels and look.
    previews: OrderedDict[tuple[str, str], bytes] = field(default_factory=OrderedDict)
    # Cut-outs, one after another: each takes a core for a second or three.
    cuts: Turns = field(default_factory=lambda: Turns(1, _MOST_CUTS, _CUT_SECONDS, _CUTS_FULL))

    @property
    def workers(self) -> int:
        return int(os.environ.get("WARMTIDE_WORKERS", os.cpu_count() or 1))


def services(request: Request) -> Services:
    found: Services = request.app.state.services
    return found


async def session(request: Request) -> AsyncIterator[AsyncSession]:
    """A session whose transaction is kept when the route returns and rolled back when it raises."""
    async with services(request).database.sessions() as opened, opened.begin():
        yield opened


Shared = Annotated[Services, Depends(services)]
# Closed before the answer goes out, so that what a client reads next holds what it has just changed.
Session = Annotated[AsyncSession, Depends(session, scope="function")]
