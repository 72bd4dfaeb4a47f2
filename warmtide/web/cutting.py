"""A source's subject cut out of it, as a source of its own."""

import asyncio
from pathlib import PurePath
from uuid import UUID

from fastapi import APIRouter
from sqlalchemy import func, select

from ..core.job.cutting import cut_from, cut_pixels
from ..core.job.told import told_cut, told_source
from ..core.model.errors import BadInput
from ..core.model.recipe import SIZES, Recipe
from ..core.pictures.framing import Framing, framed_natural
from ..core.pictures.image import png
from ..records.models import Source
from ..records.words import note_words
from .schemas import SourceView
from .services import Session, Shared
from .sources import source_named, source_view

router = APIRouter(tags=["sources"])


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
        found = await asyncio.to_thread(cut_from, picture, guides)
    if not float(found.alpha.max()) > 0:
        raise BadInput("Nothing stands out of this picture; paint its subject in first (Shift P), then cut it out.")
    cut = cut_pixels(found)

    def kept() -> str:
        data = shared.store.get(source.original)
        way = told_source(source.name, data, Framing.model_validate(source.framing), size, bool(source.parents))
        return shared.store.put(png(cut, told_cut(cut, way, source.subject)))

    digest = await asyncio.to_thread(kept)
    count = await session.scalar(select(func.count()).where(Source.study_id == source.study_id)) or 0
    height, width = picture.shape[:2]
    made = Source(
        study_id=source.study_id, name=f"{PurePath(source.name).stem} {count + 1} cut out.png", original=digest, format="PNG",
        width=width, height=height, has_alpha=True, notes=[], framing=Framing().model_dump(), kind=source.kind,
        people=source.people, parents=[str(source.id)],
    )  # fmt: skip
    session.add(made)
    await note_words(session, source.study_id)
    return source_view(made)
