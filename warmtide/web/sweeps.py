"""Planning, running and stopping sweeps."""

import asyncio
from dataclasses import asdict, replace
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from fastapi import APIRouter, HTTPException
from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.engine.scenery import BEGINS, WHOLE
from ..core.engine.staging import box_before, scene_asked
from ..core.job.looking import look_of, look_said, without_looks
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.model.guides import Guides
from ..core.model.look import Look
from ..core.model.phrases import phrases
from ..core.model.recipe import BUILT_IN, Recipe, recipe_from
from ..core.model.scene import SceneReading
from ..core.readings.tip import Tip
from ..core.scenes.registry import place_named
from ..core.scenes.wanted import things_in, words_of_things
from ..core.understanding.places import places_in, said
from ..core.words.heard import as_heard
from ..core.words.prompt import Phrase, suggestions, understand
from ..records.models import Source, Sweep, Take
from ..records.words import note_words
from ..work import planning, tips
from ..work.disk import check_room
from ..work.queue import announce
from .schemas import (
    FinishRequest,
    PartTipView,
    PhraseView,
    PlaceTipView,
    PlanView,
    Region,
    RowTipView,
    SceneView,
    SweepRequest,
    SweepView,
    TipView,
)
from .services import Services, Session, Shared
from .studies import sweep_view

router = APIRouter(tags=["sweeps"])


def _phrase(
    phrase: Phrase, there: frozenset[str], recipe: Recipe | None = None, own: Look | None = None, region: bool = False
) -> PhraseView:
    """A phrase of a recipe's prompt and its `own` look; with neither one to avoid, which asks nothing of looks and parts.
    In a `region` it brings things."""
    phrase, heard = as_heard(phrase, own) if own else (phrase, ())
    if region and recipe and (brought := things_in(phrase.text)):
        heard = (*heard, *(thing.title for thing in brought))
        phrase = replace(phrase, unknown=tuple(w for w in phrase.unknown if w not in words_of_things(phrase.text)))
    look = look_said(recipe, phrase) if recipe else None
    named = without_looks(phrase) != phrase.concepts
    unheard = look.words if look and not look.acts else "a look can't be avoided" if named and not look else None
    return PhraseView(
        text=phrase.text, weight=phrase.weight, concepts=list(without_looks(phrase)), unknown=list(phrase.unknown),
        corrected=[list(pair) for pair in phrase.corrected], place=said(phrase.place) if phrase.place else None,
        found=phrase.place is None or phrase.place in there, suggestions=list(suggestions(phrase)),
        scene=[*heard, *phrase.scene],
        look=look.words if look and look.acts else None, unheard=unheard,
    )  # fmt: skip


def _scene(own: Look, reading: SceneReading, picture: Byte, cover: Byte | None) -> SceneView | None:
    if reading.asked is None:
        return (
            None
            if not reading.conflicts
            else SceneView(
                title="", way="none", box=None, begins=BEGINS, whole=WHOLE, conflicts=list(reading.conflicts)
            )
        )
    around = own.around is not None
    box = None if around else box_before(picture, cover)
    return SceneView(
        title=place_named(reading.asked.place).title, way="around" if around else "over" if box is None else "behind", box=None if box is None else [round(v, 4) for v in box], begins=BEGINS, whole=WHOLE,
        conflicts=list(reading.conflicts),
    )  # fmt: skip


@router.post("/plans")
async def plan(request: SweepRequest, session: Session, shared: Shared) -> PlanView:
    """What a sweep would do: takes, how many of them exist, seconds, disk."""
    source = await session.get(Source, request.source_id)
    if source is None:
        raise HTTPException(404)
    recipe = recipe_from(request.recipe)
    planned = await planning.plan(session, shared.framer, source, recipe, request.spans, shared.workers)
    height, width = planned.takes[0].shape
    count = len(planned.takes)
    picture, _ = await shared.framer.framed(source, min(recipe.size, 512))
    given = (await shared.framer.guides(source, recipe)).at(*picture.shape[:2])
    await session.commit()
    versions = [str(v) for span in request.spans if span.control == "prompt" for v in span.values]
    # Reading words takes a while where there are many; others are answered meanwhile.
    said_of = await asyncio.to_thread(_words, recipe, versions, picture, given)
    return PlanView(
        takes=count, existing=count - planned.new, seconds=round(planned.seconds, 2), bytes=planned.bytes,
        width=width, height=height, lacks=planned.lacks, **said_of,
    )  # fmt: skip


def _as_written(recipe: Recipe, versions: list[str]) -> dict[str, Any]:
    """Phrases for an engine that reads them by itself: nobody here knows what it makes of them."""

    def read(text: str) -> list[PhraseView]:
        return [
            PhraseView(text=said, weight=weight, concepts=[said], unknown=[], corrected=[], suggestions=[])
            for said, weight in phrases(text)
        ]

    return {
        "words": read(recipe.prompt), "avoided": read(recipe.avoid), "versions": [read(prompt) for prompt in versions], "scene": None,
    }  # fmt: skip


def _words(recipe: Recipe, versions: list[str], picture: Byte, guides: Guides) -> dict[str, Any]:
    """How a prompt, what is avoided and versions of the prompt are understood, and the scene that is asked for."""
    if recipe.engine != BUILT_IN:
        return _as_written(recipe, versions)
    own, avoided, here = look_of(recipe), understand(recipe.avoid), guides.region is not None
    reading = scene_asked(own, recipe.prompt)
    words = understand(recipe.prompt, reading)
    read = [(other, look_of(other)) for other in (recipe.changed(prompt=prompt) for prompt in versions)]
    others = [(other, look, understand(other.prompt, scene_asked(look, other.prompt))) for other, look in read]
    said_there = sum((phrases for _, _, phrases in others), words + avoided)
    there = places_in(picture, tuple(phrase.place for phrase in said_there if phrase.place))
    return {
        "words": [_phrase(phrase, there, recipe, own, here) for phrase in words],
        "avoided": [_phrase(phrase, there) for phrase in avoided],
        "versions": [[_phrase(p, there, other, look, here) for p in phrases] for other, look, phrases in others],
        "scene": None if here and things_in(recipe.prompt) else _scene(own, reading, picture, guides.cover),
    }


@router.post("/sweeps", status_code=201)
async def run_sweep(request: SweepRequest, session: Session, shared: Shared) -> SweepView:
    """Keep a sweep and queue what does not exist yet, in one transaction."""
    source = await session.get(Source, request.source_id)
    if source is None:
        raise HTTPException(404)
    recipe = recipe_from(request.recipe)
    planned = await planning.plan(session, shared.framer, source, recipe, request.spans, shared.workers)
    check_room(shared.store, planned.bytes)
    sweep = await planning.start(session, shared.queue, source, planned, recipe, request.spans)
    found = await planning.sweep_with_takes(session, sweep.id)
    assert found is not None
    return sweep_view(found)


@router.post("/sweeps/finish", status_code=201)
async def finish_drafts(request: FinishRequest, session: Session, shared: Shared) -> SweepView:
    """The takes that some drafts foretell, in full, as one sheet without axes."""
    found = await session.scalars(
        select(Take).where(Take.id.in_(request.takes)).options(selectinload(Take.recipe), selectinload(Take.source))
    )
    drafts = {take.id: take for take in found if take.source is not None and take.recipe.body["quality"] != "full"}
    chosen = [drafts[take_id] for take_id in dict.fromkeys(request.takes) if take_id in drafts]
    if not chosen:
        raise BadInput("None of these takes is a draft; choose drafts to finish.")
    pairs = [(t.source, recipe_from(t.recipe.body).changed(quality="full")) for t in chosen if t.source is not None]
    planned = await planning.plan_takes(session, shared.framer, pairs, shared.workers)
    check_room(shared.store, planned.bytes)
    sweep = await planning.start(session, shared.queue, pairs[0][0], planned, pairs[0][1], [])
    made = await planning.sweep_with_takes(session, sweep.id)
    assert made is not None
    return sweep_view(made)


@router.post("/sweeps/{sweep_id}/stop")
async def stop_sweep(sweep_id: UUID, session: Session, shared: Shared) -> SweepView:
    """Stop what is left to do; finished takes stay."""
    sweep = await planning.sweep_with_takes(session, sweep_id)
    if sweep is None:
        raise HTTPException(404)
    await stop_takes(session, shared, sweep_id)
    found = await planning.sweep_with_takes(session, sweep_id)
    assert found is not None
    return sweep_view(found)


async def stop_takes(session: AsyncSession, shared: Services, sweep_id: UUID) -> None:
    """Stop what a sweep still has to do, and tell whoever looks at it."""
    stopped = await planning.stop(session, shared.queue, sweep_id)
    await session.flush()
    await announce(session, stopped)


@router.delete("/sweeps/{sweep_id}", status_code=204)
async def delete_sweep(sweep_id: UUID, session: Session, shared: Shared) -> None:
    """Take a sweep out of its study, stopping what is left of it; it can be taken back for a week."""
    sweep = await session.get(Sweep, sweep_id)
    if sweep is None:
        raise HTTPException(404)
    await stop_takes(session, shared, sweep_id)
    sweep.deleted = datetime.now(UTC)
    await note_words(session, sweep.study_id)


@router.post("/sweeps/{sweep_id}/restore")
async def restore_sweep(sweep_id: UUID, session: Session) -> SweepView:
    """Take a deleted sweep back."""
    sweep = await planning.sweep_with_takes(session, sweep_id)
    if sweep is None:
        raise HTTPException(404)
    sweep.deleted = None
    await note_words(session, sweep.study_id)
    return sweep_view(sweep)


def _tip(tip: Tip) -> TipView:
    return TipView.model_validate({name: value for name, value in asdict(tip).items() if name != "sigma"})


@router.get("/sweeps/{sweep_id}/tips")
async def sweep_tips(sweep_id: UUID, session: Session) -> list[RowTipView]:
    """Where the composition gives way along strength, row by row, from what is rendered so far."""
    sweep = await planning.sweep_with_takes(session, sweep_id)
    if sweep is None:
        raise HTTPException(404)
    return [
        RowTipView(
            values=row.values, strengths=row.strengths, tip=_tip(row.tip) if row.tip else None,
            place=PlaceTipView(tip=_tip(row.place.tip), region=Region(**asdict(row.place.region))) if row.place else None,
            parts=[PartTipView(goes=goes, tip=_tip(tip)) for goes, tip in row.parts],
        )
        for row in tips.row_tips(sweep)
    ]  # fmt: skip
