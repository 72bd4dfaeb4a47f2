"""A study as a file: out as it is made, in as it comes."""

import asyncio
import tempfile
from collections.abc import AsyncIterator
from typing import IO, Annotated
from uuid import UUID

from fastapi import APIRouter, HTTPException, Query, Request, Response
from fastapi.responses import StreamingResponse

from ..core.model.errors import BadInput
from ..records.models import Study
from ..work.disk import check_room
from ..work.studyfile.bring import brought_in
from ..work.studyfile.collect import Which, collected
from ..work.studyfile.form import StudyFile
from ..work.studyfile.opened import OpenedStudy
from ..work.studyfile.write import written
from .downloads import disposition, stem_of
from .guards import STUDY_FILES
from .schemas import StudyView
from .services import Services, Session, Shared
from .studies import study_named, study_view
from .turns import Turns

router = APIRouter(tags=["studies"])
# One after another: each may take a minute of this process's work.
_TURNS = Turns(1, 8, 120.0, "Another study is being brought in; try again in a moment.")


async def _pieces(shared: Services, told: StudyFile) -> AsyncIterator[bytes]:
    pieces = written(told, shared.store)
    while (piece := await asyncio.to_thread(next, pieces, None)) is not None:
        yield piece


@router.get("/studies/{study_id}/file", response_class=Response)
async def study_as_file(
    study_id: UUID,
    session: Session,
    shared: Shared,
    takes: Annotated[Which, Query(description="whose pictures come with it; the settings of all takes do")] = "all",
) -> StreamingResponse:
    """A study as one file (docs/formats.md), sent as it is made."""
    study = await session.get(Study, study_id)
    if study is None or study.deleted is not None:
        raise HTTPException(404)
    told = await collected(session, shared.store, study, takes)
    headers = {"Content-Disposition": disposition(f"{stem_of(study.name, 'study')}.study.zip")}
    return StreamingResponse(_pieces(shared, told), media_type=STUDY_FILES[0], headers=headers)


async def _received(request: Request, file: IO[bytes]) -> None:
    async for piece in request.stream():
        await asyncio.to_thread(file.write, piece)
    file.seek(0)


@router.post(
    "/studies/file",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {STUDY_FILES[1]: {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def bring_study_in(request: Request, session: Session, shared: Shared) -> StudyView:
    """Bring in a study that was saved as a file; it gets numbers of its own, and nothing that is here is changed."""
    if request.headers.get("content-type") not in STUDY_FILES:
        raise BadInput(f"A study comes as {' or '.join(STUDY_FILES)}.")
    # It lies on the disk while it is read, and then its pictures do.
    check_room(shared.store, 2 * int(request.headers.get("content-length", "0")))
    async with _TURNS.taken():
        # Beside the pictures, where the room is; on a fresh machine nothing was kept there yet.
        if shared.store.folder is not None:
            shared.store.folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=shared.store.folder) as file:
            await _received(request, file)
            opened = await asyncio.to_thread(OpenedStudy, file)
            try:
                number = (await brought_in(session, shared.framer, opened, shared.intake.read)).id
            finally:
                opened.close()
    session.expire_all()
    return await study_view(session, await study_named(session, number))
