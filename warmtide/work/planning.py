"""From a recipe with spans to takes and jobs."""

import asyncio
import hashlib
import json
import threading
import uuid
from collections import OrderedDict
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import procrastinate
from sqlalchemy import func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.engine.draft import drafted_shape
from ..core.engine.plan import check_depth
from ..core.job.asking import takes_cover
from ..core.job.costs import expected_bytes, expected_scene_seconds, expected_seconds, scene_of_take
from ..core.looks.registry import look_named
from ..core.maths.arrays import Byte, pixel_key
from ..core.model.errors import BadInput
from ..core.model.face import Face
from ..core.model.guides import NO_GUIDES, Guides
from ..core.model.recipe import ENGINE_VERSION, Recipe, take_key
from ..core.model.sweep import Span, coarse_first, combinations
from ..core.pictures.framing import (
    Framing,
    cropped_to,
    frame,
    framed_cover,
    framed_natural,
    framed_points,
    original_side,
)
from ..core.pictures.guide import guide_plane
from ..core.pictures.image import Picture, decode
from ..core.pictures.recolour import opened
from ..core.understanding.faces import find_faces, moved_faces
from ..core.understanding.kind import guess_kind
from ..records.models import Cell, RecipeRow, Source, Study, Sweep, Take
from ..records.store import ImageStore
from . import learned
from .lineup import BEHIND, follow_pauses, hasten, last_rank
from .pace import machine_factor
from .queue import LATER, TAKES, defer

_KIND_SIDE = 512
_ORIGINALS = 2
# As much of a guide as the largest take can show.
_GUIDE_SIDE = 4096


def what_it_is(rgba: Byte) -> tuple[str, bool]:
    """The kind of a picture (h, w, 4) as guessed, and whether people are in it."""
    kind = guess_kind(rgba)
    people = kind == "photo" and bool(find_faces(frame(rgba, Framing(), min(_KIND_SIDE, max(rgba.shape[:2])))))
    return kind, people


def framed_faces(faces: list[Any] | None, height: int, width: int, framing: Framing) -> tuple[Face, ...] | None:
    """Faces marked on an original (height, width) as they lie in it framed, without those that the frame cuts off;
    None where none were marked."""
    if faces is None:
        return None
    marked = tuple(Face(**face) for face in faces)
    tall, wide = framed_natural(height, width, framing)
    bottom, right = tall / max(tall, wide), wide / max(tall, wide)
    moved = moved_faces(marked, max(height, width), framed_points(height, width, framing))
    return tuple(face for face in moved if 0 <= face.x <= right and 0 <= face.y <= bottom)


def look_once() -> None:
    """Look at a picture as a new source is looked at, so that the first one doesn't wait for what that loads."""
    what_it_is(np.random.default_rng(0).integers(0, 255, (256, 256, 4), dtype=np.uint8))


class Framer:
    """Framed pictures of sources, the last few kept."""

    def __init__(self, store: ImageStore, keep: int = 12) -> None:
        self.store, self._keep = store, keep
        self._held: OrderedDict[tuple[str, str, int], tuple[Byte, str]] = OrderedDict()
        self._guides: OrderedDict[tuple[str, str, str, str, str, int], Guides] = OrderedDict()
        # One at a time: whoever asks for the same picture meanwhile finds it read.
        self._reading = threading.Lock()
        self._originals: OrderedDict[tuple[str, tuple[tuple[str, str], ...], int | None], Picture] = OrderedDict()

    async def framed(self, source: Source, size: int, given: dict[str, Any] | None = None) -> tuple[Byte, str]:
        """The picture that the engine sees at a size, and the hash of its pixels; `given` is an older framing."""
        framing = Framing.model_validate(given or source.framing)
        key = (source.original, framing.model_dump_json(), size)
        if key not in self._held:
            self._held[key] = await asyncio.to_thread(
                self._make, source.original, (source.height, source.width), framing, size
            )
        self._held.move_to_end(key)
        found = self._held[key]
        while len(self._held) > self._keep:
            self._held.popitem(last=False)
        return found

    async def guides(self, source: Source, recipe: Recipe, take: Take | None = None) -> Guides:
        """What leads a take of this source: where it may change, faces that were marked, its depth guide, where depth is
        held, and how solid a cut-out is, where that matters. A `take` that was planned keeps the framing, the region
        and the faces it was planned with."""
        of = take or source
        given, region = of.framing, of.region
        depth = source.depth if recipe.holds.depth > 0 else None
        covered = source.has_alpha and takes_cover(recipe)
        if depth is None and region is None and of.faces is None and not covered:
            return NO_GUIDES
        framing = Framing.model_validate(given or source.framing)
        key = (
            depth or "", region or "", source.original if covered else "", json.dumps(of.faces),
            framing.model_dump_json(), recipe.size,
        )  # fmt: skip
        if key not in self._guides:
            shape = (source.height, source.width)
            found = replace(NO_GUIDES, faces=framed_faces(of.faces, *shape, framing))
            if depth is not None:
                plane = await asyncio.to_thread(self._plane, depth, "depth", shape, framing, recipe.size)
                found = replace(found, depth=plane)
            if region is not None:
                plane = await asyncio.to_thread(self._plane, region, "region", shape, framing, recipe.size)
                found = replace(found, region=plane)
            if covered:
                cover = await asyncio.to_thread(self._cover, source.original, shape, framing, recipe.size)
                found = replace(found, cover=cover)
            self._guides[key] = found
            while len(self._guides) > self._keep:
                self._guides.popitem(last=False)
        return self._guides[key]

    def _cover(self, original: str, shape: tuple[int, int], framing: Framing, size: int) -> Byte | None:
        read = self.original(original, framing.new_colours, original_side(*shape, framing, size))
        return framed_cover(read.rgba, framing, size, read.whole)

    def _plane(self, digest: str, name: str, shape: tuple[int, int], framing: Framing, size: int) -> Byte:
        """A guide cropped to the whole source's shape, then framed as the source is; around it is depth far away, and no region."""
        plane = cropped_to(guide_plane(decode(self.store.get(digest), _GUIDE_SIDE).rgba, name), *shape)
        rgba = np.dstack([plane] * 3 + [np.full_like(plane, 255)])
        framed = frame(rgba, framing.model_copy(update={"ground": "#000000"}), size)
        return np.ascontiguousarray(framed[..., 0])

    def original(self, digest: str, recolour: tuple[tuple[str, str], ...], side: int | None) -> Picture:
        """An original with its parts' new colours and at least `side` pixels, the last two kept."""
        with self._reading:
            return self._original(digest, recolour, side)

    def _original(self, digest: str, recolour: tuple[tuple[str, str], ...], side: int | None) -> Picture:
        for known, picture in list(self._originals.items()):
            enough = side is not None and max(picture.rgba.shape[:2]) >= min(side, max(picture.whole))
            if known[:2] == (digest, recolour) and (known[2] is None or enough):
                return picture
        picture = opened(self.store.get(digest), recolour, side)
        self._originals[(digest, recolour, side)] = picture
        while len(self._originals) > _ORIGINALS:
            self._originals.popitem(last=False)
        return picture

    def _make(self, original: str, shape: tuple[int, int], framing: Framing, size: int) -> tuple[Byte, str]:
        read = self.original(original, framing.new_colours, original_side(*shape, framing, size))
        picture = frame(read.rgba, framing, size, read.whole)
        return picture, pixel_key(picture)


@dataclass(frozen=True)
class Planned:
    """One take of a plan: its source, its recipe, its key, height and width as framed."""

    source: Source
    recipe: Recipe
    key: str
    shape: tuple[int, int]


@dataclass(frozen=True)
class Plan:
    """What a sweep would do: its takes, how many of them exist, what is left to do; keys of those whose pictures are lost."""

    takes: list[Planned]
    existing: dict[str, Take]
    seconds: float
    bytes: int
    lost: frozenset[str] = frozenset()

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
    await learned.know(session, framer.store, recipe.looks)
    for name in recipe.looks:
        look_named(name)
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
    await learned.know(session, framer.store, names := {name for _, r in pairs for name in r.looks})
    for name in names:
        look_named(name)
    takes = []
    for own, take_recipe in pairs:
        picture, pixels = await framer.framed(own, take_recipe.size)
        given = await framer.guides(own, take_recipe)
        check_depth(take_recipe, picture, given)
        takes.append(Planned(own, take_recipe, take_key(pixels, take_recipe, given.key), picture.shape[:2]))
    found = await session.scalars(
        select(Take)
        .where(Take.key.in_({take.key for take in takes}), Take.state == "done")
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
    seconds = sum(expected_seconds(t.recipe, *t.shape, t.source.people) for t in missing) / workers
    scenes: dict[tuple[object, ...], list[Planned]] = {}
    for take in missing:
        if (scene := scene_of_take(take.recipe)) is not None:
            scenes.setdefault((take.source.id, *scene), []).append(take)
    for sharing in scenes.values():
        # Every worker that takes part draws the scene for itself.
        drawn = expected_scene_seconds(sharing[0].recipe, *sharing[0].shape)
        seconds += drawn * min(len(sharing), workers) / workers
    return Plan(takes, existing, factor * seconds, sum(expected_bytes(*t.shape) for t in missing), lost)


async def _recipe_rows(session: AsyncSession, recipes: list[Recipe]) -> dict[str, uuid.UUID]:
    """Ids of recipe rows by digest, made where they are missing."""
    bodies = {hashlib.sha256(r.canonical().encode()).hexdigest(): r.model_dump() for r in recipes}
    rows = [{"id": uuid.uuid4(), "digest": digest, "body": body} for digest, body in bodies.items()]
    await session.execute(insert(RecipeRow).values(rows).on_conflict_do_nothing(index_elements=["digest"]))
    found = await session.execute(select(RecipeRow.digest, RecipeRow.id).where(RecipeRow.digest.in_(bodies)))
    return {digest: row_id for digest, row_id in found}


def _size(recipe: Recipe, height: int, width: int) -> dict[str, int]:
    """Size of a take, which is smaller for a draft."""
    rows, columns = drafted_shape(height, width, recipe.quality)
    return {"width": columns, "height": rows}


async def start(
    session: AsyncSession, app: procrastinate.App, source: Source, planned: Plan, recipe: Recipe, spans: list[Span],
    behind: int = 0,
) -> Sweep:  # fmt: skip
    """Keep a planned sweep and queue what is missing, in the session's transaction.

    Takes that failed or were stopped are queued again; takes that are queued already for another sweep are
    shared with it. One that stands `behind`, 1 the first of them, fills in while nothing else is to do.
    """
    ids = await _recipe_rows(session, [recipe, *(take.recipe for take in planned.takes)])
    rows: dict[str, dict[str, Any]] = {}
    for new in planned.takes:
        digest = hashlib.sha256(new.recipe.canonical().encode()).hexdigest()
        rows[new.key] = {
            "id": uuid.uuid4(), "key": new.key, "source_id": new.source.id, "recipe_id": ids[digest],
            "state": "stopped", "engine": ENGINE_VERSION, **_size(new.recipe, *new.shape), "step": 0, "bytes": 0,
            "steps": new.recipe.steps_run, "expected": expected_seconds(new.recipe, *new.shape, new.source.people),
            "framing": new.source.framing, "region": new.source.region, "faces": new.source.faces,
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
        if take.state in ("stopped", "failed") or (take.state == "done" and take.key in planned.lost):
            take.state, take.step, take.fault, take.deaths, take.losses = "queued", 0, None, 0, 0
            take.source_id, take.framing = new.source.id, new.source.framing
            take.region, take.faces = new.source.region, new.source.faces
            take.job_id = await defer(app, session, take.id, -rank, LATER if behind else TAKES)
    if not behind:
        await hasten(session, [t.job_id for t in takes.values() if t.state == "queued" and t.job_id is not None], rank)
    # What another sweep has paused is wanted now.
    await follow_pauses(session)
    await session.execute(update(Study).where(Study.id == source.study_id).values(touched=func.now()))
    await session.flush()
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
            selectinload(Sweep.recipe),
            selectinload(Sweep.cells).selectinload(Cell.take).selectinload(Take.recipe),
            selectinload(Sweep.cells).selectinload(Cell.take).selectinload(Take.source),
        )
        .execution_options(populate_existing=True)
    )
