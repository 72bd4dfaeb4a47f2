"""Planning, running and stopping sweeps."""

import json
from uuid import UUID

from fastapi import APIRouter, HTTPException

from ..core.recipe import recipe_from
from ..core.words.understanding import understand
from ..records.models import Source, Take
from ..records.views import studies_of, take_view
from ..work import planning
from ..work.queue import CHANNEL
from .schemas import PhraseView, PlanView, SweepRequest, SweepView
from .services import Session, Shared
from .studies import sweep_view

router = APIRouter(tags=["sweeps"])


def _phrases(text: str) -> list[PhraseView]:
    return [
        PhraseView(
            text=phrase.text, weight=phrase.weight, concepts=list(phrase.concepts), unknown=list(phrase.unknown),
            corrected=[list(pair) for pair in phrase.corrected],
        )
        for phrase in understand(text)
    ]  # fmt: skip


@router.post("/plans")
async def plan(request: SweepRequest, session: Session, shared: Shared) -> PlanView:
    """What a sweep would do: takes, how many of them exist, seconds, disk."""
    source = await session.get(Source, request.source_id)
    if source is None:
        raise HTTPException(404)
    recipe = recipe_from(request.recipe)
    planned = await planning.plan(session, shared.framer, source, recipe, request.spans, shared.workers)
    height, width = planned.shape
    count = len(planned.keys)
    return PlanView(
        takes=count, existing=count - planned.new, seconds=round(planned.seconds, 2), bytes=planned.bytes,
        width=width, height=height, words=_phrases(recipe.prompt), avoided=_phrases(recipe.avoid),
    )  # fmt: skip


@router.post("/sweeps", status_code=201)
async def run_sweep(request: SweepRequest, session: Session, shared: Shared) -> SweepView:
    """Keep a sweep and queue what does not exist yet, in one transaction."""
    source = await session.get(Source, request.source_id)
    if source is None:
        raise HTTPException(404)
    recipe = recipe_from(request.recipe)
    planned = await planning.plan(session, shared.framer, source, recipe, request.spans, shared.workers)
    sweep = await planning.start(session, shared.queue, source, planned, recipe, request.spans)
    found = await planning.sweep_with_takes(session, sweep.id)
    assert found is not None
    return sweep_view(found)


@router.post("/sweeps/{sweep_id}/stop")
async def stop_sweep(sweep_id: UUID, session: Session, shared: Shared) -> SweepView:
    """Stop what is left to do; finished takes stay."""
    sweep = await planning.sweep_with_takes(session, sweep_id)
    if sweep is None:
        raise HTTPException(404)
    stopped = await planning.stop(session, shared.queue, sweep_id)
    await session.flush()
    connection = await session.connection()
    found = await planning.sweep_with_takes(session, sweep_id)
    assert found is not None
    takes: dict[UUID, Take] = {cell.take.id: cell.take for cell in found.cells}
    for take_id in stopped:
        event = {"event": "take", "studies": await studies_of(session, take_id), "take": take_view(takes[take_id])}
        await connection.exec_driver_sql("select pg_notify(%s, %s)", (CHANNEL, json.dumps(event)))
    return sweep_view(found)
