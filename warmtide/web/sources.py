"""Sources: brought in, framed, given a depth guide and a region, shown."""

import asyncio
import hashlib
from pathlib import PurePath
from typing import Annotated, Any
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Response, UploadFile
from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.orm import selectinload

from ..core.engine.guides import guide_plane
from ..core.errors import BadInput
from ..core.framing import Framing, framed_natural
from ..core.image import FILE_LIMIT, decode, png, webp
from ..core.kind import hold_ranges, holds_for
from ..core.mix import mix
from ..core.recipe import Recipe, sentence
from ..records.models import Source, Study, Sweep, Take
from ..work.planning import what_it_is
from .schemas import CarryOn, SourceChange, SourceView
from .services import Services, Session, Shared

router = APIRouter(tags=["sources"])
# Long side that is enough to see what a picture is.
_SIGHT = 1280
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}


def frame_key(framing: dict[str, Any]) -> str:
    """Names a framing in an address, so that the address names its pixels."""
    return hashlib.sha256(Framing.model_validate(framing).model_dump_json().encode()).hexdigest()[:12]


def source_view(source: Source) -> SourceView:
    framing = Framing.model_validate(source.framing)
    height, width = framed_natural(source.height, source.width, framing)
    return SourceView.model_validate(
        {name: getattr(source, name) for name in SourceView.model_fields if hasattr(source, name)}
        | {
            "framing": framing,
            "frame_key": frame_key(source.framing),
            "framed_width": width,
            "framed_height": height,
            "has_depth": source.depth is not None,
            "region_key": source.region and source.region[:12],
            "begin": Recipe(holds=holds_for(source.kind, source.people)),
            "hold_ranges": hold_ranges(source.kind, source.people),
        }
    )


async def new_source(shared: Services, upload: UploadFile) -> Source:
    """Decode first, keep after: a file that can't be read leaves nothing behind."""
    data = await upload.read(FILE_LIMIT + 1)
    picture = await asyncio.to_thread(decode, data, _SIGHT)
    digest = await asyncio.to_thread(shared.store.put, data)
    height, width = picture.whole
    kind, people = await asyncio.to_thread(what_it_is, picture.rgba)
    name = PurePath((upload.filename or "picture").replace("\\", "/")).name[:200] or "picture"
    return Source(
        name=name, original=digest, format=picture.format, width=width, height=height, has_alpha=picture.has_alpha,
        notes=list(picture.notes), framing=Framing().model_dump(), kind=kind, people=people,
    )  # fmt: skip


def framing_from(text: str) -> dict[str, Any]:
    """A framing from JSON, or `BadInput` with one sentence."""
    try:
        return Framing.model_validate_json(text).model_dump()
    except ValidationError as error:
        raise BadInput(sentence(error)) from None


async def source_named(session: Session, source_id: UUID) -> Source:
    """The source of that id, or 404."""
    source = await session.get(Source, source_id)
    if source is None:
        raise HTTPException(404)
    return source


@router.post("/studies/{study_id}/sources/file", status_code=201)
async def add_source(study_id: UUID, session: Session, shared: Shared, file: UploadFile) -> SourceView:
    """Bring a picture file into a study as a further source."""
    if await session.get(Study, study_id) is None:
        raise HTTPException(404)
    source = await new_source(shared, file)
    source.study_id = study_id
    session.add(source)
    await session.flush()
    return source_view(source)


@router.delete("/sources/{source_id}", status_code=204)
async def remove_source(source_id: UUID, session: Session) -> None:
    """Take a source out of its study, as long as nothing was made of it and it is not the only one."""
    source = await source_named(session, source_id)
    others = await session.scalar(select(func.count()).where(Source.study_id == source.study_id)) or 0
    used = await session.scalar(select(func.count()).select_from(Sweep).where(Sweep.source_id == source_id)) or 0
    if others < 2 or used:
        raise BadInput("This source stays: takes were made of it, or the study has no other.")
    await session.delete(source)


@router.post("/studies/{study_id}/sources", status_code=201)
async def carry_on(study_id: UUID, wanted: CarryOn, session: Session, shared: Shared) -> SourceView:
    """A take becomes the next source of its study; two or three are mixed: layout of the heaviest, detail of each."""
    takes = [await session.get(Take, take_id, options=[selectinload(Take.source)]) for take_id in wanted.takes]
    if await session.get(Study, study_id) is None or any(take is None or take.image is None for take in takes):
        raise HTTPException(404)
    pictures = [
        decode(await asyncio.to_thread(shared.store.get, take.image)).rgba for take in takes if take and take.image
    ]
    first = takes[0]
    assert first is not None
    if len(pictures) == 1:
        picture, digest = pictures[0], str(first.image)
    else:
        weights = wanted.weights or [1.0] * len(pictures)
        mixed = await asyncio.to_thread(mix, [p[..., :3] for p in pictures], weights)
        digest = await asyncio.to_thread(lambda: shared.store.put(png(mixed)))
        picture = np.dstack([mixed, np.full(mixed.shape[:2], 255, np.uint8)])
    height, width = picture.shape[:2]
    _, people = await asyncio.to_thread(what_it_is, picture)
    before = first.source
    stem = PurePath(before.name).stem if before else "take"
    count = await session.scalar(select(func.count()).where(Source.study_id == study_id)) or 0
    source = Source(
        study_id=study_id, name=f"{stem} {count + 1}{' mixed' if len(pictures) > 1 else ''}.png", original=digest,
        format="PNG", width=width, height=height, has_alpha=False, notes=[], framing=Framing().model_dump(),
        kind=before.kind if before else "photo", people=people, parents=[str(t) for t in wanted.takes],
    )  # fmt: skip
    session.add(source)
    await session.flush()
    return source_view(source)


@router.patch("/sources/{source_id}")
async def change_source(source_id: UUID, change: SourceChange, session: Session) -> SourceView:
    """Change the framing or the kind. Older takes keep the pixels they were made from."""
    source = await source_named(session, source_id)
    if change.framing is not None:
        source.framing = change.framing.model_dump()
    if change.kind is not None:
        source.kind = change.kind
    return source_view(source)


async def _guide(shared: Services, file: UploadFile, name: str) -> str:
    """Keep a grey guide that says something; its digest."""
    data = await file.read(FILE_LIMIT + 1)
    await asyncio.to_thread(lambda: guide_plane(decode(data).rgba, name))
    return await asyncio.to_thread(shared.store.put, data)


@router.put("/sources/{source_id}/depth")
async def give_depth(source_id: UUID, session: Session, shared: Shared, file: UploadFile) -> SourceView:
    """Give a depth guide: a grey picture, white near; it is cropped to the source's shape."""
    source = await source_named(session, source_id)
    source.depth = await _guide(shared, file, "depth")
    return source_view(source)


@router.delete("/sources/{source_id}/depth")
async def take_depth_away(source_id: UUID, session: Session) -> SourceView:
    source = await source_named(session, source_id)
    source.depth = None
    return source_view(source)


@router.put("/sources/{source_id}/region")
async def give_region(source_id: UUID, session: Session, shared: Shared, file: UploadFile) -> SourceView:
    """Say where takes may change the source: a grey picture of its shape, white where all may change, black where nothing does."""
    source = await source_named(session, source_id)
    source.region = await _guide(shared, file, "region")
    return source_view(source)


@router.delete("/sources/{source_id}/region")
async def take_region_away(source_id: UUID, session: Session) -> SourceView:
    """Let takes change the whole source again; those that exist stay as they are."""
    source = await source_named(session, source_id)
    source.region = None
    return source_view(source)


@router.get("/sources/{source_id}/region", response_class=Response)
async def source_region(source_id: UUID, session: Session, shared: Shared) -> Response:
    """The region as it was given, as a grey PNG."""
    source = await source_named(session, source_id)
    if source.region is None:
        raise HTTPException(404)
    digest = source.region
    plane = await asyncio.to_thread(lambda: guide_plane(decode(shared.store.get(digest)).rgba, "region"))
    data = await asyncio.to_thread(png, np.dstack([plane] * 3))
    return Response(data, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.get("/sources/{source_id}/image", response_class=Response)
async def source_image(
    source_id: UUID,
    session: Session,
    shared: Shared,
    size: Annotated[int, Query(ge=64, le=2048)] = 512,
    frame: Annotated[str | None, Query(description="the framing's key, so that an address names its pixels")] = None,
    tried: Annotated[
        str | None,
        Query(alias="as", max_length=4000, description="another framing as JSON, to see it before it is kept"),
    ] = None,
) -> Response:
    """The source as the engine sees it at a size."""
    source = await source_named(session, source_id)
    picture, _ = await shared.framer.framed(source, size, framing_from(tried) if tried else None)
    keep = FOREVER if not tried and frame == frame_key(source.framing) else {"Cache-Control": "no-cache"}
    return Response(await asyncio.to_thread(png, picture), media_type="image/png", headers=keep)


@router.get("/sources/{source_id}/original", response_class=Response)
async def source_original(
    source_id: UUID,
    session: Session,
    shared: Shared,
    frame: Annotated[str | None, Query(description="the framing's key, so that an address names its pixels")] = None,
) -> Response:
    """The source as it came, in its parts' new colours: WebP with a long side of at most 1280 px, to frame on."""
    source = await source_named(session, source_id)
    original, recolour = source.original, Framing.model_validate(source.framing).new_colours
    data = await asyncio.to_thread(lambda: webp(shared.framer.original(original, recolour, _SIGHT).rgba, _SIGHT, 90))
    keep = FOREVER if frame == frame_key(source.framing) else {"Cache-Control": "no-cache"}
    return Response(data, media_type="image/webp", headers=keep)
