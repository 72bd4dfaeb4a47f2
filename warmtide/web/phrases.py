"""Sets of phrases that the artist keeps."""

from uuid import UUID

from fastapi import APIRouter, HTTPException
from sqlalchemy import select

from ..core.words.prompt import understand
from ..records.models import PhraseSet
from .program_schemas import PhraseSetChange, PhraseSetView
from .services import Session

router = APIRouter(tags=["phrases"])


def _view(row: PhraseSet) -> PhraseSetView:
    return PhraseSetView(id=row.id, name=row.name, prompt=row.prompt, avoid=row.avoid)


def _checked(change: PhraseSetChange) -> dict[str, str]:
    """What is kept, refused where a weight can't be read."""
    understand(change.prompt)
    understand(change.avoid)
    return {"name": change.name.strip(), "prompt": change.prompt, "avoid": change.avoid}


async def _row(session: Session, set_id: UUID) -> PhraseSet:
    row = await session.get(PhraseSet, set_id)
    if row is None:
        raise HTTPException(404)
    return row


@router.get("/phrases")
async def list_phrase_sets(session: Session) -> list[PhraseSetView]:
    """Every set, the newest first."""
    return [_view(row) for row in await session.scalars(select(PhraseSet).order_by(PhraseSet.created.desc()))]


@router.post("/phrases", status_code=201)
async def keep_phrase_set(change: PhraseSetChange, session: Session) -> PhraseSetView:
    row = PhraseSet(**_checked(change))
    session.add(row)
    await session.flush()
    return _view(row)


@router.put("/phrases/{set_id}")
async def change_phrase_set(set_id: UUID, change: PhraseSetChange, session: Session) -> PhraseSetView:
    row = await _row(session, set_id)
    for name, value in _checked(change).items():
        setattr(row, name, value)
    return _view(row)


@router.delete("/phrases/{set_id}", status_code=204)
async def forget_phrase_set(set_id: UUID, session: Session) -> None:
    await session.delete(await _row(session, set_id))
