"""Records as plain values for events and answers: what a browser needs to draw a take."""

import uuid
from typing import Any

from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession

from ..core.readings.registry import readings as kinds
from .models import Cell, Sweep, Take


def figures_of(readings: dict[str, Any] | None) -> dict[str, Any] | None:
    """Stored readings as they are answered: a figure by the name of each kind, without the maps, which are fetched apart."""
    if not readings:
        return None
    figures = {kind.name: kind.stored(readings) for kind in kinds()}
    finer = {name: readings.get(name) for name in ("worst", "version")}
    return {"figures": figures, "parts": readings.get("parts", {}), "warnings": readings.get("warnings", []), **finer}


def take_view(take: Take) -> dict[str, Any]:
    """A take as JSON; `recipe` must be loaded."""
    return {
        "id": str(take.id),
        "key": take.key,
        "source_id": take.source_id and str(take.source_id),
        "thumb": take.thumb,
        "state": take.state,
        "step": take.step,
        "steps": take.steps,
        "width": take.width,
        "height": take.height,
        "seconds": take.seconds,
        "expected": take.expected,
        "bytes": take.bytes,
        "readings": figures_of(take.readings),
        "fault": take.fault,
        "engine": take.engine,
        "recipe": take.recipe.body,
        "created": take.created.isoformat(),
    }


async def studies_of(session: AsyncSession, take_id: uuid.UUID) -> list[str]:
    """Studies in whose sweeps a take stands."""
    rows = await session.scalars(
        select(Sweep.study_id).join(Cell, Cell.sweep_id == Sweep.id).where(Cell.take_id == take_id).distinct()
    )
    return [str(row) for row in rows]
