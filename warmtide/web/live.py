"""Live drafts: the picture that a hand sees while it moves a control. Nothing is kept of them."""

import asyncio
import json
from uuid import UUID

from fastapi import APIRouter, HTTPException, Response
from pydantic import BaseModel, ConfigDict

from ..core.job.engine import engine_of
from ..core.model.errors import BadInput
from ..core.model.recipe import BUILT_IN, recipe_from
from ..records.models import LearnedLook, Source
from .services import Session, Shared

router = APIRouter(tags=["live"])


class LiveRequest(BaseModel):
    """A source and the recipe whose quality is draft or glimpse."""

    model_config = ConfigDict(extra="forbid")

    source_id: UUID
    recipe: dict[str, object]


@router.post("/live", response_class=Response)
async def live(request: LiveRequest, session: Session, shared: Shared) -> Response:
    """A draft of a take as WebP, and its readings in the header `Warm-Tide-Readings` as JSON."""
    source = await session.get(Source, request.source_id)
    if source is None:
        raise HTTPException(404)
    recipe = recipe_from({"quality": "draft", **request.recipe})
    if recipe.engine != BUILT_IN:
        raise BadInput(
            f"Live drafts are the built-in engine's; run a sweep to see what {engine_of(recipe).about.title} makes."
        )
    if recipe.quality == "full":
        recipe = recipe.changed(quality="draft")
    learned = [row for name in recipe.looks if (row := await session.get(LearnedLook, name)) is not None]
    files = {row.name: await asyncio.to_thread(shared.store.get, row.file) for row in learned}
    # The database is not needed while the draft waits its turn.
    await session.commit()
    picture, _ = await shared.framer.framed(source, recipe.size)
    guides = await shared.framer.guides(source, recipe)
    data, readings = await shared.live.run(picture, recipe, files, guides)
    return Response(data, media_type="image/webp", headers={"Warm-Tide-Readings": json.dumps(readings)})
