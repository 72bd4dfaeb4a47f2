"""A take's pictures."""

import asyncio
import re
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, HTTPException, Query, Response
from sqlalchemy import select
from sqlalchemy.orm import selectinload

from ..records.models import Take
from .services import Services, Session, Shared

router = APIRouter(tags=["takes"])
# A take's pixels never change under its id.
_FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}


async def _bytes(shared: Services, digest: str | None) -> bytes:
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
    return Response(await _bytes(shared, take.preview), media_type="image/webp", headers=_FOREVER)


@router.get("/takes/{take_id}/image", response_class=Response)
async def image(
    take_id: UUID, session: Session, shared: Shared, save: Annotated[bool, Query(description="as a download")] = False
) -> Response:
    """The take itself: PNG with its recipe inside (docs/formats.md)."""
    take = await _take(session, take_id)
    headers = dict(_FOREVER)
    if save:
        recipe = take.recipe.body
        stem = re.sub(r"[^A-Za-z0-9]+", "-", (take.source.name if take.source else "take").rsplit(".", 1)[0]).strip("-")
        name = f"{stem or 'take'}-{recipe['look']}-s{recipe['strength']:.2f}-seed{recipe['seed']}.png"
        headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return Response(await _bytes(shared, take.image), media_type="image/png", headers=headers)
