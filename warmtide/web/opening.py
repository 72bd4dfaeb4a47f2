"""A study as a browser opens it, quick though it has thousands of takes: rows as they are, never as objects."""

from typing import Any
from uuid import UUID

import orjson
from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import noload, selectinload

from ..core.model.recipe import whole_recipe
from ..records.models import Cell, Mark, RecipeRow, Study, Sweep, Take
from ..records.views import figures_of
from .sources import source_view

# What is told of a take as it is kept; its readings come without their maps, which are fetched apart.
_PLAIN = (
    "key",
    "thumb",
    "state",
    "step",
    "steps",
    "width",
    "height",
    "seconds",
    "expected",
    "bytes",
    "fault",
    "engine",
)


async def _takes(session: AsyncSession, study_id: UUID) -> dict[UUID, list[dict[str, Any]]]:
    """Takes by the sweeps that they stand in, in their order."""
    columns = [getattr(Take, name) for name in _PLAIN]
    rows = await session.execute(
        select(
            Cell.sweep_id, Take.id, Take.source_id, Take.created, Take.readings.op("-")("map"), RecipeRow.body, *columns
        )
        .join(Sweep, Sweep.id == Cell.sweep_id)
        .join(Take, Take.id == Cell.take_id)
        .join(RecipeRow, RecipeRow.id == Take.recipe_id)
        .where(Sweep.study_id == study_id, Sweep.deleted.is_(None))
        .order_by(Cell.sweep_id, Cell.position)
    )
    found: dict[UUID, list[dict[str, Any]]] = {}
    for sweep_id, take_id, source_id, created, readings, body, *plain in rows:
        found.setdefault(sweep_id, []).append(
            {
                **dict(zip(_PLAIN, plain, strict=True)), "id": str(take_id), "source_id": source_id and str(source_id),
                "created": created.isoformat(), "readings": figures_of(readings), "recipe": whole_recipe(body),
            }
        )  # fmt: skip
    return found


async def opened(session: AsyncSession, study_id: UUID) -> bytes | None:
    """A study as JSON, as `StudyView` describes it; None where it is not there."""
    study = await session.scalar(
        select(Study).where(Study.id == study_id).options(selectinload(Study.sources), noload(Study.sweeps))
    )
    if study is None or study.deleted is not None:
        return None
    sweeps = await session.execute(
        select(Sweep, RecipeRow.body)
        .join(RecipeRow, RecipeRow.id == Sweep.recipe_id)
        .where(Sweep.study_id == study_id, Sweep.deleted.is_(None))
        .order_by(Sweep.created)
    )
    takes = await _takes(session, study_id)
    marks = await session.execute(select(Mark.take_id, Mark.value, Mark.note).where(Mark.study_id == study_id))
    told = {
        "id": str(study.id), "name": study.name, "demo": study.demo,
        "sources": [source_view(source).model_dump(mode="json") for source in study.sources],
        "sweeps": [
            {
                "id": str(sweep.id), "source_id": str(sweep.source_id), "recipe": whole_recipe(body), "spans": sweep.spans,
                "created": sweep.created.isoformat(), "paused": sweep.paused, "takes": takes.get(sweep.id, []),
            }
            for sweep, body in sweeps.all()
        ],
        "marks": [{"take_id": str(take_id), "value": value, "note": note} for take_id, value, note in marks.all()],
    }  # fmt: skip
    return orjson.dumps(told)
