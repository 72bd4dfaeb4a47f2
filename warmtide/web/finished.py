"""Pictures as they are finished: found by what they are, with all that their files may say of them."""

import asyncio
from dataclasses import dataclass
from pathlib import PurePath
from typing import Any
from uuid import UUID

import numpy as np
from fastapi import HTTPException
from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.job.parts import with_parts
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.pictures.image import decode
from ..core.pictures.inside import recipe_inside
from ..records.models import Cell, Enlargement, Source, Study, Sweep, Take, TakeState
from ..records.store import LostPicture
from .finish_schemas import Of
from .services import Services


@dataclass(frozen=True)
class Found:
    """One picture before it is read: whose it is, what it may be named by, what its file says of how it came about."""

    of: Of
    image: str | None
    source: Source | None
    fields: dict[str, object]
    inside: dict[str, Any] | None
    framing: dict[str, Any] | None = None
    region: str | None = None
    readings: dict[str, Any] | None = None


async def _named(session: AsyncSession, take_ids: list[UUID]) -> dict[UUID, str]:
    """The names of the studies that takes stand in; takes and what belongs to them are in the session afterwards."""
    wanted = select(Take).where(Take.id.in_(take_ids)).options(selectinload(Take.recipe), selectinload(Take.source))
    await session.scalars(wanted)
    rows = await session.execute(
        select(Cell.take_id, Study.name)
        .join(Sweep, Sweep.id == Cell.sweep_id)
        .join(Study, Study.id == Sweep.study_id)
        .where(Cell.take_id.in_(take_ids))
    )
    return {take_id: name for take_id, name in rows.all()}


async def _of_take(session: AsyncSession, of: Of, take_id: UUID, names: dict[UUID, str]) -> Found:
    take = await session.get(Take, take_id, options=[selectinload(Take.recipe), selectinload(Take.source)])
    if take is None:
        raise HTTPException(404)
    if take.state != TakeState.DONE or take.image is None:
        raise BadInput("A take that is not finished can't be taken away; wait for it or leave it out.")
    recipe, source = take.recipe.body, take.source.name if take.source else ""
    fields = {name: recipe.get(name, "") for name in ("look", "strength", "guidance", "seed", "steps")}
    fields |= {
        "study": names.get(take.id, "study"),
        "source": PurePath(source).stem,
        "width": take.width,
        "height": take.height,
    }
    inside = {"recipe": recipe, "key": take.key, "source": source}
    if take.framing is not None:
        inside["framing"] = take.framing
    return Found(of, take.image, take.source, fields, inside, take.framing, take.region, take.readings)


async def all_found(session: AsyncSession, ofs: list[Of]) -> list[Found]:
    """Pictures by what they are, in their order, all takes looked for at once.

    Raises
    ------
    HTTPException : 404 where there is none. BadInput : one is not finished.
    """
    ids = [of.id for of in ofs if of.kind == "enlargement"]
    rows = await session.scalars(select(Enlargement).where(Enlargement.id.in_(ids))) if ids else ()
    takes = [of.id for of in ofs if of.kind == "take"] + [row.take_id for row in rows if row.take_id is not None]
    names = await _named(session, takes) if takes else {}
    return [await _found(session, of, names) for of in ofs]


async def found(session: AsyncSession, of: Of) -> Found:
    """One picture by what it is; raises as `all_found`."""
    return (await all_found(session, [of]))[0]


async def _found(session: AsyncSession, of: Of, names: dict[UUID, str]) -> Found:
    if of.kind == "take":
        return await _of_take(session, of, of.id, names)
    if of.kind == "source":
        source = await session.get(Source, of.id)
        if source is None:
            raise HTTPException(404)
        study = await session.get(Study, source.study_id)
        stem = PurePath(source.name).stem
        return Found(
            of, None, source, {"study": study.name if study else "study", "source": stem, "look": "source"}, None
        )
    row = await session.get(Enlargement, of.id)
    if row is None:
        raise HTTPException(404)
    if row.state != TakeState.DONE or row.image is None:
        raise BadInput("A picture that is still being made larger can't be taken away; wait for it or leave it out.")
    size = {"width": row.width, "height": row.height}
    told = {"way": row.way, **size}
    if row.take_id is not None:
        take = await _of_take(session, of, row.take_id, names)
        return Found(of, row.image, take.source, {**take.fields, **size}, {**(take.inside or {}), "enlarged": told})
    source = await session.get(Source, row.source_id)
    study = await session.get(Study, row.study_id)
    stem = PurePath(source.name).stem if source else "picture"
    fields = {"study": study.name if study else "study", "source": stem, "look": row.way, **size}
    return Found(of, row.image, source, fields, None)


async def pixels(shared: Services, what: Found) -> Byte:
    """The picture itself: (h, w, 3) uint8, or (h, w, 4) where it has transparency."""
    if what.image is not None:
        image = what.image
        read = await asyncio.to_thread(lambda: decode(shared.store.get(image)))
        return read.rgba if read.has_alpha else np.ascontiguousarray(read.rgba[..., :3])
    if what.source is None:
        raise HTTPException(404)
    return await shared.framer.whole(what.source)


def whole_way(shared: Services, data: bytes) -> dict[str, Any] | None:
    """What a picture's file tells of its way, with all that was made by hand on it."""
    inside = recipe_inside(data)

    def part(digest: str) -> bytes:
        try:
            return shared.store.get(digest)
        except LostPicture:
            raise KeyError(digest) from None

    return None if inside is None else with_parts(inside, part)


async def layers_of(shared: Services, what: Found, picture: Byte) -> tuple[tuple[str, Byte], ...]:
    """Source, take and region as layers of one size; none where there is no take."""
    if what.of.kind != "take" or what.source is None:
        return ()
    height, width = picture.shape[:2]
    source, _ = await shared.framer.framed(what.source, max(height, width), what.framing)
    if source.shape[:2] != (height, width):
        return ()

    def solid(rgb: Byte) -> Byte:
        return np.dstack([rgb[..., :3], np.full((height, width), 255, np.uint8)])

    layers = [("source", solid(source)), ("take", solid(picture))]
    if what.region is not None:
        plane = await shared.framer.region(what.source, what.region, max(height, width), what.framing)
        if plane.shape == (height, width):
            layers.append(("region", np.dstack([np.full((height, width, 3), 255, np.uint8), plane])))
    return tuple(layers)
