"""A source's subject cut out of it, as a source of its own."""

import asyncio
from pathlib import PurePath
from uuid import UUID

import numpy as np
from fastapi import APIRouter
from sqlalchemy import func, select

from ..core.maths.arrays import Byte
from ..core.maths.sizes import smaller
from ..core.model.errors import BadInput
from ..core.model.guides import Guides
from ..core.model.recipe import SIZES, Recipe
from ..core.pictures.framing import Framing, framed_natural
from ..core.pictures.image import png
from ..core.understanding.cut.cut_out import SURE_KINDS, WORKED, CutOut, cut_out
from ..core.understanding.subject import SAID, UNSAID
from ..records.models import Source
from .schemas import SourceView
from .services import Session, Shared
from .sources import source_named, source_view

router = APIRouter(tags=["sources"])


def _cut(picture: Byte, guides: Guides) -> CutOut:
    """The subject as found, and as what the artist painted in and out mends it."""
    found = cut_out(picture)
    small = smaller(picture, WORKED)
    said = guides.at(*small.shape[:2]).subject
    if said is None:
        return found
    away = said.astype(np.int16) - UNSAID
    strokes = np.where(np.abs(away) > SAID, np.sign(away), 0)
    return cut_out(picture, strokes=strokes, known=found.mask if found.kind in SURE_KINDS else None)


@router.post("/sources/{source_id}/cut", status_code=201)
async def cut_source(source_id: UUID, session: Session, shared: Shared) -> SourceView:
    """Cut what a source is about out of it, with soft edges: a further source of its study, which stands before the places that
    words name."""
    source = await source_named(session, source_id)
    natural = framed_natural(source.height, source.width, Framing.model_validate(source.framing))
    size = min(max(natural), SIZES[1])
    picture, _ = await shared.framer.framed(source, size)
    guides = await shared.framer.guides(source, Recipe(size=size))
    async with shared.cuts.taken():
        found = await asyncio.to_thread(_cut, picture, guides)
    if not float(found.alpha.max()) > 0:
        raise BadInput("Nothing stands out of this picture; paint its subject in first (Shift P), then cut it out.")
    alpha = np.clip(found.alpha * 255 + 0.5, 0, 255).astype(np.uint8)
    digest = await asyncio.to_thread(lambda: shared.store.put(png(np.dstack([found.colours, alpha]))))
    count = await session.scalar(select(func.count()).where(Source.study_id == source.study_id)) or 0
    height, width = picture.shape[:2]
    made = Source(
        study_id=source.study_id, name=f"{PurePath(source.name).stem} {count + 1} cut out.png", original=digest, format="PNG",
        width=width, height=height, has_alpha=True, notes=[], framing=Framing().model_dump(), kind=source.kind,
        people=source.people, parents=[str(source.id)],
    )  # fmt: skip
    session.add(made)
    await session.flush()
    return source_view(made)
