"""A study's tree out of its records."""

import uuid
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import PurePath
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.finish.enlarge.registry import ways
from ..core.job.engine import engines
from ..core.lineage.changes import changes, span_said, values_said
from ..core.lineage.tree import Node, known_parents
from ..core.looks.registry import looks
from ..core.model.recipe import BUILT_IN
from ..records.models import (
    Cell,
    Enlargement,
    LearnedLook,
    Mark,
    MarkValue,
    Source,
    StackRow,
    StackVersion,
    Sweep,
    Take,
    TakeState,
)

# What the origin of a layer begins with, where it is a take or a source.
_ORIGINS = ("take ", "source ")
_LED_BY = (("region", "in a region"), ("subject", "subject painted"), ("faces", "faces marked"))


@dataclass
class _Records:
    """What a study's tree is made of; `places` says in which sweep a take stands first."""

    titles: dict[str, str]
    sources: list[Source]
    stacks: list[tuple[StackRow, StackVersion | None]]
    sweeps: dict[uuid.UUID, Sweep]
    counts: dict[uuid.UUID, int]
    takes: dict[uuid.UUID, Take]
    places: dict[uuid.UUID, uuid.UUID]
    marks: dict[uuid.UUID, str]
    larger: list[Enlargement]
    carried: dict[str, str] = field(default_factory=dict)


def _ids(texts: Iterable[str]) -> set[uuid.UUID]:
    found = set()
    for text in texts:
        try:
            found.add(uuid.UUID(text))
        except ValueError:
            continue
    return found


def _origins(version: StackVersion | None) -> list[str]:
    """Ids of the takes and sources that lie in a touched picture, as layers name them."""
    layers = version.body.get("layers", ()) if version else ()
    said = [str(layer.get("origin", "")) for layer in layers]
    return [origin.split(" ", 1)[1] for origin in said if origin.startswith(_ORIGINS)]


async def titles_of(session: AsyncSession) -> dict[str, str]:
    """Titles of all looks by their names."""
    others = [look for engine in engines().values() if engine.name != BUILT_IN for look in engine.about.looks]
    titles = {look.name: look.title for look in others} | {look.name: look.title for look in looks().values()}
    return titles | {row.name: row.title for row in await session.scalars(select(LearnedLook))}


async def _stacks(session: AsyncSession, study_id: uuid.UUID) -> list[tuple[StackRow, StackVersion | None]]:
    rows = await session.execute(
        select(StackRow, StackVersion)
        .outerjoin(StackVersion, (StackVersion.stack_id == StackRow.id) & (StackVersion.number == StackRow.number))
        .where(StackRow.study_id == study_id)
        .order_by(StackRow.created)
    )
    return [(row, version) for row, version in rows.all()]


async def _read(session: AsyncSession, study_id: uuid.UUID, wanted: set[uuid.UUID]) -> _Records:
    sources = list(await session.scalars(select(Source).where(Source.study_id == study_id).order_by(Source.created)))
    stacks = await _stacks(session, study_id)
    larger = list(
        await session.scalars(
            select(Enlargement)
            .where(Enlargement.study_id == study_id, Enlargement.state == TakeState.DONE)
            .order_by(Enlargement.created)
        )
    )
    marks = {
        mark.take_id: mark.value.value
        for mark in await session.scalars(select(Mark).where(Mark.study_id == study_id, Mark.value.is_not(None)))
        if mark.value
    }
    named = _ids(parent for source in sources for parent in source.parents)
    named |= _ids(name for row, version in stacks for name in (*row.parents, *_origins(version)))
    named |= {row.take_id for row in larger if row.take_id}
    kept = {take_id for take_id, value in marks.items() if value == MarkValue.KEEP}
    takes = {
        take.id: take
        for take in await session.scalars(
            select(Take)
            .where(Take.id.in_(named | kept | wanted), Take.state == TakeState.DONE)
            .options(selectinload(Take.recipe))
        )
    }
    cells = await session.execute(
        select(Cell.take_id, Sweep.id)
        .join(Sweep, Sweep.id == Cell.sweep_id)
        .where(Cell.take_id.in_(takes), Sweep.study_id == study_id)
        .order_by(Sweep.created.desc(), Cell.position.desc())
    )
    # A take stands where it stood first, and takes as they stand in their sweeps.
    places = {take_id: sweep_id for take_id, sweep_id in cells.all()}
    known = [take_id for take_id in takes if take_id in places or take_id in named or take_id in kept]
    takes = {take_id: takes[take_id] for take_id in dict.fromkeys([*reversed(places), *known])}
    sweeps = {
        sweep.id: sweep
        for sweep in await session.scalars(
            select(Sweep)
            .where(Sweep.study_id == study_id, Sweep.deleted.is_(None) | Sweep.id.in_(places.values()))
            .options(selectinload(Sweep.recipe))
            .order_by(Sweep.created)
        )
    }
    rows = await session.execute(
        select(Cell.sweep_id, func.count()).where(Cell.sweep_id.in_(sweeps)).group_by(Cell.sweep_id)
    )
    counts = {sweep_id: number for sweep_id, number in rows.all()}
    return _Records(await titles_of(session), sources, stacks, sweeps, counts, takes, places, marks, larger)


def _place_of(records: _Records, text: str) -> str:
    """The node that stands for a take or a source by its id alone."""
    if text in records.carried:
        return records.carried[text]
    found = _ids([text])
    return f"take:{text}" if found and next(iter(found)) in records.takes else f"source:{text}"


def _carried(records: _Records) -> dict[str, str]:
    """Sources that are a take as it was: they are one node with it."""
    return {
        str(source.id): f"take:{source.parents[0]}"
        for source in records.sources
        if source.stack_id is None and len(source.parents) == 1 and _ids(source.parents) & set(records.takes)
    }


def _heaviest_first(source: Source) -> list[tuple[float, str]]:
    """What a source was made of with its weights: the heaviest, which gave its layout, first."""
    weights = (source.made or {}).get("weights") or [1.0] * len(source.parents)
    return sorted(zip(weights, source.parents, strict=False), key=lambda pair: -pair[0])


def _source_nodes(records: _Records) -> list[Node]:
    layers = {row.id: _origins(version) for row, version in records.stacks}
    known = {str(source.id) for source in records.sources}
    nodes = []
    for source in records.sources:
        if str(source.id) in records.carried:
            continue
        weighed = _heaviest_first(source)
        parents = [parent for _, parent in weighed]
        stem = PurePath(source.name).stem
        if source.stack_id is not None:
            parents += [name for name in layers.get(source.stack_id, ()) if name not in parents]
            kind, title = "hand", "Touched by hand"
        elif len(parents) > 1:
            kind, title = "mixed", "Mixed"
        else:
            # A take that was carried on and is gone is no cut-out.
            kind, title = ("cut", "Cut out") if known & set(parents) else ("source", stem)
        whole = sum(weight for weight, _ in weighed) if kind == "mixed" and source.made else 0
        says = (" : ".join(f"{100 * weight / whole:.0f}" for weight, _ in weighed),) if whole else ()
        also = (f"stack:{source.stack_id}",) if source.stack_id else ()
        places = tuple(dict.fromkeys(_place_of(records, parent) for parent in parents))
        nodes.append(Node(f"source:{source.id}", kind, title, says, f"source:{source.id}", places, also))  # type: ignore[arg-type]
    made = {source.stack_id for source in records.sources}
    for row, version in records.stacks:
        if row.id not in made:
            parents = list(dict.fromkeys([*row.parents, *_origins(version)]))
            places = tuple(_place_of(records, parent) for parent in parents)
            nodes.append(
                Node(f"stack:{row.id}", "hand", "Touched by hand", ("not taken further",), f"stack:{row.id}", places)
            )
    return nodes


def _sweep_nodes(records: _Records) -> list[Node]:
    nodes = []
    before: dict[uuid.UUID, dict[str, Any]] = {}
    sources = {source.id: source for source in records.sources}
    for sweep in records.sweeps.values():
        source = sources.get(sweep.source_id)
        recipe, spanned = sweep.recipe.body, [span["control"] for span in sweep.spans]
        said = [span_said(span["control"], list(span["values"]), records.titles) for span in sweep.spans]
        earlier = before.get(sweep.source_id) or _recipe_before(records, source)
        if earlier is None:
            said += values_said(recipe, [n for n in ("strength",) if n not in spanned], records.titles)
            said += [f"+ {text}" for text in (recipe.get("prompt"),) if text and "prompt" not in spanned]
        else:
            plain = {name: value for name, value in recipe.items() if name not in spanned}
            flat = {name: earlier[name] for name in spanned if name in earlier}
            held = {n: (earlier.get("holds") or {}).get(n) for n in spanned if n in (earlier.get("holds") or {})}
            now = {**plain, **flat, "holds": {**recipe.get("holds", {}), **held}}
            said += changes(earlier, now, records.titles)
        led = tuple(words for name, words in _LED_BY if source is not None and getattr(source, name))
        before[sweep.source_id] = recipe
        look = records.titles.get(recipe["look"], recipe["look"])
        title = "Looks" if "look" in spanned else look
        parent = _place_of(records, str(sweep.source_id))
        nodes.append(
            Node(
                f"sweep:{sweep.id}", "sweep", title, (*said, *led), None, (parent,),
                count=records.counts.get(sweep.id, 0), sweep=str(sweep.id), led=led,
            )
        )  # fmt: skip
    return nodes


def _recipe_before(records: _Records, source: Source | None) -> dict[str, Any] | None:
    """The recipe of the take that a source came from; of a mix, of its heaviest."""
    for _, text in _heaviest_first(source) if source else ():
        for parent in _ids([text]) & set(records.takes):
            return records.takes[parent].recipe.body
    return None


def _take_nodes(records: _Records) -> list[Node]:
    also: dict[str, list[str]] = {}
    for source_id, place in records.carried.items():
        also.setdefault(place, []).append(f"source:{source_id}")
    nodes = []
    for take in records.takes.values():
        recipe, sweep_id = take.recipe.body, records.places.get(take.id)
        sweep = records.sweeps.get(sweep_id) if sweep_id else None
        spanned = [span["control"] for span in sweep.spans] if sweep else ["strength", "seed"]
        name = f"take:{take.id}"
        parent = f"sweep:{sweep_id}" if sweep else f"source:{take.source_id}"
        nodes.append(
            Node(
                name, "take", records.titles.get(recipe["look"], recipe["look"]),
                values_said(recipe, [n for n in spanned if n != "look"] or ["strength"], records.titles), name, (parent,),
                tuple(also.get(name, ())), mark=records.marks.get(take.id), sweep=str(sweep_id) if sweep_id else None, recipe=recipe,
            )
        )  # fmt: skip
    return nodes


def _larger_nodes(records: _Records) -> list[Node]:
    nodes = []
    for row in records.larger:
        way = ways().get(row.way)
        of = _place_of(records, str(row.take_id or row.source_id))
        says = (f"{row.width} \u00d7 {row.height} px",)
        nodes.append(Node(f"larger:{row.id}", "larger", way.title if way else row.way, says, f"larger:{row.id}", (of,)))
    return nodes


async def lineage_of(session: AsyncSession, study_id: uuid.UUID, wanted: Iterable[uuid.UUID] = ()) -> tuple[Node, ...]:
    """The tree of a study: sources, sweeps, and of their takes those that are kept, that something came of, or that are `wanted`."""
    records = await _read(session, study_id, set(wanted))
    records.carried |= _carried(records)
    return known_parents(
        [*_source_nodes(records), *_sweep_nodes(records), *_take_nodes(records), *_larger_nodes(records)]
    )
