"""What the program sees in a source: its parts' colours, a description, what holds keep, looks tried on it."""

import asyncio
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Request, Response

from ..core.engine.hold_map import hold_map
from ..core.engine.seen import seen_of
from ..core.engine.source import prepare
from ..core.looks.registry import look_named
from ..core.model.recipe import ENGINE_VERSION, Recipe
from ..core.pictures.framing import Framing
from ..core.pictures.framing import frame as framed
from ..core.pictures.image import png, webp
from ..core.pictures.recolour import parts_of
from ..core.understanding.describe import describe
from ..core.understanding.kind import holds_for
from ..core.words.prompt import acts
from ..records.models import LearnedLook
from ..work import learned
from .schemas import PartView, SaidView
from .services import Session, Shared
from .sources import FOREVER, frame_key, framing_from, source_named

router = APIRouter(tags=["insight"])
_SEEN = 512
_PREVIEW_SIDE = 240
_MOST_PREVIEWS = 1000
_DETAIL = 128
FrameKey = Annotated[str | None, Query(description="the framing's key, so that an address names its pixels")]


@router.get("/sources/{source_id}/colours")
async def source_colours(source_id: UUID, session: Session, shared: Shared) -> list[PartView]:
    """The parts of a source by colour, the largest first: an SVG's fills and strokes, else by pixels."""
    source = await source_named(session, source_id)
    now = dict(Framing.model_validate(source.framing).new_colours)
    original = source.original

    def parts() -> list[PartView]:
        data = shared.store.get(original)
        found = parts_of(data, shared.framer.original(original, (), 1280))
        return [PartView(colour=p.colour, now=now.get(p.colour, p.colour), share=round(p.share, 4)) for p in found]

    return await asyncio.to_thread(parts)


@router.get("/sources/{source_id}/description")
async def source_description(source_id: UUID, session: Session, shared: Shared) -> list[SaidView]:
    """What the picture seems to be, as phrases; nothing of it goes anywhere by itself."""
    source = await source_named(session, source_id)
    picture, _ = await shared.framer.framed(source, _SEEN)
    found = await asyncio.to_thread(describe, picture, source.kind)  # type: ignore[arg-type]
    return [SaidView(text=s.text, sign=s.sign, sure=s.sure, acts=acts(s.text)) for s in found]


@router.get("/sources/{source_id}/holds/{hold}", response_class=Response)
async def source_hold(
    source_id: UUID,
    hold: Literal["lines", "shapes", "colours", "faces", "subject", "depth"],
    session: Session,
    shared: Shared,
    size: Annotated[int, Query(ge=64, le=1024)] = _SEEN,
    frame: FrameKey = None,
) -> Response:
    """What a hold keeps of the framed source: a PNG to lay over it."""
    source = await source_named(session, source_id)
    picture, _ = await shared.framer.framed(source, size)
    held = Recipe(holds=Recipe().holds.model_copy(update={"depth": 1.0 if hold == "depth" else 0.0}), size=size)
    guides = await shared.framer.guides(source, held)

    def drawn() -> bytes:
        seen = seen_of(picture, guides)
        prepared = prepare(picture, None, seen.faces, seen.subject.plane)
        return png(hold_map(prepared, hold, guides.at(*picture.shape[:2])))

    picture_of = await asyncio.to_thread(drawn)
    # A framing's key does not name the marks and guides that these are made of.
    lasts = frame == frame_key(source.framing) and hold not in ("depth", "faces", "subject")
    keep = FOREVER if lasts else {"Cache-Control": "no-cache"}
    return Response(picture_of, media_type="image/png", headers=keep)


@router.get("/sources/{source_id}/detail", response_class=Response)
async def source_detail(
    source_id: UUID,
    tried: Annotated[str, Query(alias="as", max_length=4000, description="a framing as JSON")],
    session: Session,
    shared: Shared,
    size: Annotated[int, Query(ge=64, le=2048)] = _SEEN,
    x: Annotated[float, Query(ge=0, le=1)] = 0.5,
    y: Annotated[float, Query(ge=0, le=1)] = 0.5,
) -> Response:
    """A detail around a spot of the source in another framing, pixel for pixel."""
    source = await source_named(session, source_id)
    framing = Framing.model_validate(framing_from(tried))
    original = source.original

    def detail() -> bytes:
        # Read whole: a smaller reading of the file would hide what the methods of resampling differ in.
        read = shared.framer.original(original, framing.new_colours, None)
        picture = framed(read.rgba, framing, size, read.whole)
        side = min(_DETAIL, *picture.shape[:2])
        left = min(max(round(x * picture.shape[1] - side / 2), 0), picture.shape[1] - side)
        top = min(max(round(y * picture.shape[0] - side / 2), 0), picture.shape[0] - side)
        return png(picture[top : top + side, left : left + side].copy())

    return Response(await asyncio.to_thread(detail), media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.get(
    "/sources/{source_id}/looks/{look}/preview", response_class=Response,
    responses={204: {"description": "whoever asked is gone"}},
)  # fmt: skip
async def look_preview(
    source_id: UUID,
    look: str,
    request: Request,
    session: Session,
    shared: Shared,
    frame: FrameKey = None,
    engine: Annotated[str, Query(description="the engine's version, for the same reason")] = ENGINE_VERSION,
) -> Response:
    """The source in a look, small: a draft at the middle of the look's usual strengths with the source's usual holds.

    Drafts are made one after another behind live ones, and kept; one that nobody waits for any more is not begun.
    """
    source = await source_named(session, source_id)
    await learned.know(session, shared.store, [look])
    strengths = look_named(look).strengths
    picture, pixels = await shared.framer.framed(source, _SEEN)
    previews = shared.previews
    key = (pixels, f"{look} {source.kind} {source.people}")
    if key not in previews:
        recipe = Recipe(
            look=look, strength=round(sum(strengths) / 2, 2), holds=holds_for(source.kind, source.people), size=_SEEN,
            quality="draft",
        )  # fmt: skip
        row = await session.get(LearnedLook, look)
        files = {look: await asyncio.to_thread(shared.store.get, row.file)} if row else {}
        # The database is not needed while the draft waits its turn.
        await session.commit()
        drawn = await shared.live.preview(picture, recipe, files, request.is_disconnected)
        if drawn is None:
            return Response(status_code=204)
        previews[key] = await asyncio.to_thread(webp, drawn, _PREVIEW_SIDE, 88)
        while len(previews) > _MOST_PREVIEWS:
            previews.popitem(last=False)
    previews.move_to_end(key)
    keep = FOREVER if frame == frame_key(source.framing) and engine == ENGINE_VERSION else {"Cache-Control": "no-cache"}
    return Response(previews[key], media_type="image/webp", headers=keep)
