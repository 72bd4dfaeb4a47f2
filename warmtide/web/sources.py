"""Sources: brought in, made of takes and of one another, framed, shown."""

import asyncio
import hashlib
import json
from pathlib import PurePath
from typing import Annotated, Any
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Response, UploadFile
from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.orm import selectinload

from ..core.job.told import told_mix, told_source, way_of
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.model.recipe import Recipe, sentence
from ..core.model.text import cleaned
from ..core.pictures.framing import Framing, cropped_to, framed_natural, framed_shape
from ..core.pictures.image import decode, png, webp
from ..core.pictures.mix import mix
from ..core.understanding.kind import hold_ranges, holds_for
from ..records.models import Source, Study, Sweep, Take
from ..records.words import note_words
from ..work.planning import what_it_is
from .schemas import CarryOn, SourceChange, SourceView
from .services import Services, Session, Shared

router = APIRouter(tags=["sources"])
# Long side that is enough to see what a picture is.
_SIGHT = 1280
# Long sides of a mix, and of one that is only tried.
_LARGEST, _TRIED = 2048, 768
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}


def _digest(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()[:12]


def frame_key(framing: dict[str, Any]) -> str:
    """Names a framing in an address, so that the address names its pixels."""
    return _digest(Framing.model_validate(framing).model_dump_json())


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
            "faces_key": None if source.faces is None else _digest(json.dumps(source.faces)),
            "subject_key": source.subject and source.subject[:12],
            "begin": Recipe(holds=holds_for(source.kind, source.people)),
            "hold_ranges": hold_ranges(source.kind, source.people),
        }
    )


async def new_source(shared: Services, upload: UploadFile) -> Source:
    """Decode first, keep after: a file that can't be read leaves nothing behind."""
    data, picture = await shared.intake.picture(upload, _SIGHT)
    digest = await asyncio.to_thread(shared.store.put, data)
    height, width = picture.whole
    kind, people = await asyncio.to_thread(what_it_is, picture.rgba)
    name = cleaned(PurePath((upload.filename or "picture").replace("\\", "/")).name)[:200] or "picture"
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
    await note_words(session, study_id)
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
    await note_words(session, source.study_id)


async def _pictures(
    study_id: UUID, wanted: CarryOn, session: Session, shared: Services
) -> list[tuple[Byte, Source | None]]:
    """The pictures that a new source is made of, sources before takes, each with the source behind it, or 404."""
    sources = [await session.get(Source, source_id) for source_id in wanted.sources]
    takes = [await session.get(Take, take_id, options=[selectinload(Take.source)]) for take_id in wanted.takes]
    unknown = any(source is None or source.study_id != study_id for source in sources)
    if await session.get(Study, study_id) is None or unknown or any(t is None or t.image is None for t in takes):
        raise HTTPException(404)
    pictures: list[tuple[Byte, Source | None]] = []
    for source in sources:
        assert source is not None
        natural = framed_natural(source.height, source.width, Framing.model_validate(source.framing))
        picture, _ = await shared.framer.framed(source, min(max(natural), _LARGEST))
        pictures.append((picture, source))
    for take in takes:
        assert take is not None and take.image is not None
        picture = decode(await asyncio.to_thread(shared.store.get, take.image)).rgba[..., :3]
        pictures.append((np.ascontiguousarray(picture), take.source))
    return pictures


async def _ways(wanted: CarryOn, session: Session, shared: Services) -> list[dict[str, Any]]:
    """How each of the pictures of a mix came about, in the order of `_pictures`."""
    sources = [await session.get_one(Source, source_id) for source_id in wanted.sources]
    takes = [await session.get_one(Take, take_id) for take_id in wanted.takes]

    def read() -> list[dict[str, Any]]:
        ways = []
        for source in sources:
            side = min(max(shared.framer.natural(source)), _LARGEST)
            framing = Framing.model_validate(source.framing)
            data = shared.store.get(source.original)
            ways.append(told_source(source.name, data, framing, side, bool(source.parents)))
        for take in takes:
            data = shared.store.get(str(take.image))
            # A take of before ways were told is an original.
            plain = told_source("take.png", data, Framing(), max(take.width, take.height), False)
            ways.append(way_of(data) or plain)
        return ways

    return await asyncio.to_thread(read)


def _weights(wanted: CarryOn) -> list[float]:
    return wanted.weights or [1.0] * (len(wanted.sources) + len(wanted.takes))


@router.post("/studies/{study_id}/mix", response_class=Response)
async def try_mix(study_id: UUID, wanted: CarryOn, session: Session, shared: Shared) -> Response:
    """What pictures would be when mixed, as WebP with a long side of at most 768 px; nothing is kept."""
    pictures = [picture for picture, _ in await _pictures(study_id, wanted, session, shared)]

    def mixed() -> bytes:
        small = [cropped_to(p, *framed_shape(p.shape[0], p.shape[1], min(_TRIED, max(p.shape[:2])))) for p in pictures]
        return webp(mix(small, _weights(wanted)), _TRIED, 90)

    return Response(await asyncio.to_thread(mixed), media_type="image/webp", headers={"Cache-Control": "no-cache"})


@router.post("/studies/{study_id}/sources", status_code=201)
async def carry_on(study_id: UUID, wanted: CarryOn, session: Session, shared: Shared) -> SourceView:
    """A take becomes the next source of its study; two or three pictures are mixed: layout of the heaviest, detail of
    each."""
    if len(wanted.sources) == 1 and not wanted.takes:
        raise BadInput("A single source is one already; give two or three pictures to mix, or a take to carry on.")
    pictures = await _pictures(study_id, wanted, session, shared)
    if len(pictures) == 1:
        take = await session.get_one(Take, wanted.takes[0])
        picture, digest = pictures[0][0], str(take.image)
    else:
        picture = await asyncio.to_thread(mix, [p for p, _ in pictures], _weights(wanted))
        ways = await _ways(wanted, session, shared)
        digest = await asyncio.to_thread(
            lambda: shared.store.put(png(picture, told_mix(picture, ways, _weights(wanted))))
        )
    height, width = picture.shape[:2]
    _, people = await asyncio.to_thread(what_it_is, np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)]))
    before = pictures[int(np.argmax(_weights(wanted)))][1]
    stem = PurePath(before.name).stem if before else "take"
    count = await session.scalar(select(func.count()).where(Source.study_id == study_id)) or 0
    source = Source(
        study_id=study_id, name=f"{stem} {count + 1}{' mixed' if len(pictures) > 1 else ''}.png", original=digest,
        format="PNG", width=width, height=height, has_alpha=False, notes=[], framing=Framing().model_dump(),
        kind=before.kind if before else "photo", people=people,
        parents=[str(of) for of in (*wanted.sources, *wanted.takes)],
        made={"weights": _weights(wanted)} if len(pictures) > 1 else None,
    )  # fmt: skip
    session.add(source)
    await note_words(session, study_id)
    return source_view(source)


@router.patch("/sources/{source_id}")
async def change_source(source_id: UUID, change: SourceChange, session: Session) -> SourceView:
    """Change the framing or the kind. Older takes keep the pixels they were made from."""
    source = await source_named(session, source_id)
    if change.framing is not None:
        source.framing = change.framing.model_dump()
    if change.kind is not None:
        source.kind = change.kind
    await note_words(session, source.study_id)
    return source_view(source)


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
