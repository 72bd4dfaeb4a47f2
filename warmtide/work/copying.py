"""A study once more: records of its own, pictures shared."""

import uuid
from typing import Any

from sqlalchemy import select
from sqlalchemy.ext.asyncio import AsyncSession

from ..records.models import Base, Cell, Enlargement, Mark, Source, StackRow, StackVersion, Study, Sweep, Wall
from ..records.words import note_words

_MOST_NAME = 200


def _again(row: Base, **changes: Any) -> dict[str, Any]:
    """A record's values with some of them changed."""
    return {column.key: getattr(row, column.key) for column in row.__mapper__.column_attrs} | changes


async def copied(session: AsyncSession, study: Study) -> uuid.UUID:
    """Copy a study with all that it holds; the number of the new one. What is still to be rendered is not waited for by the copy."""
    new = Study(name=f"{study.name[: _MOST_NAME - 7]}, again")
    session.add(new)
    await session.flush()
    stacks = list(await session.scalars(select(StackRow).where(StackRow.study_id == study.id)))
    sources = list(await session.scalars(select(Source).where(Source.study_id == study.id)))
    numbers = {old: uuid.uuid4() for old in [*(row.id for row in stacks), *(row.id for row in sources)]}

    def parents(texts: list[str]) -> list[str]:
        known = {str(old): str(number) for old, number in numbers.items()}
        return [known.get(text, text) for text in texts]

    for stack in stacks:
        session.add(StackRow(**_again(stack, id=numbers[stack.id], study_id=new.id, parents=parents(stack.parents))))
    await session.flush()
    for stack in stacks:
        for version in await session.scalars(select(StackVersion).where(StackVersion.stack_id == stack.id)):
            session.add(StackVersion(**_again(version, stack_id=numbers[stack.id])))
    for source in sources:
        of = numbers[source.stack_id] if source.stack_id else None
        session.add(
            Source(
                **_again(source, id=numbers[source.id], study_id=new.id, stack_id=of, parents=parents(source.parents))
            )
        )
    await session.flush()
    await _sweeps(session, study, new, numbers)
    for mark in await session.scalars(select(Mark).where(Mark.study_id == study.id)):
        session.add(Mark(**_again(mark, id=uuid.uuid4(), study_id=new.id)))
    for row in await session.scalars(
        select(Enlargement).where(Enlargement.study_id == study.id, Enlargement.image.is_not(None))
    ):
        source_id = numbers.get(row.source_id) if row.source_id else None
        session.add(Enlargement(**_again(row, id=uuid.uuid4(), study_id=new.id, source_id=source_id, job_id=None)))
    for wall in await session.scalars(select(Wall).where(Wall.study_id == study.id)):
        session.add(Wall(**_again(wall, id=uuid.uuid4(), study_id=new.id)))
    await note_words(session, new.id)
    return new.id


async def _sweeps(session: AsyncSession, study: Study, new: Study, numbers: dict[uuid.UUID, uuid.UUID]) -> None:
    sweeps = list(await session.scalars(select(Sweep).where(Sweep.study_id == study.id, Sweep.deleted.is_(None))))
    for sweep in sweeps:
        number = uuid.uuid4()
        session.add(
            Sweep(**_again(sweep, id=number, study_id=new.id, source_id=numbers[sweep.source_id], stopped=True))
        )
        await session.flush()
        for cell in await session.scalars(select(Cell).where(Cell.sweep_id == sweep.id)):
            session.add(Cell(sweep_id=number, position=cell.position, take_id=cell.take_id))
    await session.flush()
