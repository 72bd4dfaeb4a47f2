"""What the Hand's tools ask the server for: cut-outs, fills, mends, files with layers, the library."""

import asyncio
from pathlib import PurePath
from typing import Annotated
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter, Form, HTTPException, Response, UploadFile

from ..core.layers import openraster
from ..core.layers.compose import over_colour
from ..core.layers.fill import filled
from ..core.layers.heal import healed
from ..core.maths.arrays import Byte, Mask
from ..core.maths.sizes import smaller
from ..core.model.errors import BadInput
from ..core.model.stack import stack_from
from ..core.model.text import cleaned
from ..core.pictures.image import FILE_LIMIT
from ..core.understanding.cut.cut_out import WORKED, CutOut, cut_out
from ..records.models import StackRow, Study
from ..work.stacks import begun, body_of
from .downloads import as_file, stem_of
from .hand import stack_named, stack_view
from .hand_schemas import CutAsked, CutView, Patch, StackView
from .library import Thing, thing_named, things
from .services import Services, Session, Shared

router = APIRouter(tags=["hand"])
_NOTHING = "Nothing stands out of this picture; draw a line around what you want (lasso), then cut it out."
# A selection counts from so much on, of 255.
_CHOSEN = 127


@router.post("/cuts", status_code=201)
async def cut_layer(asked: CutAsked, shared: Shared) -> CutView:
    """Cut a layer's picture: soft edges, colours freed of the old ground."""
    try:
        rgba = await asyncio.to_thread(shared.layers, asked.picture)
    except KeyError:
        raise HTTPException(404) from None
    async with shared.cuts.taken():
        found = await asyncio.to_thread(_cut, rgba, asked)
    if not float(found.alpha.max()) > 0:
        raise BadInput(_NOTHING)
    alpha = np.clip(found.alpha * rgba[..., 3] + 0.5, 0, 255).astype(np.uint8)
    digest = await asyncio.to_thread(shared.layers.keep, np.dstack([found.colours, alpha]))
    return CutView(picture=digest, width=rgba.shape[1], height=rgba.shape[0], kind=found.kind, trust=found.trust)


def _cut(rgba: Byte, asked: CutAsked) -> CutOut:
    picture = over_colour(rgba)
    if asked.line is None:
        return cut_out(picture, asked.what)
    small = smaller(picture, WORKED)
    return cut_out(picture, asked.what, line=np.array(asked.line) * small.shape[1::-1])


async def _chosen(session: Session, shared: Services, stack_id: UUID, file: UploadFile) -> tuple[Byte, Byte]:
    """The whole as it is seen (h, w, 4), and a selection of it (h, w)."""
    stack = await body_of(session, await stack_named(session, stack_id))
    _, given = await shared.intake.picture(file, max(stack.width, stack.height))
    mask = np.ascontiguousarray(given.rgba[..., 0])
    if mask.shape != (stack.height, stack.width):
        raise BadInput(
            f"The selection is {mask.shape[1]} x {mask.shape[0]}, the picture {stack.width} x {stack.height}; they must be of one size."
        )
    if not (mask > _CHOSEN).any():
        raise BadInput("Nothing is selected; draw round what you mean first.")
    return await asyncio.to_thread(shared.layers.composed, stack), mask


async def _patch(shared: Services, made: Byte, mask: Byte) -> Patch:
    """What was made within a selection, as a picture of its own."""
    rows, columns = np.flatnonzero(mask.max(1)), np.flatnonzero(mask.max(0))
    top, left = int(rows[0]), int(columns[0])
    part = np.dstack([made, mask])[top : int(rows[-1]) + 1, left : int(columns[-1]) + 1]
    digest = await asyncio.to_thread(shared.layers.keep, np.ascontiguousarray(part))
    return Patch(picture=digest, width=part.shape[1], height=part.shape[0], left=left, top=top)


@router.post("/stacks/{stack_id}/fill", status_code=201)
async def fill_selection(stack_id: UUID, session: Session, shared: Shared, file: UploadFile) -> Patch:
    """Fill a selection (a grey picture of the whole's size) from what is around it: a patch to be laid over it."""
    whole, mask = await _chosen(session, shared, stack_id, file)
    async with shared.cuts.taken():
        made = await asyncio.to_thread(_filled, whole, mask > 0)
    return await _patch(shared, made, mask)


def _filled(whole: Byte, hole: Mask) -> Byte:
    try:
        return filled(over_colour(whole), hole, whole[..., 3] > _CHOSEN)
    except ValueError:
        raise BadInput("There is too little picture around the selection to fill it from; select less.") from None


@router.post("/stacks/{stack_id}/heal", status_code=201)
async def heal_selection(
    stack_id: UUID, session: Session, shared: Shared, file: UploadFile,
    across: Annotated[int, Form(ge=-4096, le=4096)], down: Annotated[int, Form(ge=-4096, le=4096)],
    mirrored: Annotated[bool, Form()] = False, matched: Annotated[bool, Form()] = True,
) -> Patch:  # fmt: skip
    """Lay what lies `across` and `down` from a selection over it, its tones matched to what is around (or as it is)."""
    whole, mask = await _chosen(session, shared, stack_id, file)
    below = over_colour(whole)

    def made() -> Byte:
        shifted = _shifted(below, mask, across, down, mirrored)
        return healed(below, shifted, mask) if matched else shifted

    return await _patch(shared, await asyncio.to_thread(made), mask)


def _shifted(below: Byte, mask: Byte, across: int, down: int, mirrored: bool) -> Byte:
    """The picture so that what lies that far from the selection lies in it, left and right exchanged if asked."""
    matrix = np.array([[1, 0, across], [0, 1, down]], float)
    if mirrored:
        columns = np.flatnonzero(mask.max(0))
        matrix[0] = (-1, 0, float(columns[0] + columns[-1]) + across)
    flags = cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP
    out: Byte = cv2.warpAffine(below, matrix, below.shape[1::-1], flags=flags, borderMode=cv2.BORDER_REPLICATE)
    return out


@router.get("/stacks/{stack_id}/openraster", response_class=Response)
async def save_layers(stack_id: UUID, session: Session, shared: Shared) -> Response:
    """All layers as an OpenRaster file."""
    row = await stack_named(session, stack_id)
    stack = await body_of(session, row)
    data = await asyncio.to_thread(openraster.written, stack, shared.layers)
    return as_file(data, openraster.MIMETYPE, f"{stem_of(row.name, 'layers')}.ora")


@router.post("/studies/{study_id}/openraster", status_code=201)
async def bring_layers_in(study_id: UUID, session: Session, shared: Shared, file: UploadFile) -> StackView:
    """Open the Hand on the layers of an OpenRaster file; one larger than 2048 px is made smaller."""
    if await session.get(Study, study_id) is None:
        raise HTTPException(404)
    brought = await asyncio.to_thread(openraster.read, await file.read(FILE_LIMIT + 1))
    scale = openraster.scale_for(brought)
    layers = []
    for number, layer in enumerate(brought.layers):
        read = await shared.intake.read(layer.data, max(brought.width, brought.height))
        digest = await asyncio.to_thread(shared.layers.keep, np.ascontiguousarray(read.rgba))
        height, width = (side * scale for side in read.whole)
        place = {"x": layer.x * scale + width / 2, "y": layer.y * scale + height / 2, "width": width, "height": height}
        layers.append({
            "id": f"l{number}", "name": cleaned(layer.name).strip()[:120] or f"layer {number + 1}", "picture": digest,
            "place": place, "opacity": layer.opacity, "shown": layer.shown, "origin": "file",
        })  # fmt: skip
    size = {"width": max(round(brought.width * scale), 16), "height": max(round(brought.height * scale), 16)}
    # A file may say anything of where its layers lie.
    stack = stack_from({**size, "layers": layers})
    name = cleaned(PurePath((file.filename or "layers").replace("\\", "/")).stem)[:200] or "layers"
    row = StackRow(study_id=study_id, name=name, parents=[])
    await begun(session, row, stack)
    return await stack_view(session, row)


@router.get("/library")
async def library() -> list[Thing]:
    """Figures and growth that may be laid in."""
    return list(things())


@router.get("/library/{name}", response_class=Response)
async def library_thing(name: str) -> Response:
    """One of them, as SVG."""
    path = thing_named(name)
    if path is None:
        raise HTTPException(404)
    data = await asyncio.to_thread(path.read_bytes)
    return Response(data, media_type="image/svg+xml", headers={"Cache-Control": "max-age=86400"})
