"""Looks that the artist makes: learned from pictures, renamed, shared as a file, brought in, forgotten."""

import asyncio
import re
from typing import Annotated

from fastapi import APIRouter, Form, HTTPException, Response, UploadFile

from ..core.looks.learned.dictionary import MOST_REFERENCES, read
from ..core.model.errors import BadInput
from ..core.model.text import Line, cleaned
from ..core.pictures.framing import Framing, frame
from ..core.pictures.image import FILE_LIMIT
from ..records.models import LearnedLook
from ..work import learned
from .downloads import as_file, stem_of
from .program_schemas import LookView
from .schemas import StudyChange
from .services import Session, Shared

router = APIRouter(tags=["looks"])
# Long sides that references are read with at least, and then learned from.
_READ_SIDE, _REFERENCE_SIDE = 2048, 1024


def learned_view(row: LearnedLook) -> LookView:
    count = "one reference picture" if row.references == 1 else f"{row.references} reference pictures"
    return LookView(
        name=row.name, title=row.title, category="learned", kinds=["photo", "sketch", "render", "flat art"],
        description=f"learned from {count}", strengths=[0.4, 0.8],
    )  # fmt: skip


@router.post("/looks", status_code=201)
async def learn_look(
    session: Session, shared: Shared, files: list[UploadFile], title: Annotated[Line, Form(max_length=80)] = ""
) -> LookView:
    """Learn a look from one to ten pictures."""
    if len(files) > MOST_REFERENCES:
        raise BadInput(f"A look is learned from one to {MOST_REFERENCES} pictures, not {len(files)}.")
    pictures = []
    for number, file in enumerate(files, 1):
        try:
            _, decoded = await shared.intake.picture(file, _READ_SIDE)
        except BadInput as error:
            raise BadInput(f"Reference {number}: {error}") from None
        pictures.append(await asyncio.to_thread(frame, decoded.rgba, Framing(), _REFERENCE_SIDE))
    stem = cleaned(re.sub(r"\.[^.]*$", "", files[0].filename or "")) if files else ""
    dictionary = await learned.learned_from(pictures, title.strip() or stem.replace("_", " ").strip() or "Learned look")
    return learned_view(await learned.keep(session, shared.store, dictionary))


@router.post("/looks/file", status_code=201)
async def bring_in_look(session: Session, shared: Shared, file: UploadFile) -> LookView:
    """Bring in the file of a learned look (docs/formats.md)."""
    data = await file.read(FILE_LIMIT + 1)
    return learned_view(await learned.keep(session, shared.store, await asyncio.to_thread(read, data)))


async def _row(session: Session, name: str) -> LearnedLook:
    row = await session.get(LearnedLook, name)
    if row is None:
        raise HTTPException(404)
    return row


@router.get("/looks/{name}/file", response_class=Response)
async def look_file(name: str, session: Session, shared: Shared) -> Response:
    """The file of a learned look."""
    row = await _row(session, name)
    data = await asyncio.to_thread(shared.store.get, row.file)
    return as_file(data, "application/octet-stream", f"{stem_of(row.title, 'look')}.npz")


@router.patch("/looks/{name}")
async def rename_look(name: str, change: StudyChange, session: Session) -> LookView:
    row = await _row(session, name)
    row.title = change.name.strip()[:80]
    return learned_view(row)


@router.delete("/looks/{name}", status_code=204)
async def forget_look(name: str, session: Session) -> None:
    """Forget a learned look; takes made with it stay."""
    await session.delete(await _row(session, name))
