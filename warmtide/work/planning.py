"""From a recipe with spans to takes and jobs."""

import asyncio
import hashlib
import uuid
from dataclasses import dataclass
from typing import Any

import numpy as np
import procrastinate
from sqlalchemy import func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.job.costs import expected_bytes, expected_scene_seconds, scene_of_take, take_shape
from ..core.job.engine import engine_of, estimated
from ..core.maths.arrays import Byte
from ..core.model.engine import said
from ..core.model.errors import BadInput
from ..core.model.recipe import BUILT_IN, Recipe, take_key
from ..core.model.sweep import Span, coarse_first, combinations
from ..core.pictures.framing import (
    Framing,
    frame,
)
from ..core.understanding.faces import find_faces
from ..core.understanding.kind import guess_kind
from ..records.models import Cell, RecipeRow, Source, Study, Sweep, Take, TakeState
from ..records.words import note_words
from . import learned
from .framer import Framer
from .lineup import BEHIND, follow_pauses, hasten, last_rank
from .pace import machine_factor
from .queue import LATER, defer, queue_of

_KIND_SIDE = 512


def what_it_is(rgba: Byte) -> tuple[str, bool]:
    """The kind of a picture (h, w, 4) as guessed, and whether people are in it."""
    kind = guess_kind(rgba)
    people = kind == "photo" and bool(find_faces(frame(rgba, Framing(), min(_KIND_SIDE, max(rgba.shape[:2])))))
    return kind, people


def look_once() -> None:
    """Look at a picture as a new source is looked at, so that the first one doesn't wait for what that loads."""
    what_it_is(np.random.default_rng(0).integers(0, 255, (256, 256, 4), dtype=np.uint8))


@dataclass(frozen=True)
class Planned:
    """One take of a plan: its source, its recipe as its engine takes it, its key, height and width as framed, what its engine is known by,
    and what that lacks."""

    source: Source
    recipe: Recipe
    key: str
    shape: tuple[int, int]
    engine: str
    lacks: tuple[str, ...] = ()


@dataclass(frozen=True)
class Plan:
    """What a sweep would do: its takes, how many of them exist, what is left to do; keys of those whose pictures are lost."""

    takes: list[Planned]
    existing: dict[str, Take]
    seconds: float
    bytes: int
    lost: frozenset[str] = frozenset()

    @property
    def lacks(self) -> list[str]:
        """What engines lack of what is asked for, one sentence each."""
        lacking: dict[str, dict[str, None]] = {}
        for take in self.takes:
            lacking.setdefault(take.recipe.engine, {}).update(dict.fromkeys(take.lacks))
        takes = {take.recipe.engine: take for take in self.takes}
        return [said(engine_of(takes[name].recipe).about, tuple(them)) for name, them in lacking.items() if them]

    @property
    def keys(self) -> list[str]:
        return [take.key for take in self.takes]

    @property
    def new(self) -> int:
        return len(set(self.keys)) - len(self.existing)


async def plan(
    session: AsyncSession, framer: Framer, source: Source, recipe: Recipe, spans: list[Span], workers: int
) -> Plan:
    """Expand and cost a sweep without keeping anything.

    Besides the controls of a recipe the source can be swept: a span of "source" holds ids of the study's sources.
    """
    cells = combinations(spans, ("source",))
    swept = {str(cell["source"]) for cell in cells if "source" in cell}
    sources = {str(source.id): source}
    if swept:
        sources |= {
            str(s.id): s for s in await session.scalars(select(Source).where(Source.study_id == source.study_id))
        }
    if strange := swept - sources.keys():
        raise BadInput(f"The source {strange.pop()!r} is not one of this study; tick sources that stand in it.")
    pairs = [(sources[str(cell.pop("source", source.id))], recipe.changed(**cell)) for cell in cells]
    return await plan_takes(session, framer, pairs, workers)


async def plan_takes(session: AsyncSession, framer: Framer, pairs: list[tuple[Source, Recipe]], workers: int) -> Plan:
    """Cost takes of sources by recipes, one by one, without keeping anything."""
    await learned.know(session, framer.store, {name for _, r in pairs if r.engine == BUILT_IN for name in r.looks})
    takes = []
    for own, take_recipe in pairs:
        picture, pixels = await framer.framed(own, take_recipe.size)
        engine, given = engine_of(take_recipe), await framer.guides(own, take_recipe)
        fit = engine.check(take_recipe, picture, given)
        if fit.recipe != take_recipe:
            # What leads it is what the engine hears of it, as when it is made.
            given = await framer.guides(own, fit.recipe)
        key = take_key(pixels, fit.recipe, given.key, engine.tag)
        takes.append(Planned(own, fit.recipe, key, picture.shape[:2], engine.tag, fit.lacks))
    found = await session.scalars(
        select(Take)
        .where(Take.key.in_({take.key for take in takes}), Take.state == TakeState.DONE)
        .options(selectinload(Take.recipe))
    )
    done = {take.key: take for take in found}
    # A take whose picture was lost is made again.
    lost = await asyncio.to_thread(
        lambda: frozenset(key for key, t in done.items() if not (t.image and framer.store.has(t.image)))
    )
    existing = {key: take for key, take in done.items() if key not in lost}
    factor = await machine_factor(session)
    missing = {take.key: take for take in takes if take.key not in existing}.values()
    workers = max(workers, 1)
    seconds = _seconds([take for take in missing if take.recipe.engine == BUILT_IN]) / workers
    scenes: dict[tuple[object, ...], list[Planned]] = {}
    for take in missing:
        if (scene := scene_of_take(take.recipe)) is not None:
            scenes.setdefault((take.source.id, *scene), []).append(take)
    for sharing in scenes.values():
        # Every worker that takes part draws the scene for itself.
        drawn = expected_scene_seconds(sharing[0].recipe, *sharing[0].shape)
        seconds += drawn * min(len(sharing), workers) / workers
    seconds = max(factor * seconds, *_elsewhere(list(missing)), 0.0)
    return Plan(takes, existing, seconds, sum(expected_bytes(*t.shape) for t in missing), lost)


def _seconds(takes: list[Planned]) -> float:
    return sum(estimated(take.recipe, *take.shape, take.source.people) for take in takes)


def _elsewhere(takes: list[Planned]) -> list[float]:
    """Seconds that each other engine needs, all of them at the same time."""
    others = {
        take.recipe.engine: engine_of(take.recipe).about.at_once for take in takes if take.recipe.engine != BUILT_IN
    }
    return [
        _seconds([take for take in takes if take.recipe.engine == name]) / at_once for name, at_once in others.items()
    ]


async def recipe_rows(session: AsyncSession, recipes: list[Recipe]) -> dict[str, uuid.UUID]:
    """Ids of recipe rows by digest, made where they are missing."""
    bodies = {hashlib.sha256(r.canonical().encode()).hexdigest(): r.model_dump() for r in recipes}
    rows = [{"id": uuid.uuid4(), "digest": digest, "body": body} for digest, body in bodies.items()]
    await session.execute(insert(RecipeRow).values(rows).on_conflict_do_nothing(index_elements=["digest"]))
    found = await session.execute(select(RecipeRow.digest, RecipeRow.id).where(RecipeRow.digest.in_(bodies)))
    return {digest: row_id for digest, row_id in found}


def _size(recipe: Recipe, height: int, width: int) -> dict[str, int]:
    """Size of a take, which is smaller for a draft."""
    rows, columns = take_shape(recipe, height, width)
    return {"width": columns, "height": rows}


async def start(
    session: AsyncSession, app: procrastinate.App, source: Source, planned: Plan, recipe: Recipe, spans: list[Span],
    behind: int = 0,
) -> Sweep:  # fmt: skip
    """Keep a planned sweep and queue what is missing, in the session's transaction.

    Takes that failed or were stopped are queued again; takes that are queued already for another sweep are
    shared with it. One that stands `behind`, 1 the first of them, fills in while nothing else is to do.
    """
    ids = await recipe_rows(session, [recipe, *(take.recipe for take in planned.takes)])
    rows: dict[str, dict[str, Any]] = {}
    for new in planned.takes:
        digest = hashlib.sha256(new.recipe.canonical().encode()).hexdigest()
        rows[new.key] = {
            "id": uuid.uuid4(), "key": new.key, "source_id": new.source.id, "recipe_id": ids[digest],
            "state": "stopped", "engine": new.engine, **_size(new.recipe, *new.shape), "step": 0, "bytes": 0,
            "steps": new.recipe.steps_run, "expected": estimated(new.recipe, *new.shape, new.source.people),
            "framing": new.source.framing, "region": new.source.region, "subject": new.source.subject, "faces": new.source.faces,
        }  # fmt: skip
    await session.execute(insert(Take).values(list(rows.values())).on_conflict_do_nothing(index_elements=["key"]))
    takes = {t.key: t for t in await session.scalars(select(Take).where(Take.key.in_(rows)).with_for_update())}
    digest = hashlib.sha256(recipe.canonical().encode()).hexdigest()
    rank = BEHIND + behind if behind else await last_rank(session)
    sweep = Sweep(
        study_id=source.study_id, source_id=source.id, recipe_id=ids[digest], spans=[s.model_dump() for s in spans],
        rank=rank,
    )  # fmt: skip
    session.add(sweep)
    await session.flush()
    for position, new in enumerate(planned.takes):
        session.add(Cell(sweep_id=sweep.id, position=position, take_id=takes[new.key].id))
    grid = int(np.prod([len(dict.fromkeys(span.values)) for span in spans], dtype=int)) == len(planned.takes)
    for position in coarse_first(spans) if grid else range(len(planned.takes)):
        new = planned.takes[position]
        take = takes[new.key]
        if take.state in (TakeState.STOPPED, TakeState.FAILED) or (
            take.state == TakeState.DONE and take.key in planned.lost
        ):
            take.state, take.step, take.fault, take.deaths, take.losses = TakeState.QUEUED, 0, None, 0, 0
            take.source_id, take.framing = new.source.id, new.source.framing
            take.region, take.subject, take.faces = new.source.region, new.source.subject, new.source.faces
            take.job_id = await defer(app, session, take.id, -rank, LATER if behind else queue_of(take.engine))
    if not behind:
        await hasten(
            session, [t.job_id for t in takes.values() if t.state == TakeState.QUEUED and t.job_id is not None], rank
        )
    # What another sweep has paused is wanted now.
    await follow_pauses(session)
    await session.execute(update(Study).where(Study.id == source.study_id).values(touched=func.now()))
    await note_words(session, source.study_id)
    return sweep


async def stop(session: AsyncSession, app: procrastinate.App, sweep_id: uuid.UUID) -> list[uuid.UUID]:
    """Stop what a sweep still has to do, unless another sweep begun later waits for it too. Ids stopped."""
    sweep = await session.get_one(Sweep, sweep_id)
    sweep.stopped = True
    waiting = select(Cell.take_id).where(Cell.sweep_id == sweep_id)
    shared = (
        select(Cell.take_id)
        .join(Sweep, Sweep.id == Cell.sweep_id)
        .where(Sweep.created > sweep.created, Sweep.stopped.is_(False), Sweep.deleted.is_(None))
    )
    open_takes = list(
        await session.scalars(
            select(Take)
            .where(Take.id.in_(waiting), Take.id.not_in(shared), Take.state.in_((TakeState.QUEUED, TakeState.RUNNING)))
            .with_for_update()
        )
    )
    for take in open_takes:
        take.state = TakeState.STOPPED
        if take.job_id is not None:
            await app.job_manager.cancel_job_by_id_async(take.job_id, abort=True)
    return [take.id for take in open_takes]


async def sweep_with_takes(session: AsyncSession, sweep_id: uuid.UUID) -> Sweep | None:
    """A sweep with everything needed to draw it."""
    return await session.scalar(
        select(Sweep)
        .where(Sweep.id == sweep_id)
        .options(
            selectinload(Sweep.recipe),
            selectinload(Sweep.cells).selectinload(Cell.take).selectinload(Take.recipe),
            selectinload(Sweep.cells).selectinload(Cell.take).selectinload(Take.source),
        )
        .execution_options(populate_existing=True)
    )
