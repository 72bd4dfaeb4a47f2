"""Pictures taken away: one as a file, many as a ZIP that begins to come at once."""

import asyncio
import zipfile
from collections.abc import AsyncIterator
from typing import Annotated, Any, TypeVar

import numpy as np
from fastapi import APIRouter, Form, Response
from fastapi.responses import StreamingResponse
from pydantic import BaseModel, ValidationError

from ..core.export.files.kind import Format, Wish
from ..core.export.files.registry import format_named
from ..core.export.names import names_of
from ..core.export.pages import Entry, SheetWish, laid_out
from ..core.export.sink import Sink
from ..core.export.write import check, size_at, written
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.readings.registry import readings
from .downloads import as_file, disposition, stem_of
from .finish_schemas import ExportAsked, ExportPreview, SheetAsked
from .finished import Found, all_found, found, layers_of, pixels, whole_way
from .paper import on_paper
from .services import Services, Session, Shared

router = APIRouter(tags=["exports"])
Order = TypeVar("Order", bound=BaseModel)
_FIRST_NAMES = 3


def _names(asked: ExportAsked, form: Format, pictures: list[Found]) -> list[str]:
    sized = asked.wish.size if form.sized else None
    named = []
    for what in pictures:
        fields = dict(what.fields)
        if sized is not None and fields.get("width") and fields.get("height"):
            height, width = size_at(int(str(fields["height"])), int(str(fields["width"])), sized)
            fields |= {"width": width, "height": height}
        named.append(fields)
    return names_of(asked.pattern, named, form.suffix)


async def _file(shared: Services, what: Found, picture: Byte, form: Format, wish: Wish, name: str) -> bytes:
    """A picture as a file, one at a time in this process: each may take a core for seconds."""
    layers = await layers_of(shared, what, picture) if form.name == "ora" else ()
    # The picture's own file tells its whole way.
    image = what.image
    inside = await asyncio.to_thread(lambda: whole_way(shared, shared.store.get(image))) if image else None
    async with shared.cuts.behind():
        return await asyncio.to_thread(
            written, picture, form, wish, inside or what.inside, stem_of(name, "picture"), layers
        )


@router.post("/exports/preview")
async def preview_export(asked: ExportAsked, session: Session, shared: Shared) -> ExportPreview:
    """What would come: the first names, and how large the first picture's file is."""
    form = format_named(asked.format)
    pictures = await all_found(session, asked.of)
    names = _names(asked, form, pictures)
    picture = await pixels(shared, pictures[0])
    data = await _file(shared, pictures[0], picture, form, asked.wish, names[0])
    height, width = picture.shape[:2]
    if asked.wish.size is not None and form.sized:
        height, width = size_at(height, width, asked.wish.size)
    return ExportPreview(
        names=names[:_FIRST_NAMES], width=width, height=height, bytes=len(data), total=len(data) * len(names), count=len(names),
    )  # fmt: skip


async def _zipped(
    shared: Services, asked: ExportAsked, form: Format, pictures: list[Found], names: list[str]
) -> AsyncIterator[bytes]:
    """A ZIP, file by file: each is made when the one before is on its way. Pictures are packed already, so they are stored."""
    sink = Sink()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_STORED) as file:  # type: ignore[call-overload]
        for what, name in zip(pictures, names, strict=True):
            file.writestr(name, await _file(shared, what, await pixels(shared, what), form, asked.wish, name))
            yield sink.taken()
    yield sink.taken()


def _asked(order: str | dict[str, Any]) -> ExportAsked:
    return checked_order(ExportAsked, order)


def checked_order(kind: type[Order], order: str | dict[str, Any]) -> Order:
    """What a form asks for, or `BadInput`."""
    try:
        return kind.model_validate_json(order) if isinstance(order, str) else kind.model_validate(order)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadInput(
            f"The order of files is not as docs/http.md says: {'.'.join(map(str, first['loc']))}: {first['msg']}."
        ) from None


@router.post("/exports", response_class=Response)
async def export(
    order: Annotated[str, Form(description="an `ExportAsked` as JSON")], session: Session, shared: Shared
) -> Response:
    """One picture as a file, several as a ZIP; a form, so that a browser saves what comes as it comes."""
    asked = _asked(order)
    form = format_named(asked.format)
    pictures = await all_found(session, asked.of)
    names = _names(asked, form, pictures)
    # What can't be written is said before anything is sent.
    check(form, asked.wish)
    if len(pictures) == 1:
        data = await _file(shared, pictures[0], await pixels(shared, pictures[0]), form, asked.wish, names[0])
        return as_file(data, form.media, names[0])
    for what, name in zip(pictures, names, strict=True):
        if what.image is not None and not await asyncio.to_thread(shared.store.has, what.image):
            raise BadInput(f"The picture of {name} is lost; `warmtide check --repair` makes it again.")
    name = f"{stem_of(str(pictures[0].fields.get('study', 'pictures')), 'pictures')}.zip"
    headers = {"Content-Disposition": disposition(name)}
    return StreamingResponse(
        _zipped(shared, asked, form, pictures, names), media_type="application/zip", headers=headers
    )


def _said(what: Found, wish: SheetWish) -> tuple[str, ...]:
    """What a sheet says of a picture."""
    recipe = (what.inside or {}).get("recipe") or {}
    lines = []
    if wish.labels:
        name = str(what.fields.get("look") or what.fields.get("source", ""))
        lines.append(
            f"{name}, strength {recipe['strength']:.2f}, seed {recipe['seed']}"
            if recipe
            else str(what.fields.get("source", ""))
        )
    if wish.readings and what.readings:
        figures = ((kind.title.lower(), kind.stored(what.readings)) for kind in readings())
        lines.append(", ".join(f"{title} {value:.0f}" for title, value in figures if value is not None))
    if wish.recipes and recipe:
        lines.append(
            f"guidance {recipe['guidance']:g}, steps {recipe['steps']}, {recipe['sampler']}, look weight {recipe['look_weight']:g}"
        )
        lines.append("holds " + ", ".join(f"{name} {value:.2f}" for name, value in recipe["holds"].items()))
        lines += [f"{name}: {recipe[name]}" for name in ("prompt", "avoid") if recipe[name]]
    return tuple(lines)


@router.post("/exports/sheet", response_class=Response)
async def export_sheet(
    order: Annotated[str, Form(description="a `SheetAsked` as JSON")], session: Session, shared: Shared
) -> Response:
    """Pictures on a contact sheet: a PDF, a PNG, or a ZIP of PNGs where it has several pages."""
    asked = checked_order(SheetAsked, order)
    pictures = await all_found(session, asked.of)
    entries = []
    for what in pictures:
        picture = await pixels(shared, what)
        entries.append(Entry(np.ascontiguousarray(picture[..., :3]), _said(what, asked.wish)))
    pages = laid_out(entries, asked.wish)
    stem = stem_of(str(pictures[0].fields.get("study", "sheet")), "sheet")
    return await on_paper(pages, asked.form, f"{stem}-sheet")


@router.get("/exports/{kind}/{picture_id}", response_class=Response)
async def export_one(kind: str, picture_id: str, session: Session, shared: Shared, form: str = "png") -> Response:
    """One picture as a file with what is usual, for a drag out of the window."""
    asked = _asked({"of": [{"kind": kind, "id": picture_id}]})
    chosen = format_named(form)
    what = await found(session, asked.of[0])
    name = _names(asked, chosen, [what])[0]
    data = await _file(shared, what, await pixels(shared, what), chosen, asked.wish, name)
    return as_file(data, chosen.media, name)
