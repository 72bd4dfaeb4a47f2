"""Finishing: pictures made larger and traced."""

import asyncio
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Response
from sqlalchemy import select

from ..core.export.files.registry import formats
from ..core.export.names import DEFAULT, FIELDS
from ..core.export.pages import SheetWish
from ..core.finish.enlarge.registry import ways
from ..core.finish.enlarge.size import MOST_FACTOR, MOST_SIDE, by_factor, by_side
from ..core.finish.trace.drawing import Drawing, svg_of
from ..core.finish.trace.trace import LONGEST, as_what, flattened, traced
from ..core.maths.arrays import Byte
from ..core.maths.sizes import smaller
from ..records.models import Enlargement, Source, Study, Take
from ..work import enlarging
from .finish_schemas import (
    MOST_PICTURES,
    EnlargeAsked,
    Enlarged,
    EnlargementView,
    FinishChoices,
    FormatView,
    TraceAsked,
    TraceGroup,
    TraceView,
    WayView,
)
from .finished import found, pixels
from .services import Session, Shared
from .takes import FOREVER, stored

router = APIRouter(tags=["finish"])


@router.get("/finish")
async def finish_choices() -> FinishChoices:
    """What a picture can become: ways of making it larger, formats, what names are made of."""
    return FinishChoices(
        ways=[WayView(name=w.name, title=w.title, says=w.says, again=w.again) for w in ways().values()],
        formats=[
            FormatView(
                name=f.name, title=f.title, says=f.says, suffix=f.suffix, alpha=f.alpha, deep=f.deep, lossy=f.lossy,
                dpi=f.dpi, sized=f.sized,
            )
            for f in formats().values()
        ],
        fields=FIELDS, pattern=DEFAULT, most_side=MOST_SIDE, most_factor=MOST_FACTOR, most_pictures=MOST_PICTURES, sheet=SheetWish(),
    )  # fmt: skip


def view_of(row: Enlargement) -> EnlargementView:
    return EnlargementView(
        id=row.id, study_id=row.study_id, take_id=row.take_id, source_id=row.source_id, way=row.way, width=row.width, height=row.height,
        state=row.state.value, done=row.done, bytes=row.bytes, seconds=row.seconds, expected=row.expected,
        figures=Enlarged.model_validate(row.figures) if row.figures else None, fault=row.fault,
    )  # fmt: skip


@router.get("/studies/{study_id}/enlargements")
async def enlargements(study_id: UUID, session: Session) -> list[EnlargementView]:
    """Pictures of a study that were made larger, the newest first."""
    rows = await session.scalars(
        select(Enlargement).where(Enlargement.study_id == study_id).order_by(Enlargement.created.desc())
    )
    return [view_of(row) for row in rows]


def _size(asked: EnlargeAsked, height: int, width: int) -> tuple[int, int]:
    return by_side(height, width, asked.side) if asked.side is not None else by_factor(height, width, asked.factor or 1)


@router.post("/studies/{study_id}/enlargements", status_code=201)
async def enlarge(study_id: UUID, asked: EnlargeAsked, session: Session, shared: Shared) -> list[EnlargementView]:
    """Make pictures larger; those that are there already are answered as they are."""
    if await session.get(Study, study_id) is None:
        raise HTTPException(404)
    wanted: list[tuple[Take | Source, int, int]] = []
    for take_id in asked.takes:
        take = await session.get(Take, take_id)
        if take is None:
            raise HTTPException(404)
        await session.refresh(take, ["recipe"])
        wanted.append((take, take.height, take.width))
    for source_id in asked.sources:
        source = await session.get(Source, source_id)
        if source is None:
            raise HTTPException(404)
        wanted.append((source, *shared.framer.natural(source)))
    rows = []
    for of, height, width in wanted:
        size = _size(asked, height, width)
        for way in asked.ways:
            row = await enlarging.plan(session, shared.queue, shared.store, study_id, of, way, *size)
            await enlarging.announce(session, row)
            rows.append(row)
    return [view_of(row) for row in rows]


async def _row(session: Session, enlargement_id: UUID) -> Enlargement:
    row = await session.get(Enlargement, enlargement_id)
    if row is None:
        raise HTTPException(404)
    return row


@router.post("/enlargements/{enlargement_id}/stop")
async def stop_enlargement(enlargement_id: UUID, session: Session, shared: Shared) -> EnlargementView:
    """Stop what waits or is under way."""
    row = await _row(session, enlargement_id)
    await enlarging.stop(session, shared.queue, row)
    await enlarging.announce(session, row)
    return view_of(row)


@router.delete("/enlargements/{enlargement_id}", status_code=204)
async def delete_enlargement(enlargement_id: UUID, session: Session, shared: Shared) -> None:
    """Let a larger picture go; it can be made again."""
    row = await _row(session, enlargement_id)
    await enlarging.stop(session, shared.queue, row)
    await enlarging.announce(session, row)
    await session.delete(row)


@router.get("/enlargements/{enlargement_id}/image", response_class=Response)
async def enlarged_image(enlargement_id: UUID, session: Session, shared: Shared) -> Response:
    """The larger picture: PNG."""
    row = await _row(session, enlargement_id)
    return Response(await stored(shared, row.image), media_type="image/png", headers=FOREVER)


@router.get("/enlargements/{enlargement_id}/preview", response_class=Response)
async def enlarged_preview(enlargement_id: UUID, session: Session, shared: Shared) -> Response:
    """WebP with a long side of at most 640 px."""
    row = await _row(session, enlargement_id)
    return Response(await stored(shared, row.preview), media_type="image/webp", headers=FOREVER)


def _traced(picture: Byte, asked: TraceAsked, title: str) -> tuple[Drawing, str]:
    rgb = flattened(picture) if picture.shape[2] == 4 else picture
    rgb = np.ascontiguousarray(smaller(rgb, LONGEST))
    how = asked.how or as_what(rgb)
    return traced(rgb, how, asked.colours, title), how


@router.post("/traces")
async def trace(asked: TraceAsked, session: Session, shared: Shared) -> TraceView:
    """Trace a picture; its SVG comes with what it is made of."""
    what = await found(session, asked.of)
    picture = await pixels(shared, what)
    async with shared.cuts.taken():
        drawing, how = await asyncio.to_thread(_traced, picture, asked, str(what.fields.get("source", "")))
    text = await asyncio.to_thread(svg_of, drawing)
    return TraceView(
        svg=text, how=how, width=drawing.width, height=drawing.height, nodes=drawing.nodes, bytes=len(text.encode()),
        groups=[TraceGroup(name=g.name, colour=g.colour, shapes=len(g.shapes)) for g in drawing.groups],
    )  # fmt: skip
