"""What an artist gives beside a source: a depth guide, a region, marked faces."""

import asyncio
from dataclasses import asdict
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Response, UploadFile

from ..core.pictures.framing import Framing, framed_points
from ..core.pictures.guide import guide_plane
from ..core.pictures.image import decode, png
from ..core.understanding.faces import find_faces, moved_faces
from ..records.models import FaceBody, Source
from .schemas import FaceMark, FacesChange, FacesView, SourceView
from .services import Services, Session, Shared
from .sources import source_named, source_view

router = APIRouter(tags=["sources"])
_SEEN = 1024


async def _kept(shared: Services, file: UploadFile, name: str) -> str:
    """Keep a grey guide that says something; its digest."""
    data, picture = await shared.intake.picture(file, _SEEN)
    await asyncio.to_thread(guide_plane, picture.rgba, name)
    return await asyncio.to_thread(shared.store.put, data)


@router.put("/sources/{source_id}/depth")
async def give_depth(source_id: UUID, session: Session, shared: Shared, file: UploadFile) -> SourceView:
    """Give a depth guide: a grey picture, white near; it is cropped to the source's shape."""
    source = await source_named(session, source_id)
    source.depth = await _kept(shared, file, "depth")
    return source_view(source)


@router.delete("/sources/{source_id}/depth")
async def take_depth_away(source_id: UUID, session: Session) -> SourceView:
    source = await source_named(session, source_id)
    source.depth = None
    return source_view(source)


@router.put("/sources/{source_id}/region")
async def give_region(source_id: UUID, session: Session, shared: Shared, file: UploadFile) -> SourceView:
    """Say where takes may change the source: a grey picture of its shape, white where all may change, black where nothing does."""
    source = await source_named(session, source_id)
    source.region = await _kept(shared, file, "region")
    return source_view(source)


@router.delete("/sources/{source_id}/region")
async def take_region_away(source_id: UUID, session: Session) -> SourceView:
    """Let takes change the whole source again; those that exist stay as they are."""
    source = await source_named(session, source_id)
    source.region = None
    return source_view(source)


@router.get("/sources/{source_id}/region", response_class=Response)
async def source_region(source_id: UUID, session: Session, shared: Shared) -> Response:
    """The region as it was given, as a grey PNG."""
    source = await source_named(session, source_id)
    if source.region is None:
        raise HTTPException(404)
    digest = source.region
    plane = await asyncio.to_thread(lambda: guide_plane(decode(shared.store.get(digest)).rgba, "region"))
    data = await asyncio.to_thread(png, np.dstack([plane] * 3))
    return Response(data, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.get("/sources/{source_id}/faces")
async def source_faces(source_id: UUID, session: Session, shared: Shared) -> FacesView:
    """The faces that takes are made with: marked by the artist, else found in the framed source."""
    source = await source_named(session, source_id)
    if source.faces is not None:
        return FacesView(marked=True, faces=[FaceMark(**face) for face in source.faces])
    return FacesView(marked=False, faces=await _found(source, shared))


async def _found(source: Source, shared: Services) -> list[FaceMark]:
    """Faces of a source as framed, measured on the source as it came."""
    picture, _ = await shared.framer.framed(source, _SEEN)
    points = np.vstack([framed_points(source.height, source.width, Framing.model_validate(source.framing)), (0, 0, 1)])
    long_side = max(source.height, source.width)
    # From shares of the framed picture's long side to those of the original's.
    back = np.linalg.inv(points)[:2] / long_side
    faces = moved_faces(await asyncio.to_thread(find_faces, picture), 1.0, back)
    return [FaceMark(**asdict(face)) for face in faces]


@router.put("/sources/{source_id}/faces")
async def mark_faces(source_id: UUID, change: FacesChange, session: Session, shared: Shared) -> SourceView:
    """Say where the source's faces are, or let them be found again. Takes that exist stay as they are."""
    source = await source_named(session, source_id)
    source.faces = (
        None
        if change.faces is None
        else [FaceBody(x=face.x, y=face.y, width=face.width, angle=face.angle) for face in change.faces]
    )
    source.people = bool(await _found(source, shared) if change.faces is None else change.faces)
    return source_view(source)
