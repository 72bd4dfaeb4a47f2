"""Studies and their sources."""

from datetime import UTC, date, datetime
from pathlib import PurePath
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Form, HTTPException, Query, Response, UploadFile
from sqlalchemy import func, select
from sqlalchemy.ext.asyncio import AsyncSession
from sqlalchemy.orm import selectinload

from ..core.model.text import Line
from ..core.understanding.kind import Kind
from ..records.models import Cell, Mark, MarkValue, Study, Sweep, Take, TakeState
from ..records.views import take_view
from ..records.words import note_words
from ..work import planning
from ..work.copying import copied
from ..work.shelf import Order, Shelved, Wanted, shelved
from .opening import opened
from .schemas import MarkChange, MarkView, ShelfView, StudyCard, StudyPatch, StudyView, SweepView, TakeView
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


async def study_view(session: AsyncSession, study: Study) -> StudyView:
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
    found, _ = await shelved(session, Wanted())
    return [card(one) for one in found]


def card(one: Shelved) -> StudyCard:
    """A study as the shelf shows it."""
    s = one.study
    return StudyCard(
        id=s.id, name=s.name, demo=s.demo, touched=s.touched, archived=s.archived is not None,
        source=source_view(s.sources[0]) if s.sources else None, best_take=one.best, takes=one.takes, kept=one.kept,
    )  # fmt: skip


@router.get("/shelf")
async def shelf(
    session: Session,
    shared: Shared,
    find: Annotated[Line, Query(max_length=200, description="words, all of which must be found")] = "",
    kind: Kind | None = None,
    mark: Literal["keep", "maybe", "drop"] | None = None,
    since: Annotated[date | None, Query(description="touched on this day or later")] = None,
    until: Annotated[date | None, Query(description="touched on this day or earlier")] = None,
    archived: Annotated[bool, Query(description="those that are put away, instead of the others")] = False,
    order: Order = "touched",
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 60,
) -> ShelfView:
    """A page of the shelf: studies found by their name, sources, looks, words and notes."""
    shared.live.warm()
    wanted = Wanted(find, kind, mark, since, until, archived)
    found, total = await shelved(session, wanted, offset, limit, order)
    return ShelfView(cards=[card(one) for one in found], total=total)


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
    await note_words(session, study.id)
    return await study_view(session, study)


@router.get("/studies/{study_id}", response_model=StudyView)
async def read_study(study_id: UUID, session: Session, shared: Shared) -> Response:
    """A study with all that it holds."""
    shared.live.warm()
    found = await opened(session, study_id)
    if found is None:
        raise HTTPException(404)
    return Response(found, media_type="application/json")


@router.patch("/studies/{study_id}")
async def change_study(study_id: UUID, change: StudyPatch, session: Session) -> StudyView:
    """Rename it, put it away, or take it out again; what is given is changed."""
    study = await study_named(session, study_id)
    if change.name is not None:
        study.name = change.name.strip()
    if change.archived is not None:
        study.archived = datetime.now(UTC) if change.archived else None
    await note_words(session, study.id)
    return await study_view(session, study)


@router.delete("/studies/{study_id}", status_code=204)
async def delete_study(study_id: UUID, session: Session, shared: Shared) -> None:
    """Take a study off the shelf, stopping what is left to do for it; it can be taken back for a week."""
    study = await study_named(session, study_id)
    for sweep in study.sweeps:
        if any(cell.take.state in (TakeState.QUEUED, TakeState.RUNNING) for cell in sweep.cells):
            await planning.stop(session, shared.queue, sweep.id)
    study.deleted = datetime.now(UTC)


@router.post("/studies/{study_id}/copy", status_code=201)
async def copy_study(study_id: UUID, session: Session) -> StudyView:
    """The same study once more, with its sources, touched pictures, sweeps and marks; pictures are shared, nothing is made again."""
    study = await study_named(session, study_id)
    number = await copied(session, study)
    session.expire_all()
    return await study_view(session, await study_named(session, number))


@router.post("/studies/{study_id}/restore")
async def restore_study(study_id: UUID, session: Session) -> StudyView:
    """Take a deleted study back."""
    study = await study_named(session, study_id, deleted=True)
    study.deleted = None
    return await study_view(session, study)


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
    await note_words(session, study_id)
    return MarkView(take_id=take_id, value=change.value, note=change.note)
