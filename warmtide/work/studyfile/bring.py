"""The file of a study into the records: everything gets a number of its own here, nothing that is here is touched."""

import asyncio
import hashlib
import json
import uuid
from collections.abc import Awaitable, Callable
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession

from ...core.job.engine import estimated
from ...core.looks.learned.dictionary import read
from ...core.looks.registry import is_known
from ...core.model.errors import BadInput
from ...core.model.recipe import ENGINE_VERSION, Recipe, recipe_from, take_key
from ...core.model.stack import Stack, stack_from
from ...core.pictures.image import Picture
from ...core.readings.measure import stored_map
from ...records.models import (
    Cell,
    Enlargement,
    LearnedLook,
    Mark,
    MarkValue,
    Source,
    StackRow,
    Study,
    Sweep,
    Take,
    TakeState,
    Wall,
)
from ...records.store import ImageStore
from ...records.views import figures_of
from ...records.words import note_words
from ..disk import check_room
from ..framer import Framer
from ..learned import keep, know
from ..lineup import last_rank
from ..planning import recipe_rows
from ..stacks import begun
from .form import SourcePart, StackPart, StudyFile, TakePart
from .opened import OpenedStudy

# Reads a picture from outside with a long side of so many pixels, or refuses it.
Vet = Callable[[bytes, int], Awaitable[Picture]]
_SIGHT = 64
_MADE = {"take": b"\x89PNG", "larger": b"\x89PNG", "layer": b"\x89PNG", "small": b"RIFF"}
_ODD = "The file of the study is damaged ({}); save it again where it was made."


async def brought_in(session: AsyncSession, framer: Framer, opened: OpenedStudy, vet: Vet) -> Study:
    """Keep a study that came as a file, in the session's transaction.

    Raises
    ------
    BadInput : it is damaged, names what it does not hold, or there is no room for it. The files that were kept by then are let go with
    those that no record points at.
    """
    told, store = opened.study, framer.store
    check_room(store, opened.weight)
    _check_names(told)
    for body in told.files:
        data = await asyncio.to_thread(opened.data, body)
        if body.kind == "look":
            await _look(session, store, data)
            continue
        if body.kind in ("original", "guide"):
            await vet(data, _SIGHT)
        elif not data.startswith(_MADE[body.kind]):
            raise BadInput(_ODD.format(f"{body.path[:40]} is no such picture"))
        await asyncio.to_thread(store.put, data)
    bringing = _Bringing(session, framer, told)
    return await bringing.study()


async def _look(session: AsyncSession, store: ImageStore, data: bytes) -> None:
    """A learned look; one that is here already keeps its title."""
    dictionary = await asyncio.to_thread(read, data)
    known = await session.scalars(select(LearnedLook.file))
    if hashlib.sha256(data).hexdigest() not in set(known):
        await keep(session, store, dictionary)


def _check_names(told: StudyFile) -> None:
    """Whatever is pointed at is in the file."""
    files = {body.digest for body in told.files}
    sources, takes = {s.id for s in told.sources}, {t.id for t in told.takes}
    needed = {d for s in told.sources for d in (s.original, s.depth, s.region, s.subject) if d}
    needed |= {d for t in told.takes for d in (t.image, t.preview, t.thumb, t.region, t.subject) if d}
    needed |= {d for row in told.larger for d in (row.image, row.preview) if d}
    needed |= {d for stack in told.stacks for d in stack.body.pictures}
    if needed - files:
        raise BadInput(_ODD.format("it names a picture that it does not hold"))
    if {t.source for t in told.takes} | {w.source for w in told.sweeps} | {
        r.source for r in told.larger if r.source
    } > sources:
        raise BadInput(_ODD.format("it names a source that it does not hold"))
    stray = (
        {of for w in told.sweeps for of in w.takes}
        | {m.take for m in told.marks}
        | {r.take for r in told.larger if r.take}
    )
    if stray - takes:
        raise BadInput(_ODD.format("it names a take that it does not hold"))
    if len(sources) < len(told.sources) or len(takes) < len(told.takes):
        raise BadInput(_ODD.format("a number stands twice"))


class _Bringing:
    """One study on its way into the records: what its numbers are here."""

    def __init__(self, session: AsyncSession, framer: Framer, told: StudyFile) -> None:
        self._session, self._framer, self._told = session, framer, told
        self._sources = {part.id: uuid.uuid4() for part in told.sources}
        self._stacks = {part.id: uuid.uuid4() for part in told.stacks}
        self._takes: dict[uuid.UUID, uuid.UUID] = {}
        self._bytes = {body.digest: body.bytes for body in told.files}

    def _of(self, old: uuid.UUID) -> str | None:
        found = self._takes.get(old) or self._sources.get(old)
        return None if found is None else str(found)

    def _parents(self, parents: list[uuid.UUID]) -> list[str]:
        return [new for old in parents if (new := self._of(old)) is not None]

    async def study(self) -> Study:
        session, told = self._session, self._told
        study = Study(name=told.name, created=told.created)
        session.add(study)
        await session.flush()
        rows = {part.id: self._source(study, part) for part in told.sources}
        session.add_all(rows.values())
        await session.flush()
        recipes = [
            self._recipe(values) for values in [*(t.recipe for t in told.takes), *(w.recipe for w in told.sweeps)]
        ]
        await know(session, self._framer.store, {name for recipe in recipes for name in recipe.looks})
        for name in {name for recipe in recipes for name in recipe.looks}:
            if not is_known(name):
                raise BadInput(f"The study was made in the look {name[:40]}, which is neither here nor in its file.")
        ids = await recipe_rows(session, recipes) if recipes else {}
        for part in told.takes:
            await self._take(rows[part.source], part, ids)
        for stack in told.stacks:
            await begun(session, self._stack(study, stack), self._body(stack.body))
        # Parents and stacks are numbers that exist only now.
        for source in told.sources:
            rows[source.id].parents = self._parents(source.parents)
            rows[source.id].stack_id = self._stacks.get(source.stack) if source.stack else None
        await self._sweeps(study, ids)
        self._marks(study)
        self._larger(study)
        if told.wall is not None:
            session.add(Wall(study_id=study.id, body=told.wall.named(self._takes).model_dump(mode="json")))
        await note_words(session, study.id)
        return study

    def _recipe(self, values: dict[str, Any]) -> Recipe:
        return recipe_from({name: value for name, value in values.items() if name in Recipe.model_fields})

    def _source(self, study: Study, part: SourcePart) -> Source:
        faces = None if part.faces is None else [face.model_dump() for face in part.faces]
        return Source(
            id=self._sources[part.id], study_id=study.id, name=part.name, original=part.original, format=part.format,
            width=part.width, height=part.height, has_alpha=part.has_alpha, notes=part.notes,
            framing=part.framing.model_dump(), kind=part.kind, people=part.people, depth=part.depth, region=part.region,
            subject=part.subject, faces=faces, parents=[], made={"weights": part.weights} if part.weights else None,
            created=part.created,
        )  # fmt: skip

    def _stack(self, study: Study, part: StackPart) -> StackRow:
        return StackRow(
            id=self._stacks[part.id], study_id=study.id, name=part.name, parents=self._parents(part.parents),
            created=part.created,
        )  # fmt: skip

    def _body(self, body: Stack) -> Stack:
        """A stack whose layers name takes and sources by their numbers here."""
        layers = []
        for layer in body.model_dump(mode="json")["layers"]:
            kind, _, old = layer["origin"].partition(" ")
            if kind in ("take", "source"):
                try:
                    layer["origin"] = f"{kind} {self._of(uuid.UUID(old)) or 'elsewhere'}"
                except ValueError:
                    layer["origin"] = kind
            layers.append(layer)
        return stack_from({"width": body.width, "height": body.height, "layers": layers})

    async def _take(self, source: Source, part: TakePart, ids: dict[str, uuid.UUID]) -> None:
        recipe = self._recipe(part.recipe)
        row = Take(
            id=uuid.uuid4(), key=part.key, source_id=source.id, engine=part.engine, width=part.width, height=part.height,
            recipe_id=ids[hashlib.sha256(recipe.canonical().encode()).hexdigest()], steps=recipe.steps_run, step=0,
            state=TakeState.DONE if part.image else TakeState.STOPPED, image=part.image, preview=part.preview, thumb=part.thumb,
            bytes=self._bytes[part.image] if part.image else 0, seconds=part.seconds,
            expected=estimated(recipe, part.height, part.width, source.people),
            framing=part.framing.model_dump() if part.framing else source.framing, region=part.region, subject=part.subject,
            faces=None if part.faces is None else [face.model_dump() for face in part.faces],
            readings=_readings(part.readings), created=part.created, finished=part.finished,
        )  # fmt: skip
        row.key = await self._key(source, recipe, row)
        known = await self._session.scalar(select(Take).where(Take.key == row.key))
        if known is not None:
            # The same take is here: its own sweeps and this one share it.
            self._takes[part.id] = known.id
            return
        self._session.add(row)
        await self._session.flush()
        self._takes[part.id] = row.id

    async def _key(self, source: Source, recipe: Recipe, take: Take) -> str:
        """A take's key, worked out anew: it names what the picture was made of, and a file could say anything. One of another engine
        gets a key that no take of this one can have."""
        if take.engine == ENGINE_VERSION:
            _, pixels = await self._framer.framed(source, recipe.size, take.framing)
            guides = await self._framer.guides(source, recipe, take)
            if take_key(pixels, recipe, guides.key) == take.key:
                return take.key
        return hashlib.sha256(f"{source.id} {take.engine} {take.key}".encode()).hexdigest()

    async def _sweeps(self, study: Study, ids: dict[str, uuid.UUID]) -> None:
        rank = await last_rank(self._session)
        for part in self._told.sweeps:
            recipe = self._recipe(part.recipe)
            sweep = Sweep(
                study_id=study.id, source_id=self._sources[part.source], spans=[s.model_dump() for s in part.spans], rank=rank,
                recipe_id=ids[hashlib.sha256(recipe.canonical().encode()).hexdigest()], stopped=True, created=part.created,
            )  # fmt: skip
            self._session.add(sweep)
            await self._session.flush()
            self._session.add_all(
                Cell(sweep_id=sweep.id, position=k, take_id=self._takes[old]) for k, old in enumerate(part.takes)
            )

    def _marks(self, study: Study) -> None:
        marks = {self._takes[part.take]: part for part in self._told.marks}
        self._session.add_all(
            Mark(study_id=study.id, take_id=take, value=part.value and MarkValue(part.value), note=part.note)
            for take, part in marks.items()
        )

    def _larger(self, study: Study) -> None:
        for part in self._told.larger:
            self._session.add(
                Enlargement(
                    study_id=study.id, take_id=self._takes[part.take] if part.take else None,
                    source_id=self._sources[part.source] if part.source else None,
                    key=part.key, way=part.way, width=part.width, height=part.height, state=TakeState.DONE, done=100,
                    image=part.image, preview=part.preview, figures=part.figures.model_dump() if part.figures else None, created=part.created,
                    bytes=self._bytes[part.image],
                )
            )  # fmt: skip


def _readings(given: dict[str, Any] | None) -> dict[str, Any] | None:
    """Readings that can be shown; others are left out, and are read again by `warmtide reread`."""
    if given is None:
        return None
    try:
        figures = figures_of(given)
        json.dumps(figures, allow_nan=False)
        maps = [stored_map(given, name) for name in ("kept", "weight")]
        warnings, parts = given.get("warnings", []), given.get("parts", {})
        sound = all(isinstance(w, str) and len(w) < 200 for w in warnings) and all(
            np.isfinite(float(v)) for v in parts.values()
        )
        return given if sound and all(m is None or m.size < 1 << 20 for m in maps) else None
    except (TypeError, ValueError, KeyError, AttributeError):
        return None
