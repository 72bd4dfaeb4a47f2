"""A sweep to take away: its sheet as one labelled picture or page, its readings as a table."""

import asyncio
import csv
import io
from typing import Annotated, Any, Literal
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Response

from ..core.finish.sheet import contact_sheet, pdf_page
from ..core.looks.registry import looks
from ..core.model.errors import BadInput
from ..core.pictures.image import decode, png
from ..records.models import Sweep, Take
from ..work import planning
from ..work.learned import all_learned
from .downloads import as_file, stem_of
from .services import Session, Shared

router = APIRouter(tags=["outputs"])
_TITLES = {"strength": "strength", "guidance": "guidance", "seed": "seed", "steps": "steps", "look_weight": "look weight",
           "second_share": "share", "sampler": "", "look": "", "quality": "", "prompt": "", "source": "", "size": "size"}  # fmt: skip
# What a table program begins a formula with.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
_PARTS = ("fine", "mid", "coarse", "moved", "gone", "shift", "added", "faces")


async def _sweep(session: Session, sweep_id: UUID) -> Sweep:
    sweep = await planning.sweep_with_takes(session, sweep_id)
    if sweep is None:
        raise HTTPException(404)
    return sweep


def _flat(take: Take) -> dict[str, Any]:
    """A take's recipe as one record, holds and source among it."""
    body = {**take.recipe.body, **take.recipe.body["holds"], "source": take.source.name if take.source else ""}
    del body["holds"]
    return body


def _axes(sweep: Sweep) -> list[str]:
    """What a sweep's takes are told apart by: its axes, or without them (drafts finished together) what differs."""
    if sweep.spans:
        return [span["control"] for span in sweep.spans]
    bodies = [_flat(cell.take) for cell in sweep.cells]
    return [name for name in bodies[0] if any(body.get(name) != bodies[0][name] for body in bodies)] if bodies else []


def _values(axes: list[str], take: Take) -> dict[str, Any]:
    """What a take's recipe says for each axis."""
    body = _flat(take)
    return {axis: body.get(axis) for axis in axes}


def _label(values: dict[str, Any], titles: dict[str, str]) -> str:
    words = []
    for control, value in values.items():
        shown = titles.get(value, value) if control == "look" else f"{value:g}" if isinstance(value, float) else value
        name = _TITLES.get(control, f"hold {control}")
        words.append(f"{name} {shown or 'no words'}".strip())
    return ", ".join(words) or "take"


def _stem(sweep: Sweep) -> str:
    name = stem_of(sweep.source.name, "sweep")
    axes = "-by-".join(span["control"] for span in sweep.spans) or "take"
    return f"{name}-{sweep.recipe.body['look']}-{axes}".replace("_", "-")


@router.get("/sweeps/{sweep_id}/sheet", response_class=Response)
async def sheet(
    sweep_id: UUID,
    session: Session,
    shared: Shared,
    form: Literal["png", "pdf"] = "png",
    cell: Annotated[int, Query(ge=64, le=1024, description="long side of a picture on the sheet")] = 384,
) -> Response:
    """The finished takes of a sweep as one labelled sheet, source first: PNG, or a PDF page."""
    sweep = await _sweep(session, sweep_id)
    await session.refresh(sweep, ["source"])
    titles = {look.name: look.title for look in looks().values()}
    titles |= {row.name: row.title for row in await all_learned(session)}
    takes = [c.take for c in sweep.cells if c.take.state == "done" and c.take.image is not None]
    if not takes:
        raise BadInput("No take of this sweep is finished yet; save its sheet when the first ones are there.")
    source, _ = await shared.framer.framed(sweep.source, int(sweep.recipe.body["size"]), takes[0].framing)
    axes = _axes(sweep)
    labels = [_label(_values(axes, take), titles) for take in takes]
    images = [str(take.image) for take in takes]
    columns = len(sweep.spans[-1]["values"]) if sweep.spans else len(takes)

    def drawn() -> bytes:
        pictures = [np.ascontiguousarray(decode(shared.store.get(digest)).rgba[..., :3]) for digest in images]
        # One axis alone is set in rows, as on the desk.
        across = columns if len(sweep.spans) > 1 else min(columns, 5)
        picture = contact_sheet(source, list(zip(labels, pictures, strict=True)), across, cell)
        return png(picture) if form == "png" else pdf_page(picture)

    kind = "image/png" if form == "png" else "application/pdf"
    return as_file(await asyncio.to_thread(drawn), kind, f"{_stem(sweep)}.{form}")


@router.get("/sweeps/{sweep_id}/readings.csv", response_class=Response)
async def readings(sweep_id: UUID, session: Session) -> Response:
    """One line a take: axes, readings with their parts, warnings, seconds, key."""
    sweep = await _sweep(session, sweep_id)
    await session.refresh(sweep, ["source"])
    axes = _axes(sweep)
    out = io.StringIO()
    table = csv.writer(out)

    def cell(value: Any) -> Any:
        """A value that no table program takes for a formula."""
        return f"'{value}" if isinstance(value, str) and value[:1] in _FORMULA else value

    table.writerow(
        [*axes, "state", "composition kept", "colour kept", "look reached", *_PARTS, "warnings", "seconds", "key"]
    )
    for place in sweep.cells:
        take, found = place.take, place.take.readings or {}
        parts = found.get("parts", {})
        figures = [found.get(name, "") for name in ("composition", "colour", "look")]
        warned = " ".join(found.get("warnings", []))
        own = _values(axes, take)
        table.writerow([*(cell(own[axis]) for axis in axes), take.state, *figures, *(parts.get(p, "") for p in _PARTS), warned,
                        take.seconds, take.key])  # fmt: skip
    return as_file(out.getvalue().encode(), "text/csv; charset=utf-8", f"{_stem(sweep)}.csv")
