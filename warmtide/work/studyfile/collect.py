"""A study out of its records, as its file says it."""

import asyncio
import uuid
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ...core.model.errors import BadInput
from ...core.model.recipe import ENGINE_VERSION
from ...records.models import (
    Cell,
    Enlargement,
    LearnedLook,
    Mark,
    MarkValue,
    Source,
    StackRow,
    StackVersion,
    Study,
    Sweep,
    Take,
    TakeState,
    Wall,
)
from ...records.store import ImageStore
from .form import FOLDERS, FORMAT, VERSION, FileKind, StudyFile

# Which takes come with their pictures; the settings of all of them do.
Which = Literal["all", "kept", "none"]
_SUFFIX = {
    b"\x89PNG": "png",
    b"\xff\xd8\xff": "jpg",
    b"RIFF": "webp",
    b"II*\x00": "tif",
    b"MM\x00*": "tif",
    b"PK\x03\x04": "npz",
}


@dataclass
class _Files:
    """Files that the study needs, by their names; the first kind under which one is asked for counts."""

    kinds: dict[str, FileKind]

    def add(self, kind: FileKind, *digests: str | None) -> None:
        for digest in digests:
            if digest is not None:
                self.kinds.setdefault(digest, kind)


async def collected(session: AsyncSession, store: ImageStore, study: Study, which: Which) -> StudyFile:
    """What the file of a study says.

    Raises
    ------
    BadInput : one of its pictures is lost.
    """
    files = _Files({})
    sources = list(await session.scalars(select(Source).where(Source.study_id == study.id).order_by(Source.created)))
    sweeps = list(
        await session.scalars(
            select(Sweep)
            .where(Sweep.study_id == study.id, Sweep.deleted.is_(None))
            .options(
                selectinload(Sweep.recipe), selectinload(Sweep.cells).selectinload(Cell.take).selectinload(Take.recipe)
            )
            .order_by(Sweep.created)
        )
    )
    marks = list(await session.scalars(select(Mark).where(Mark.study_id == study.id)))
    takes = {cell.take.id: cell.take for sweep in sweeps for cell in sweep.cells if cell.take.source_id is not None}
    stacks = await _stacks(session, study.id)
    larger = [] if which == "none" else await _larger(session, study.id, takes)
    chosen = _chosen(which, takes, sources, stacks, marks, larger)
    for source in sources:
        files.add("original", source.original)
        files.add("guide", source.depth, source.region, source.subject)
    for _, version in stacks:
        files.add("layer", *version.files)
    for take in takes.values():
        files.add("guide", take.region, take.subject)
        if take.id in chosen:
            files.add("take", take.image)
            files.add("small", take.preview, take.thumb)
    for row in larger:
        files.add("larger", row.image)
        files.add("small", row.preview)
    for look in await _looks(session, takes.values()):
        files.add("look", look.file)
    bodies = await asyncio.to_thread(lambda: [_file(store, digest, kind) for digest, kind in files.kinds.items()])
    return StudyFile.model_validate(
        {
            "format": FORMAT, "version": VERSION, "engine": ENGINE_VERSION, "name": study.name, "created": study.created,
            "sources": [_source(source) for source in sources],
            "stacks": [
                {"id": row.id, "name": row.name, "parents": row.parents, "body": version.body, "created": row.created}
                for row, version in stacks
            ],
            "sweeps": [_sweep(sweep, takes) for sweep in sweeps],
            "takes": [_take(take, take.id in chosen) for take in takes.values()],
            "marks": [{"take": m.take_id, "value": m.value, "note": m.note} for m in marks if m.take_id in takes],
            "larger": [_larger_part(row) for row in larger],
            "wall": await session.scalar(select(Wall.body).where(Wall.study_id == study.id)),
            "files": bodies,
        }
    )  # fmt: skip


async def _stacks(session: AsyncSession, study_id: uuid.UUID) -> list[tuple[StackRow, StackVersion]]:
    rows = await session.execute(
        select(StackRow, StackVersion)
        .join(StackVersion, (StackVersion.stack_id == StackRow.id) & (StackVersion.number == StackRow.number))
        .where(StackRow.study_id == study_id)
    )
    return [(row, version) for row, version in rows.all()]


async def _larger(session: AsyncSession, study_id: uuid.UUID, takes: dict[uuid.UUID, Take]) -> list[Enlargement]:
    rows = await session.scalars(
        select(Enlargement).where(
            Enlargement.study_id == study_id, Enlargement.state == TakeState.DONE, Enlargement.image.is_not(None)
        )
    )
    return [row for row in rows if row.take_id is None or row.take_id in takes]


async def _looks(session: AsyncSession, takes: Iterable[Take]) -> list[LearnedLook]:
    """Learned looks that takes were made in."""
    names = {str(name) for t in takes for name in (t.recipe.body.get("look"), t.recipe.body.get("second_look")) if name}
    return list(await session.scalars(select(LearnedLook).where(LearnedLook.name.in_(names))))


def _chosen(
    which: Which,
    takes: dict[uuid.UUID, Take],
    sources: list[Source],
    stacks: list[tuple[StackRow, StackVersion]],
    marks: list[Mark],
    larger: list[Enlargement],
) -> set[uuid.UUID]:
    """Takes that come with their pictures: of those that are kept, also what something came of."""
    done = {take.id for take in takes.values() if take.state == TakeState.DONE and take.image is not None}
    if which == "all":
        return done
    if which == "none":
        return set()
    texts = [parent for source in sources for parent in source.parents] + [p for row, _ in stacks for p in row.parents]
    named = {uuid.UUID(text) for text in texts} | {row.take_id for row in larger}
    return done & (named | {mark.take_id for mark in marks if mark.value == MarkValue.KEEP})


def _source(source: Source) -> dict[str, Any]:
    names = ("id", "name", "original", "format", "width", "height", "has_alpha", "notes", "framing", "kind", "people", "depth", "region",
             "subject", "faces", "parents", "created")  # fmt: skip
    return {name: getattr(source, name) for name in names} | {
        "stack": source.stack_id,
        "weights": (source.made or {}).get("weights"),
    }


def _sweep(sweep: Sweep, takes: dict[uuid.UUID, Take]) -> dict[str, Any]:
    return {
        "id": sweep.id, "source": sweep.source_id, "recipe": sweep.recipe.body, "spans": sweep.spans, "created": sweep.created,
        "takes": [cell.take_id for cell in sweep.cells if cell.take_id in takes],
    }  # fmt: skip


def _take(take: Take, with_picture: bool) -> dict[str, Any]:
    names = ("id", "key", "engine", "width", "height", "framing", "region", "subject", "faces", "created")
    part = {name: getattr(take, name) for name in names} | {"source": take.source_id, "recipe": take.recipe.body}
    if with_picture:
        part |= {name: getattr(take, name) for name in ("image", "preview", "thumb", "seconds", "readings", "finished")}
    return part


def _larger_part(row: Enlargement) -> dict[str, Any]:
    names = ("id", "key", "way", "width", "height", "image", "preview", "figures", "created")
    return {name: getattr(row, name) for name in names} | {"take": row.take_id, "source": row.source_id}


def _file(store: ImageStore, digest: str, kind: FileKind) -> dict[str, Any]:
    try:
        size, head = store.size(digest), store.head(digest)
    except FileNotFoundError:
        raise BadInput(
            f"A picture of this study is lost ({digest[:12]}); `warmtide check --repair` makes takes again."
        ) from None
    suffix = next((s for magic, s in _SUFFIX.items() if head.startswith(magic)), "bin")
    return {"digest": digest, "kind": kind, "bytes": size, "path": f"{FOLDERS[kind]}/{digest}.{suffix}"}
