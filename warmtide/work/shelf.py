"""Studies as the shelf shows them: found by words, kind, mark and date, page by page."""

import uuid
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Literal

from sqlalchemy import ColumnElement, and_, case, exists, func, select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..records.models import Cell, Mark, MarkValue, Source, Study, Sweep, Take, TakeState


@dataclass(frozen=True)
class Wanted:
    """Which studies: `words`, all of which stand in what a study is found by; `kind` of one of its sources; `mark` of one of its takes;
    touched `since` and `until` a day; those put away, or the others."""

    words: str = ""
    kind: str | None = None
    mark: str | None = None
    since: date | None = None
    until: date | None = None
    archived: bool = False


@dataclass(frozen=True)
class Shelved:
    """A study with what its card shows."""

    study: Study
    best: uuid.UUID | None
    takes: int
    kept: int


def _conditions(wanted: Wanted) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = [
        Study.deleted.is_(None),
        Study.archived.is_not(None) if wanted.archived else Study.archived.is_(None),
    ]
    for word in wanted.words.lower().translate(str.maketrans("-_", "  ")).split():
        found.append(Study.found_by.contains(word, autoescape=True))
    if wanted.kind:
        found.append(exists().where(Source.study_id == Study.id, Source.kind == wanted.kind))
    if wanted.mark:
        found.append(exists().where(Mark.study_id == Study.id, Mark.value == MarkValue(wanted.mark)))
    if wanted.since:
        found.append(Study.touched >= datetime.combine(wanted.since, time(), UTC))
    if wanted.until:
        found.append(Study.touched < datetime.combine(wanted.until + timedelta(1), time(), UTC))
    return found


Order = Literal["touched", "name", "created"]
_ORDERS = {"touched": Study.touched.desc(), "name": func.lower(Study.name), "created": Study.created.desc()}


async def shelved(
    session: AsyncSession, wanted: Wanted, offset: int = 0, limit: int | None = None, order: Order = "touched"
) -> tuple[list[Shelved], int]:
    """A page of studies, last touched first and the demo's behind, and how many there are in all.

    Cost: of the page alone, beside one look at the words of every study (5,000 in some milliseconds).
    """
    conditions = and_(*_conditions(wanted))
    total = await session.scalar(select(func.count()).select_from(Study).where(conditions)) or 0
    rows = await session.scalars(
        select(Study)
        .where(conditions)
        .options(selectinload(Study.sources))
        .order_by(Study.demo, _ORDERS[order], Study.id)
        .offset(offset)
        .limit(limit)
    )
    studies = list(rows)
    ids = [study.id for study in studies]
    counts = await _counts(session, ids)
    best, kept = await _marked(session, ids)
    best |= await _latest(session, [study_id for study_id in ids if study_id not in best])
    return [Shelved(s, best.get(s.id), counts.get(s.id, 0), kept.get(s.id, 0)) for s in studies], total


async def _counts(session: AsyncSession, ids: list[uuid.UUID]) -> dict[uuid.UUID, int]:
    """Finished takes of studies."""
    rows = await session.execute(
        select(Sweep.study_id, func.count(func.distinct(Take.id)))
        .join(Cell, Cell.sweep_id == Sweep.id)
        .join(Take, Take.id == Cell.take_id)
        .where(Take.state == TakeState.DONE, Sweep.study_id.in_(ids))
        .group_by(Sweep.study_id)
    )
    return {study: number for study, number in rows.all()}


async def _marked(
    session: AsyncSession, ids: list[uuid.UUID]
) -> tuple[dict[uuid.UUID, uuid.UUID], dict[uuid.UUID, int]]:
    """The take of each study that was kept last, else one that may be, and how many were kept."""
    best: dict[uuid.UUID, uuid.UUID] = {}
    kept: dict[uuid.UUID, int] = {}
    rows = await session.execute(
        select(Mark, Take.state)
        .join(Take, Take.id == Mark.take_id)
        .where(Mark.value.in_((MarkValue.KEEP, MarkValue.MAYBE)), Mark.study_id.in_(ids))
        .order_by(case((Mark.value == "keep", 0), else_=1), Mark.changed.desc())
    )
    for mark, state in rows.all():
        if state == TakeState.DONE:
            best.setdefault(mark.study_id, mark.take_id)
        kept[mark.study_id] = kept.get(mark.study_id, 0) + (mark.value == MarkValue.KEEP)
    return best, kept


async def _latest(session: AsyncSession, ids: list[uuid.UUID]) -> dict[uuid.UUID, uuid.UUID]:
    """The take of each study that was finished last."""
    rows = await session.execute(
        select(Sweep.study_id, Take.id)
        .distinct(Sweep.study_id)
        .join(Cell, Cell.sweep_id == Sweep.id)
        .join(Take, Take.id == Cell.take_id)
        .where(Take.state == TakeState.DONE, Sweep.study_id.in_(ids))
        .order_by(Sweep.study_id, Take.finished.desc())
    )
    return {study_id: take_id for study_id, take_id in rows.all()}
