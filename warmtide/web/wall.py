"""The wall: what was kept in a study, or in all of them, as it hangs; and taken away."""

import asyncio
from datetime import UTC, datetime
from typing import Annotated, Literal
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Form, HTTPException, Response
from pydantic import BaseModel, ConfigDict, Field, model_validator
from sqlalchemy import select
from sqlalchemy.orm import selectinload

from ..core.export.wall import Hung, WallWish, wall_pages
from ..core.model.wall import Caption, Size, WallBody
from ..records.models import Cell, Mark, MarkValue, Study, Sweep, Take, TakeState, Wall
from ..records.views import take_view
from .downloads import stem_of
from .exports import checked_order
from .finish_schemas import Of
from .finished import all_found, pixels
from .paper import on_paper
from .schemas import TakeView
from .services import Session, Shared

router = APIRouter(tags=["wall"])
# Pictures that hang at once; the newest, where more were kept.
_MOST = 400
_MOST_ON_PAPER = 120


class HungView(BaseModel):
    """A kept take, and where."""

    take: TakeView
    study_id: UUID
    study: str
    sweep_id: UUID
    kept: datetime


class WallView(BaseModel):
    body: WallBody
    hung: list[HungView]


class WallAsked(BaseModel):
    """A wall to take away, in the order given."""

    model_config = ConfigDict(extra="forbid")

    of: list[Of] = Field(min_length=1, max_length=_MOST_ON_PAPER)
    sizes: list[Size]
    captions: list[Caption]
    form: Literal["pdf", "png"] = "pdf"
    wish: WallWish = WallWish()

    @model_validator(mode="after")
    def _one_each(self) -> "WallAsked":
        if not len(self.of) == len(self.sizes) == len(self.captions):
            raise ValueError("give one size and one caption a picture")
        return self


async def _row(session: Session, study_id: UUID | None) -> Wall | None:
    where = Wall.study_id.is_(None) if study_id is None else Wall.study_id == study_id
    return await session.scalar(select(Wall).where(where))


async def _view(session: Session, study_id: UUID | None) -> WallView:
    row = await _row(session, study_id)
    first = (
        select(Cell.take_id, Sweep.study_id, Sweep.id.label("sweep"))
        .distinct(Cell.take_id, Sweep.study_id)
        .join(Sweep, Sweep.id == Cell.sweep_id)
        .where(Sweep.deleted.is_(None))
        .order_by(Cell.take_id, Sweep.study_id, Sweep.created.desc())
        .subquery()
    )
    wanted = (
        select(Mark, Take, Study, first.c.sweep)
        .join(Take, Take.id == Mark.take_id)
        .join(Study, Study.id == Mark.study_id)
        .join(first, (first.c.take_id == Mark.take_id) & (first.c.study_id == Mark.study_id))
        .where(Mark.value == MarkValue.KEEP, Take.state == TakeState.DONE, Study.deleted.is_(None))
        .options(selectinload(Take.recipe))
        .order_by(Mark.changed.desc())
        .limit(_MOST)
    )
    wanted = wanted.where(Study.archived.is_(None)) if study_id is None else wanted.where(Mark.study_id == study_id)
    hung = []
    seen = set()
    for mark, take, study, sweep in (await session.execute(wanted)).all():
        if take.id not in seen:
            seen.add(take.id)
            told = TakeView.model_validate(take_view(take))
            hung.append(HungView(take=told, study_id=study.id, study=study.name, sweep_id=sweep, kept=mark.changed))
    return WallView(body=WallBody.model_validate(row.body) if row else WallBody(), hung=hung)


async def _keep(session: Session, study_id: UUID | None, body: WallBody) -> WallView:
    row = await _row(session, study_id)
    if row is None:
        row = Wall(study_id=study_id, body={})
        session.add(row)
    row.body, row.changed = body.model_dump(mode="json"), datetime.now(UTC)
    await session.flush()
    return await _view(session, study_id)


@router.get("/wall")
async def wall_of_all(session: Session) -> WallView:
    """What was kept in all studies that are on the shelf."""
    return await _view(session, None)


@router.put("/wall")
async def hang_all(body: WallBody, session: Session) -> WallView:
    return await _keep(session, None, body)


@router.get("/studies/{study_id}/wall")
async def wall_of_study(study_id: UUID, session: Session) -> WallView:
    """What was kept in a study."""
    await _study(session, study_id)
    return await _view(session, study_id)


@router.put("/studies/{study_id}/wall")
async def hang_study(study_id: UUID, body: WallBody, session: Session) -> WallView:
    await _study(session, study_id)
    return await _keep(session, study_id, body)


async def _study(session: Session, study_id: UUID) -> None:
    study = await session.get(Study, study_id)
    if study is None or study.deleted is not None:
        raise HTTPException(404)


@router.post("/exports/wall", response_class=Response)
async def export_wall(
    order: Annotated[str, Form(description="a `WallAsked` as JSON")], session: Session, shared: Shared
) -> Response:
    """A wall as a PDF, a PNG, or a ZIP of PNGs where it has several pages."""
    asked = checked_order(WallAsked, order)
    pictures = await all_found(session, asked.of)
    hung = []
    for what, size, caption in zip(pictures, asked.sizes, asked.captions, strict=True):
        picture = await pixels(shared, what)
        hung.append(Hung(np.ascontiguousarray(picture[..., :3]), size, caption))
    pages = await asyncio.to_thread(wall_pages, hung, asked.wish)
    stem = stem_of(asked.wish.title, "wall")
    return await on_paper(pages, asked.form, stem)
