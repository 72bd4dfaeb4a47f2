"""Studies and their sources."""

from datetime import UTC, datetime
from pathlib import PurePath
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Form, HTTPException, UploadFile
from sqlalchemy import case, func, select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.model.text import Line
from ..records.models import Cell, Mark, MarkValue, Study, Sweep, Take, TakeState
from ..records.views import take_view
from ..work import planning
from .schemas import MarkChange, MarkView, StudyCard, StudyChange, StudyView, SweepView, TakeView
from .services import Session, Shared
from .sources import new_source, source_view

router = APIRouter(tags=["studies"])


def sweep_view(sweep: Sweep) -> SweepView:
    return SweepView.model_validate(
        {
            "id": sweep.id,
            "source_id": sweep.source_id,
            "recipe": sweep.recipe.body,
            "spans": sweep.spans,
            "created": sweep.created,
            "paused": sweep.paused,
            "takes": [TakeView.model_validate(take_view(cell.take)) for cell in sweep.cells],
        }
    )


async def study_named(session: AsyncSession, study_id: UUID, deleted: bool = False) -> Study:
    study = await session.scalar(
        select(Study)
        .where(Study.id == study_id)
        .options(
            selectinload(Study.sources),
            selectinload(Study.sweeps).selectinload(Sweep.recipe),
            selectinload(Study.sweeps).selectinload(Sweep.cells).selectinload(Cell.take).selectinload(Take.recipe),
        )
    )
    if study is None or (study.deleted is not None and not deleted):
        raise HTTPException(404)
    return study


async def _view(session: AsyncSession, study: Study) -> StudyView:
    marks = await session.scalars(select(Mark).where(Mark.study_id == study.id))
    return StudyView(
        id=study.id,
        name=study.name,
        demo=study.demo,
        sources=[source_view(source) for source in study.sources],
        sweeps=[sweep_view(sweep) for sweep in study.sweeps if sweep.deleted is None],
        marks=[MarkView(take_id=m.take_id, value=m.value, note=m.note) for m in marks],  # type: ignore[arg-type]
    )


@router.get("/studies")
async def list_studies(session: Session, shared: Shared) -> list[StudyCard]:
    """The shelf, last touched first."""
    # Whoever looks at the shelf opens a study next.
    shared.live.warm()
    studies = await session.scalars(
        select(Study)
        .where(Study.deleted.is_(None))
        .options(selectinload(Study.sources))
        .order_by(Study.demo, Study.touched.desc())
    )
    counted = await session.execute(
        select(Sweep.study_id, func.count(func.distinct(Take.id)))
        .join(Cell, Cell.sweep_id == Sweep.id)
        .join(Take, Take.id == Cell.take_id)
        .where(Take.state == TakeState.DONE)
        .group_by(Sweep.study_id)
    )
    counts = {study: number for study, number in counted}
    best: dict[UUID, UUID] = {}
    kept: dict[UUID, int] = {}
    order = case((Mark.value == "keep", 0), else_=1)
    rows = await session.execute(
        select(Mark, Take.state)
        .join(Take, Take.id == Mark.take_id)
        .where(Mark.value.in_((MarkValue.KEEP, MarkValue.MAYBE)))
        .order_by(order, Mark.changed.desc())
    )
    for mark, state in rows:
        if state == TakeState.DONE:
            best.setdefault(mark.study_id, mark.take_id)
        kept[mark.study_id] = kept.get(mark.study_id, 0) + (mark.value == MarkValue.KEEP)
    latest = await session.execute(
        select(Sweep.study_id, Take.id)
        .distinct(Sweep.study_id)
        .join(Cell, Cell.sweep_id == Sweep.id)
        .join(Take, Take.id == Cell.take_id)
        .where(Take.state == TakeState.DONE, Sweep.study_id.not_in(best))
        .order_by(Sweep.study_id, Take.finished.desc())
    )
    for study_id, take_id in latest:
        best.setdefault(study_id, take_id)
    return [
        StudyCard(
            id=s.id, name=s.name, demo=s.demo, touched=s.touched, source=source_view(s.sources[0]) if s.sources else None,
            best_take=best.get(s.id), takes=counts.get(s.id, 0), kept=kept.get(s.id, 0),
        )
        for s in studies
    ]  # fmt: skip


@router.post("/studies", status_code=201)
async def begin_study(
    session: Session, shared: Shared, file: UploadFile, name: Annotated[Line | None, Form(max_length=200)] = None
) -> StudyView:
    """Begin a study from a picture file."""
    shared.live.warm()
    source = await new_source(shared, file)
    study = Study(name=(name or PurePath(source.name).stem.replace("_", " ").replace("-", " ")).strip() or "Study")
    study.sources.append(source)
    study.sweeps = []
    session.add(study)
    await session.flush()
    return await _view(session, study)


@router.get("/studies/{study_id}")
async def read_study(study_id: UUID, session: Session, shared: Shared) -> StudyView:
    shared.live.warm()
    return await _view(session, await study_named(session, study_id))


@router.patch("/studies/{study_id}")
async def rename_study(study_id: UUID, change: StudyChange, session: Session) -> StudyView:
    study = await study_named(session, study_id)
    study.name = change.name.strip()
    return await _view(session, study)


@router.delete("/studies/{study_id}", status_code=204)
async def delete_study(study_id: UUID, session: Session, shared: Shared) -> None:
    """Take a study off the shelf, stopping what is left to do for it; it can be taken back for a week."""
    study = await study_named(session, study_id)
    for sweep in study.sweeps:
        if any(cell.take.state in (TakeState.QUEUED, TakeState.RUNNING) for cell in sweep.cells):
            await planning.stop(session, shared.queue, sweep.id)
    study.deleted = datetime.now(UTC)


@router.post("/studies/{study_id}/restore")
async def restore_study(study_id: UUID, session: Session) -> StudyView:
    """Take a deleted study back."""
    study = await study_named(session, study_id, deleted=True)
    study.deleted = None
    return await _view(session, study)


@router.put("/studies/{study_id}/marks/{take_id}")
async def mark_take(study_id: UUID, take_id: UUID, change: MarkChange, session: Session) -> MarkView:
    """Keep, maybe, drop or none, with a note."""
    if await session.get(Study, study_id) is None or await session.get(Take, take_id) is None:
        raise HTTPException(404)
    mark = await session.scalar(select(Mark).where(Mark.study_id == study_id, Mark.take_id == take_id))
    if mark is None:
        mark = Mark(study_id=study_id, take_id=take_id)
        session.add(mark)
    mark.value, mark.note, mark.changed = change.value and MarkValue(change.value), change.note, func.now()
    await session.flush()
    return MarkView(take_id=take_id, value=change.value, note=change.note)
