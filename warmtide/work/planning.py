"""From a recipe with spans to takes and jobs."""

import asyncio
import hashlib
import uuid
from collections import OrderedDict
from dataclasses import dataclass
from typing import Any

import procrastinate
from sqlalchemy import func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.arrays import Byte
from ..core.engine.schedule import steps_run
from ..core.engine.source import pixel_key
from ..core.framing import Framing, frame
from ..core.image import decode
from ..core.looks.registry import look_named
from ..core.recipe import ENGINE_VERSION, Recipe, take_key
from ..core.sweep import Span, expand, expected_bytes, expected_seconds
from ..records.models import Cell, RecipeRow, Source, Study, Sweep, Take
from ..records.store import ImageStore
from .queue import defer

_SAMPLE = 60


class Framer:
    """Framed pictures of sources, the last few kept."""

    def __init__(self, store: ImageStore, keep: int = 12) -> None:
        self._store, self._keep = store, keep
        self._held: OrderedDict[tuple[str, str, int], tuple[Byte, str]] = OrderedDict()

    async def framed(self, source: Source, size: int) -> tuple[Byte, str]:
        """The picture that the engine sees at a size, and the hash of its pixels."""
        framing = Framing.model_validate(source.framing)
        key = (source.original, framing.model_dump_json(), size)
        if key not in self._held:
            self._held[key] = await asyncio.to_thread(self._make, source.original, framing, size)
        self._held.move_to_end(key)
        found = self._held[key]
        while len(self._held) > self._keep:
            self._held.popitem(last=False)
        return found

    def _make(self, original: str, framing: Framing, size: int) -> tuple[Byte, str]:
        picture = frame(decode(self._store.get(original)).rgba, framing, size)
        return picture, pixel_key(picture)


@dataclass(frozen=True)
class Plan:
    """What a sweep would do: its takes, how many of them exist, what is left to do."""

    recipes: list[Recipe]
    keys: list[str]
    existing: dict[str, Take]
    shape: tuple[int, int]
    seconds: float
    bytes: int

    @property
    def new(self) -> int:
        return len(set(self.keys)) - len(self.existing)


async def machine_factor(session: AsyncSession) -> float:
    """How this machine's recent takes compare with the expected seconds; 1 before there are any."""
    recent = (
        select(Take.seconds, Take.expected)
        .where(Take.state == "done", Take.seconds > 0, Take.expected > 0.03)
        .order_by(Take.finished.desc())
        .limit(_SAMPLE)
        .subquery()
    )
    factor = await session.scalar(select(func.sum(recent.c.seconds) / func.sum(recent.c.expected)))
    return min(max(float(factor), 0.2), 10.0) if factor else 1.0


async def plan(
    session: AsyncSession, framer: Framer, source: Source, recipe: Recipe, spans: list[Span], workers: int
) -> Plan:
    """Expand and cost a sweep without keeping anything."""
    recipes = expand(recipe, spans)
    for name in {r.look for r in recipes}:
        look_named(name)
    picture, pixels = await framer.framed(source, recipe.size)
    height, width = picture.shape[:2]
    keys = [take_key(pixels, r) for r in recipes]
    found = await session.scalars(
        select(Take).where(Take.key.in_(set(keys)), Take.state == "done").options(selectinload(Take.recipe))
    )
    existing = {take.key: take for take in found}
    factor = await machine_factor(session)
    missing = {k: r for k, r in zip(keys, recipes, strict=True) if k not in existing}
    seconds = factor * sum(expected_seconds(r, height, width) for r in missing.values()) / max(workers, 1)
    return Plan(recipes, keys, existing, (height, width), seconds, len(missing) * expected_bytes(height, width))


async def _recipe_rows(session: AsyncSession, recipes: list[Recipe]) -> dict[str, uuid.UUID]:
    """Ids of recipe rows by digest, made where they are missing."""
    bodies = {hashlib.sha256(r.canonical().encode()).hexdigest(): r.model_dump() for r in recipes}
    rows = [{"id": uuid.uuid4(), "digest": digest, "body": body} for digest, body in bodies.items()]
    await session.execute(insert(RecipeRow).values(rows).on_conflict_do_nothing(index_elements=["digest"]))
    found = await session.execute(select(RecipeRow.digest, RecipeRow.id).where(RecipeRow.digest.in_(bodies)))
    return {digest: row_id for digest, row_id in found}


async def start(
    session: AsyncSession, app: procrastinate.App, source: Source, planned: Plan, recipe: Recipe, spans: list[Span]
) -> Sweep:
    """Keep a planned sweep and queue what is missing, in the session's transaction.

    Takes that failed or were stopped are queued again; takes that are queued already for another sweep are
    shared with it.
    """
    ids = await _recipe_rows(session, [recipe, *planned.recipes])
    height, width = planned.shape
    digests = [hashlib.sha256(r.canonical().encode()).hexdigest() for r in planned.recipes]
    rows: dict[str, dict[str, Any]] = {}
    for key, take_recipe, digest in zip(planned.keys, planned.recipes, digests, strict=True):
        rows[key] = {
            "id": uuid.uuid4(), "key": key, "source_id": source.id, "recipe_id": ids[digest], "state": "stopped",
            "engine": ENGINE_VERSION, "width": width, "height": height, "step": 0, "bytes": 0,
            "steps": steps_run(take_recipe.strength, take_recipe.steps) if take_recipe.strength > 0 else 0,
            "expected": expected_seconds(take_recipe, height, width),
        }  # fmt: skip
    await session.execute(insert(Take).values(list(rows.values())).on_conflict_do_nothing(index_elements=["key"]))
    takes = {t.key: t for t in await session.scalars(select(Take).where(Take.key.in_(rows)).with_for_update())}
    digest = hashlib.sha256(recipe.canonical().encode()).hexdigest()
    sweep = Sweep(
        study_id=source.study_id, source_id=source.id, recipe_id=ids[digest], spans=[s.model_dump() for s in spans]
    )
    session.add(sweep)
    await session.flush()
    for position, key in enumerate(planned.keys):
        take = takes[key]
        session.add(Cell(sweep_id=sweep.id, position=position, take_id=take.id))
        if take.state in ("stopped", "failed"):
            take.state, take.step, take.fault = "queued", 0, None
            take.source_id = source.id
            take.job_id = await defer(app, session, take.id)
    await session.execute(update(Study).where(Study.id == source.study_id).values(touched=func.now()))
    await session.flush()
    return sweep


async def stop(session: AsyncSession, app: procrastinate.App, sweep_id: uuid.UUID) -> list[uuid.UUID]:
    """Stop what a sweep still has to do, unless another sweep begun later waits for it too. Ids stopped."""
    sweep = await session.get_one(Sweep, sweep_id)
    waiting = select(Cell.take_id).where(Cell.sweep_id == sweep_id)
    shared = select(Cell.take_id).join(Sweep, Sweep.id == Cell.sweep_id).where(Sweep.created > sweep.created).distinct()
    open_takes = list(
        await session.scalars(
            select(Take)
            .where(Take.id.in_(waiting), Take.id.not_in(shared), Take.state.in_(("queued", "running")))
            .with_for_update()
        )
    )
    for take in open_takes:
        take.state = "stopped"
        if take.job_id is not None:
            await app.job_manager.cancel_job_by_id_async(take.job_id, abort=True)
    return [take.id for take in open_takes]


async def sweep_with_takes(session: AsyncSession, sweep_id: uuid.UUID) -> Sweep | None:
    """A sweep with everything needed to draw it."""
    return await session.scalar(
        select(Sweep)
        .where(Sweep.id == sweep_id)
        .options(
            selectinload(Sweep.recipe), selectinload(Sweep.cells).selectinload(Cell.take).selectinload(Take.recipe)
        )
        .execution_options(populate_existing=True)
    )
