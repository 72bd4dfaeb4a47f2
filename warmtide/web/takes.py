"""A take's pictures."""

import asyncio
from typing import Annotated
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Response
from sqlalchemy import select
from sqlalchemy.orm import selectinload

from ..core.job.parts import named
from ..core.pictures.image import decode, png
from ..core.pictures.inside import recipe_inside
from ..core.readings.lines import line_overlay
from ..core.readings.measure import stored_map
from ..core.readings.overlay import heat_overlay
from ..records.models import Take
from ..records.store import MissingPicture
from .downloads import disposition, stem_of
from .finished import whole_way
from .services import Services, Session, Shared

router = APIRouter(tags=["takes"])
# A take's pixels never change under its id.
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}


async def stored(shared: Services, digest: str | None) -> bytes:
    """A file of the store, or 404."""
    if digest is None:
        raise HTTPException(404)
    try:
        return await asyncio.to_thread(shared.store.get, digest)
    except KeyError:
        raise HTTPException(404) from None


async def _take(session: Session, take_id: UUID) -> Take:
    take = await session.scalar(
        select(Take).where(Take.id == take_id).options(selectinload(Take.recipe), selectinload(Take.source))
    )
    if take is None:
        raise HTTPException(404)
    return take


@router.get("/takes/{take_id}/preview", response_class=Response)
async def preview(take_id: UUID, session: Session, shared: Shared) -> Response:
    """WebP with a long side of at most 640 px."""
    take = await _take(session, take_id)
    return Response(await stored(shared, take.preview), media_type="image/webp", headers=FOREVER)


@router.get("/thumbs/{digest}", response_class=Response)
async def thumb(digest: str, shared: Shared) -> Response:
    """A take's smallest picture, by the name that the take gives it: no record is asked, a sheet may want hundreds."""
    try:
        return Response(await stored(shared, digest), media_type="image/webp", headers=FOREVER)
    except MissingPicture:
        raise HTTPException(404) from None


@router.get("/takes/{take_id}/image", response_class=Response)
async def image(
    take_id: UUID, session: Session, shared: Shared, save: Annotated[bool, Query(description="as a download")] = False
) -> Response:
    """The take itself: PNG with its recipe inside (docs/formats.md)."""
    take = await _take(session, take_id)
    headers = dict(FOREVER)
    if save:
        recipe = take.recipe.body
        stem = stem_of(take.source.name if take.source else "", "take")
        name = f"{stem}-{recipe['look']}-s{recipe['strength']:.2f}-seed{recipe['seed']}.png"
        headers["Content-Disposition"] = disposition(name)
    data = await stored(shared, take.image)
    return Response(
        await asyncio.to_thread(_saved, shared, data) if save else data, media_type="image/png", headers=headers
    )


def _saved(shared: Services, data: bytes) -> bytes:
    """A take's file as it is taken away: with what was made by hand on its way, where there is any."""
    inside = recipe_inside(data)
    if inside is None or next(named(inside), None) is None:
        return data
    return png(np.ascontiguousarray(decode(data).rgba[..., :3]), whole_way(shared, data))


@router.get("/takes/{take_id}/heat", response_class=Response)
async def heat(take_id: UUID, session: Session, shared: Shared) -> Response:
    """Where the composition gave way: a PNG to lay over the take or its source, transparent where all was kept."""
    take = await _take(session, take_id)
    kept, weight = (stored_map(take.readings or {}, name) for name in ("kept", "weight"))
    if kept is None or weight is None:
        raise HTTPException(404, "This take has no map of its losses; read it again with `warmtide reread`.")
    overlay = await asyncio.to_thread(heat_overlay, kept, weight, take.height, take.width)
    version = (take.readings or {}).get("version")
    return Response(
        await asyncio.to_thread(png, overlay), media_type="image/png", headers={"ETag": f'"{take_id}-{version}"'}
    )


@router.get("/takes/{take_id}/lines", response_class=Response)
async def lines(take_id: UUID, session: Session, shared: Shared) -> Response:
    """The lines of the source as this take saw it: a PNG to lay over the take, clear elsewhere."""
    take = await _take(session, take_id)
    if take.source is None:
        raise HTTPException(404)
    picture, _ = await shared.framer.framed(take.source, int(take.recipe.body["size"]), take.framing)
    drawn = await asyncio.to_thread(lambda: png(line_overlay(picture)))
    return Response(drawn, media_type="image/png", headers=FOREVER)


@router.get("/takes/{take_id}/source", response_class=Response)
async def take_source(take_id: UUID, session: Session, shared: Shared) -> Response:
    """The source as this take saw it, in its framing of then, at the take's full size."""
    take = await _take(session, take_id)
    if take.source is None:
        raise HTTPException(404)
    picture, _ = await shared.framer.framed(take.source, int(take.recipe.body["size"]), take.framing)
    return Response(await asyncio.to_thread(png, picture), media_type="image/png", headers=FOREVER)
