"""Read takes again with the readings of today."""

import asyncio
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import selectinload

from ..core.job.take import read_take
from ..core.model.cache import SharedCache
from ..core.model.errors import BadInput
from ..core.model.recipe import recipe_from
from ..core.pictures.image import decode
from ..core.readings.measure import READINGS_VERSION
from ..records.database import Database
from ..records.models import Cell, Study, Sweep, Take, TakeState
from ..records.store import ImageStore
from .framer import Framer
from .learned import know


async def reread(database: Database, store: ImageStore, study: UUID | None, all_of_them: bool) -> tuple[int, int]:
    """Read the finished takes of a study, or of all studies, again; how many were read and how many could not be.

    Parameters
    ----------
    all_of_them : also those that were read with today's readings already.
    """
    framer, cache = Framer(store), SharedCache()
    done = failed = 0
    async with database.sessions() as session:
        if study is not None and await session.get(Study, study) is None:
            raise BadInput(f"There is no study {study}; the address of its page ends with its number.")
        wanted = select(Take.id).where(Take.state == TakeState.DONE)
        if study is not None:
            of_study = select(Cell.take_id).join(Sweep, Sweep.id == Cell.sweep_id).where(Sweep.study_id == study)
            wanted = wanted.where(Take.id.in_(of_study))
        ids = list(await session.scalars(wanted.order_by(Take.source_id, Take.created)))
    for take_id in ids:
        async with database.sessions.begin() as session:
            take = await session.scalar(
                select(Take).where(Take.id == take_id).options(selectinload(Take.recipe), selectinload(Take.source))
            )
            if take is None or (take.readings and take.readings["version"] == READINGS_VERSION and not all_of_them):
                continue
            try:
                if take.source is None or take.image is None:
                    raise BadInput("its source is gone")
                recipe = recipe_from(take.recipe.body)
                source, _ = await framer.framed(take.source, recipe.size, take.framing)
                picture = (await asyncio.to_thread(lambda t=take: decode(store.get(t.image)))).rgba[..., :3]  # type: ignore[misc]
                guides = await framer.guides(take.source, recipe, take)
                await know(session, store, recipe.looks)
                reading = await asyncio.to_thread(read_take, source, picture, recipe, cache, guides)
            except (BadInput, KeyError):
                failed += 1
                continue
            # A halo is told when a take is made, against what was there then.
            halo = ["halo"] if "halo" in (take.readings or {}).get("warnings", []) else []
            stored = reading.stored()
            take.readings = {**stored, "warnings": [*stored["warnings"], *halo]}
            done += 1
    return done, failed
