"""What an artist gives beside a source: a depth guide, a region, marked faces, a mended subject."""

import asyncio
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Response, UploadFile

from ..core.engine.seen import seen_of
from ..core.model.face import Face
from ..core.model.guides import Guides
from ..core.model.recipe import Recipe
from ..core.pictures.framing import Framing, frame, framed_points
from ..core.pictures.guide import guide_plane
from ..core.pictures.image import decode, png
from ..core.understanding.faces import find_faces, framed_faces, moved_faces, pointed
from ..core.understanding.people.features import OUTLINES
from ..records.models import FaceBody, Source
from .schemas import FacesChange, FacesView, FoundFace, SourceView
from .services import Services, Session, Shared
from .sources import source_named, source_view

router = APIRouter(tags=["sources"])
_SEEN = 1024
# The subject's map is calm: this is enough of it.
_SUBJECT_SEEN = 512
_SAME_MARK = 1e-3


async def _kept(shared: Services, file: UploadFile, name: str) -> str:
    """Keep a grey guide that says something; its digest."""
    data, picture = await shared.intake.picture(file, _SEEN)
    await asyncio.to_thread(guide_plane, picture.rgba, name)
    return await asyncio.to_thread(shared.store.put, data)


async def _as_given(shared: Services, digest: str, name: str) -> Response:
    """A guide that is kept, as a grey PNG."""

    def drawn() -> bytes:
        return png(np.dstack([guide_plane(decode(shared.store.get(digest)).rgba, name)] * 3))

    return Response(await asyncio.to_thread(drawn), media_type="image/png", headers={"Cache-Control": "no-cache"})


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
    return await _as_given(shared, source.region, "region")


@router.put("/sources/{source_id}/subject")
async def mend_subject(source_id: UUID, session: Session, shared: Shared, file: UploadFile) -> SourceView:
    """Say what belongs to the source's subject: a grey picture of its shape, white in, black out, grey 128 where nothing is said."""
    source = await source_named(session, source_id)
    source.subject = await _kept(shared, file, "subject")
    return source_view(source)


@router.delete("/sources/{source_id}/subject")
async def forget_subject(source_id: UUID, session: Session) -> SourceView:
    """Let the subject be what is found; takes that exist stay as they are."""
    source = await source_named(session, source_id)
    source.subject = None
    return source_view(source)


@router.get("/sources/{source_id}/subject", response_class=Response)
async def source_subject(source_id: UUID, session: Session, shared: Shared) -> Response:
    """What the source is about, as a grey PNG of its shape: white the subject, black the surroundings."""
    source = await source_named(session, source_id)
    original, said = source.original, source.subject
    marked = framed_faces(source.faces, source.height, source.width, Framing())

    def drawn() -> bytes:
        picture = frame(shared.framer.original(original, (), _SUBJECT_SEEN).rgba, Framing(), _SUBJECT_SEEN)
        strokes = None if said is None else guide_plane(decode(shared.store.get(said)).rgba, "subject")
        plane = seen_of(picture, Guides(faces=marked, subject=strokes)).subject.plane
        return png(np.dstack([np.clip(plane * 255 + 0.5, 0, 255).astype(np.uint8)] * 3))

    return Response(await asyncio.to_thread(drawn), media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.get("/sources/{source_id}/subject/strokes", response_class=Response)
async def subject_strokes(source_id: UUID, session: Session, shared: Shared) -> Response:
    """What was painted into the subject and out of it, as it was given."""
    source = await source_named(session, source_id)
    if source.subject is None:
        raise HTTPException(404)
    return await _as_given(shared, source.subject, "subject")


@router.get("/sources/{source_id}/faces")
async def source_faces(source_id: UUID, session: Session, shared: Shared) -> FacesView:
    """The faces that takes are made with: marked by the artist, else found in the framed source."""
    source = await source_named(session, source_id)
    found = await _found(source, shared)
    if source.faces is None:
        return FacesView(marked=False, faces=found)
    # What the frame cuts off keeps its mark; only points are missing there.
    return FacesView(marked=True, faces=[_with_points(FoundFace(**face), found) for face in source.faces])


def _with_points(marked: FoundFace, found: list[FoundFace]) -> FoundFace:
    near = [f for f in found if abs(f.x - marked.x) + abs(f.y - marked.y) < _SAME_MARK]
    return near[0].model_copy(update=marked.model_dump(include={"x", "y", "width", "angle"})) if near else marked


def _outlines(face: Face) -> list[list[list[float]]]:
    if face.points is None:
        return []
    places = face.points.places
    return [[[round(float(places[i, 0]), 5), round(float(places[i, 1]), 5)] for i in line] for line in OUTLINES]


async def _found(source: Source, shared: Services) -> list[FoundFace]:
    """Faces of a source as framed, measured on the source as it came."""
    picture, _ = await shared.framer.framed(source, _SEEN)
    guides = await shared.framer.guides(source, Recipe(size=_SEEN))
    framed = np.vstack([framed_points(source.height, source.width, Framing.model_validate(source.framing)), (0, 0, 1)])
    long_side = max(source.height, source.width)
    # From shares of the framed picture's long side to those of the original's.
    back = np.linalg.inv(framed)[:2] / long_side

    def seen() -> tuple[Face, ...]:
        return find_faces(picture) if guides.faces is None else pointed(picture, guides.faces)

    faces = moved_faces(await asyncio.to_thread(seen), 1.0, back)
    return [
        FoundFace(
            x=face.x, y=face.y, width=face.width, angle=face.angle, outlines=_outlines(face),
            yaw=face.points and face.points.yaw, pitch=face.points and face.points.pitch,
        )
        for face in faces
    ]  # fmt: skip


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
