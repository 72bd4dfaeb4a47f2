"""Saved pictures that come back: what they say of themselves, and whether their take and their source are here."""

from typing import Annotated, Any
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession

from ..core.job.engine import engine_of
from ..core.looks.registry import is_known
from ..core.model.errors import BadInput
from ..core.model.recipe import BUILT_IN, Recipe, recipe_from, take_key
from ..records.models import Cell, LearnedLook, Source, Study, Sweep, Take
from ..records.store import LostPicture
from .services import Services, Session, Shared

router = APIRouter(tags=["saved"])
# Sources of the same name that are framed to see whether one gave the picture.
_MOST_TRIED = 6


class Saved(BaseModel):
    """What a saved picture carries (docs/formats.md)."""

    model_config = ConfigDict(extra="ignore")

    recipe: dict[str, Any]
    key: Annotated[str, Field(max_length=64)] = ""
    source: Annotated[str, Field(max_length=300)] = ""


class Whereabouts(BaseModel):
    """A study, and a take with its sweep or a source in it."""

    study_id: UUID
    study: str
    id: UUID
    sweep_id: UUID | None = None


class SavedView(BaseModel):
    """Its recipe, as far as it is known here, and where its take and its source are; null where they are not."""

    recipe: Recipe
    take: Whereabouts | None
    source: Whereabouts | None


async def _take(session: AsyncSession, key: str) -> tuple[Take, Whereabouts] | None:
    rows = await session.execute(
        select(Take, Sweep.id, Study)
        .join(Cell, Cell.take_id == Take.id)
        .join(Sweep, Sweep.id == Cell.sweep_id)
        .join(Study, Study.id == Sweep.study_id)
        .where(Take.key == key, Sweep.deleted.is_(None), Study.deleted.is_(None))
        .order_by(Sweep.created.desc())
        .limit(1)
    )
    for take, sweep_id, study in rows.all():
        return take, Whereabouts(study_id=study.id, study=study.name, id=take.id, sweep_id=sweep_id)
    return None


async def _source(session: AsyncSession, shared: Services, saved: Saved, recipe: Recipe) -> Whereabouts | None:
    """The source that gives this very picture, among those of its name."""
    rows = await session.execute(
        select(Source, Study)
        .join(Study, Study.id == Source.study_id)
        .where(Source.name == saved.source, Study.deleted.is_(None))
        .order_by(Source.created.desc())
        .limit(_MOST_TRIED)
    )
    for source, study in rows.all():
        try:
            _, pixels = await shared.framer.framed(source, recipe.size)
            guides = await shared.framer.guides(source, recipe)
        except (BadInput, LostPicture):
            continue
        if take_key(pixels, recipe, guides.key, engine_of(recipe).tag) == saved.key:
            return Whereabouts(study_id=study.id, study=study.name, id=source.id)
    return None


@router.post("/saved")
async def saved_picture(saved: Saved, session: Session, shared: Shared) -> SavedView:
    """What can be done with a saved picture that comes back."""
    recipe = recipe_from({name: value for name, value in saved.recipe.items() if name in Recipe.model_fields})
    engine = engine_of(recipe)
    for look in recipe.looks if engine.name == BUILT_IN else ():
        if not is_known(look) and await session.get(LearnedLook, look) is None:
            raise BadInput(f"This picture was made in the look {look}, which is not here; bring its .npz in first.")
    found = await _take(session, saved.key)
    if found is not None:
        take, place = found
        source = await session.get(Source, take.source_id) if take.source_id else None
        study = await session.get(Study, source.study_id) if source is not None else None
        if source is not None and study is not None and study.deleted is None:
            return SavedView(
                recipe=recipe, take=place, source=Whereabouts(study_id=study.id, study=study.name, id=source.id)
            )
        return SavedView(recipe=recipe, take=place, source=None)
    return SavedView(recipe=recipe, take=None, source=await _source(session, shared, saved, recipe))
