"""The Hand: touched pictures opened, changed, gone back in, and made a source."""

import asyncio
from pathlib import PurePath
from typing import Any
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Response, UploadFile
from sqlalchemy import func, select
from sqlalchemy.orm import selectinload

from ..core.job.told import pixels_of, told_source, told_stack
from ..core.layers.compose import over_colour, smaller_cut
from ..core.layers.depth import by_order
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.model.recipe import recipe_from
from ..core.model.stack import LARGEST_LAYER, LARGEST_STACK, Ground, Layer, Place, Stack
from ..core.pictures.framing import Framing, framed_natural
from ..core.pictures.image import png, webp
from ..records.models import Source, StackRow, Study, Take
from ..records.words import note_words
from ..work.planning import what_it_is
from ..work.stacks import OtherWindow, begun, body_of, changed, stepped, versions_around
from .hand_schemas import LayerPicture, StackCard, StackChange, StackOpen, StackStep, StackView, TakeIn
from .schemas import SourceView
from .services import Services, Session, Shared
from .sources import FOREVER, source_view

router = APIRouter(tags=["hand"])
_CHANGED = "This picture was changed in another window since you opened it; nothing was overwritten. Open it again to go on from there."  # fmt: skip
# A layer from a file that is larger is kept at this long side.
_KEPT_SIDE = 4096
_PNG = b"\x89PNG"


async def stack_named(session: Session, stack_id: UUID) -> StackRow:
    """The touched picture of that id, or 404."""
    row = await session.get(StackRow, stack_id)
    if row is None:
        raise HTTPException(404)
    return row


async def stack_view(session: Session, row: StackRow) -> StackView:
    before, after = await versions_around(session, row)
    return StackView(
        id=row.id, study_id=row.study_id, name=row.name, revision=row.revision, before=before, after=after,
        stack=await body_of(session, row),
    )  # fmt: skip


def _whole(name: str, picture: str, width: int, height: int, origin: str) -> Stack:
    place = Place(x=width / 2, y=height / 2, width=width, height=height)
    layer = Layer(id="ground", name=name, picture=picture, place=place, locked=True, origin=origin)
    return Stack(width=width, height=height, layers=(layer,))


async def _opened(
    wanted: StackOpen, source: Source | None, session: Session, shared: Services
) -> tuple[Stack, str, list[str]]:
    """What is opened as a stack of one layer, its name, and what it came from."""
    if source is not None:
        natural = framed_natural(source.height, source.width, Framing.model_validate(source.framing))
        size = min(max(natural), LARGEST_STACK)
        rgba = await _solid_or_cut(source, size, shared)
        way = await asyncio.to_thread(_way_of_source, source, size, rgba, shared)
        digest = await asyncio.to_thread(shared.layers.keep, rgba, way)
        name = PurePath(source.name).stem[:200]
        stack = _whole(name, digest, rgba.shape[1], rgba.shape[0], f"source {source.id}")
        return stack, name, [str(source.id)]
    if wanted.take is not None:
        take = await session.get(Take, wanted.take)
        if take is None or take.image is None:
            raise HTTPException(404)
        return _whole("take", take.image, take.width, take.height, f"take {take.id}"), "take", [str(take.id)]
    width, height = wanted.width or 0, wanted.height or 0
    place = Place(x=width / 2, y=height / 2, width=width, height=height)
    ground = Ground(top=wanted.colour, bottom=wanted.colour)
    layer = Layer(id="ground", name="ground", ground=ground, place=place, locked=True)
    return Stack(width=width, height=height, layers=(layer,)), "painted", []


def _way_of_source(source: Source, size: int, rgba: Byte, shared: Services) -> dict[str, Any] | None:
    """How a framed source came about; None for a cut-out, whose frame is another than a take's."""
    if bool((rgba[..., 3] < 255).any()):
        return None
    data, framing = shared.store.get(source.original), Framing.model_validate(source.framing)
    way = told_source(source.name, data, framing, size, bool(source.parents))
    return {**way, "pixels": pixels_of(rgba)}


async def _solid_or_cut(source: Source, size: int, shared: Services) -> Byte:
    """A source as it is framed (h, w, 4); a cut-out that is not framed keeps its transparency."""
    framing = Framing.model_validate(source.framing)
    if source.has_alpha and framing == Framing(recolour=framing.recolour):
        read = await asyncio.to_thread(shared.framer.original, source.original, framing.new_colours, size)
        scale = size / max(read.rgba.shape[:2])
        if scale >= 1:
            return np.ascontiguousarray(read.rgba)
        wide, high = (max(round(n * scale), 1) for n in read.rgba.shape[1::-1])
        return smaller_cut(read.rgba, wide, high)
    picture, _ = await shared.framer.framed(source, size)
    return np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)])


@router.post("/studies/{study_id}/stacks", status_code=201)
async def open_hand(study_id: UUID, wanted: StackOpen, session: Session, shared: Shared) -> StackView:
    """Open the Hand on a source, a take or an empty ground; a source that the Hand made comes back with its layers."""
    if await session.get(Study, study_id) is None:
        raise HTTPException(404)
    source = None if wanted.source is None else await session.get(Source, wanted.source)
    if wanted.source is not None and (source is None or source.study_id != study_id):
        raise HTTPException(404)
    made = None if source is None or source.stack_id is None else await session.get(StackRow, source.stack_id)
    if made is not None:
        return await stack_view(session, made)
    stack, name, parents = await _opened(wanted, source, session, shared)
    row = StackRow(study_id=study_id, name=name, parents=parents)
    await begun(session, row, stack)
    return await stack_view(session, row)


@router.get("/studies/{study_id}/stacks")
async def touched_pictures(study_id: UUID, session: Session) -> list[StackCard]:
    """A study's touched pictures, the newest first."""
    rows = await session.scalars(
        select(StackRow).where(StackRow.study_id == study_id).order_by(StackRow.created.desc())
    )
    cards = []
    for row in rows.all():
        stack = await body_of(session, row)
        facts = {"layers": len(stack.layers), "width": stack.width, "height": stack.height}
        cards.append(StackCard(id=row.id, name=row.name, revision=row.revision, **facts))
    return cards


@router.get("/stacks/{stack_id}")
async def touched_picture(stack_id: UUID, session: Session) -> StackView:
    return await stack_view(session, await stack_named(session, stack_id))


@router.delete("/stacks/{stack_id}", status_code=204)
async def forget_stack(stack_id: UUID, session: Session) -> None:
    """Let a touched picture go; sources that were made of it stay as they are."""
    await session.delete(await stack_named(session, stack_id))


@router.put("/stacks/{stack_id}")
async def change_stack(stack_id: UUID, change: StackChange, session: Session, shared: Shared) -> StackView:
    """Change a touched picture; its version before stays to be come back to."""
    row = await _locked(session, stack_id)
    try:
        await changed(session, row, change.revision, change.stack, shared.store)
    except OtherWindow:
        raise HTTPException(409, _CHANGED) from None
    return await stack_view(session, row)


@router.post("/stacks/{stack_id}/step")
async def step_stack(stack_id: UUID, step: StackStep, session: Session) -> StackView:
    """Undo or redo the last change."""
    row = await _locked(session, stack_id)
    try:
        await stepped(session, row, step.revision, step.by)
    except OtherWindow:
        raise HTTPException(409, _CHANGED) from None
    return await stack_view(session, row)


async def _locked(session: Session, stack_id: UUID) -> StackRow:
    """The record, held until the change is kept, so that of two changes at once one sees the other."""
    row = await session.scalar(select(StackRow).where(StackRow.id == stack_id).with_for_update())
    if row is None:
        raise HTTPException(404)
    return row


@router.post("/layer-pictures", status_code=201)
async def keep_picture(shared: Shared, file: UploadFile) -> LayerPicture:
    """Keep a picture file for a layer; one with a longer side than 4096 px is kept at that."""
    _, picture = await shared.intake.picture(file, _KEPT_SIDE)
    height, width = picture.whole
    if max(height, width) > LARGEST_LAYER:
        raise BadInput(f"A layer is at most {LARGEST_LAYER} pixels a side; this picture has {width} x {height}.")
    digest = await asyncio.to_thread(shared.layers.keep, np.ascontiguousarray(picture.rgba))
    return LayerPicture(picture=digest, width=picture.rgba.shape[1], height=picture.rgba.shape[0])


@router.get("/layer-pictures/{digest}", response_class=Response)
async def layer_picture(digest: str, shared: Shared) -> Response:
    """A layer's own picture, as PNG."""
    try:
        data = await asyncio.to_thread(shared.store.get, digest)
    except KeyError:
        raise HTTPException(404) from None
    if not data.startswith(_PNG):
        raise HTTPException(404)
    return Response(data, media_type="image/png", headers=FOREVER)


@router.get("/stacks/{stack_id}/picture", response_class=Response)
async def composed_picture(
    stack_id: UUID,
    session: Session,
    shared: Shared,
    side: int | None = Query(None, ge=32, le=LARGEST_STACK, description="long side of a small one, as WebP"),
) -> Response:
    """The whole as it is now, with its transparency."""
    stack = await body_of(session, await stack_named(session, stack_id))
    picture = await asyncio.to_thread(shared.layers.composed, stack)
    if side is not None:
        small = await asyncio.to_thread(webp, over_colour(picture), side)
        return Response(small, media_type="image/webp", headers={"Cache-Control": "no-cache"})
    data = await asyncio.to_thread(png, picture)
    return Response(data, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.post("/stacks/{stack_id}/take")
async def take_in(stack_id: UUID, wanted: TakeIn, session: Session, shared: Shared) -> StackView:
    """Lay a take over the picture that it was made of, through the region that it was made in; its shape is kept."""
    row = await _locked(session, stack_id)
    take = await session.get(Take, wanted.take, options=[selectinload(Take.source), selectinload(Take.recipe)])
    if take is None or take.image is None:
        raise HTTPException(404)
    stack = await body_of(session, row)
    scale = min(stack.width / take.width, stack.height / take.height)
    place = Place(x=stack.width / 2, y=stack.height / 2, width=take.width * scale, height=take.height * scale)
    picture, mask = take.image, await _region_of(take, shared)
    layer = Layer(id=f"t{row.revision}-{take.id.hex[:8]}", name="take", picture=picture, mask=mask, place=place, origin=f"take {take.id}")  # fmt: skip
    try:
        await changed(session, row, wanted.revision, Stack(width=stack.width, height=stack.height, layers=(*stack.layers, layer)), shared.store)  # fmt: skip
    except OtherWindow:
        raise HTTPException(409, _CHANGED) from None
    return await stack_view(session, row)


async def _region_of(take: Take, shared: Services) -> str | None:
    """The region that a take was made in, in the take's own frame, as a kept mask of its size; None where it had none."""
    if take.region is None or take.source is None:
        return None
    guides = await shared.framer.guides(take.source, recipe_from(take.recipe.body), take)
    region = guides.at(take.height, take.width).region
    if region is None:
        return None
    return await asyncio.to_thread(shared.layers.keep, np.dstack([region, region, region, np.full_like(region, 255)]))


@router.post("/stacks/{stack_id}/source", status_code=201)
async def make_source(
    stack_id: UUID,
    session: Session,
    shared: Shared,
    depth: bool = Query(False, description="with a depth guide from the order of layers: the highest is nearest"),
) -> SourceView:
    """The whole as it is now as a source of the study, which remembers its layers."""
    row = await stack_named(session, stack_id)
    stack = await body_of(session, row)
    picture = await asyncio.to_thread(shared.layers.composed, stack)
    told = await asyncio.to_thread(lambda: told_stack(picture, stack, shared.layers.ways(stack)))
    digest = await asyncio.to_thread(shared.layers.keep, picture, told)
    guide = await asyncio.to_thread(lambda: shared.layers.keep(by_order(stack, shared.layers))) if depth else None
    kind, people = await asyncio.to_thread(what_it_is, picture)
    count = await session.scalar(select(func.count()).where(Source.study_id == row.study_id)) or 0
    height, width = picture.shape[:2]
    source = Source(
        study_id=row.study_id, name=f"{row.name} {count + 1} by hand.png", original=digest, format="PNG", width=width,
        height=height, has_alpha=bool((picture[..., 3] < 255).any()), notes=[], framing=Framing().model_dump(), kind=kind,
        people=people, parents=row.parents, stack_id=row.id, depth=guide,
    )  # fmt: skip
    session.add(source)
    await note_words(session, row.study_id)
    return source_view(source)
