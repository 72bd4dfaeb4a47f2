"""A sweep to take away, in every form that there is an exporter for."""

import asyncio
from typing import Annotated, Any
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Response

from ..core.export.kind import Harvest, Shot
from ..core.export.registry import exporter_named
from ..core.looks.registry import looks
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..core.pictures.image import decode
from ..records.models import Sweep, Take, TakeState
from ..records.store import ImageStore
from ..work import planning
from ..work.learned import all_learned
from .downloads import as_file, stem_of
from .services import Session, Shared

router = APIRouter(tags=["outputs"])
_TITLES = {"strength": "strength", "guidance": "guidance", "seed": "seed", "steps": "steps", "look_weight": "look weight",
           "second_share": "share", "sampler": "", "look": "", "quality": "", "prompt": "", "source": "", "size": "size"}  # fmt: skip


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


@router.get("/sweeps/{sweep_id}/export/{form}", response_class=Response)
async def export(
    sweep_id: UUID,
    form: str,
    session: Session,
    shared: Shared,
    cell: Annotated[int, Query(ge=64, le=1024, description="long side of a picture on a sheet")] = 384,
) -> Response:
    """A sweep in one of the forms that `/api/choices` lists: its sheet, its readings."""
    exporter = exporter_named(form)
    sweep = await _sweep(session, sweep_id)
    await session.refresh(sweep, ["source"])
    titles = {look.name: look.title for look in looks().values()}
    titles |= {row.name: row.title for row in await all_learned(session)}
    axes = _axes(sweep)
    shots = tuple(_shot(cell.take, axes, titles, shared.store) for cell in sweep.cells)
    done = [cell.take for cell in sweep.cells if cell.take.state == TakeState.DONE and cell.take.image is not None]
    if exporter.pictures and not done:
        raise BadInput("No take of this sweep is finished yet; save its sheet when the first ones are there.")
    # A table is made even where the source's file is lost.
    size, source = int(sweep.recipe.body["size"]), np.zeros((1, 1, 3), np.uint8)
    if exporter.pictures:
        source, _ = await shared.framer.framed(sweep.source, size, done[0].framing)
    columns = len(sweep.spans[-1]["values"]) if sweep.spans else len(done)
    # One axis alone is set in rows, as on the desk.
    across = columns if len(sweep.spans) > 1 else min(columns, 5)
    harvest = Harvest(tuple(axes), across, shots, lambda: source, cell)
    return as_file(await asyncio.to_thread(exporter.of, harvest), exporter.media, f"{_stem(sweep)}.{exporter.suffix}")


def _shot(take: Take, axes: list[str], titles: dict[str, str], store: ImageStore) -> Shot:
    """A take as exporters see it."""
    values, digest = _values(axes, take), take.image

    def picture() -> Byte:
        return np.ascontiguousarray(decode(store.get(str(digest))).rgba[..., :3])

    shown = picture if take.state == TakeState.DONE and digest is not None else None
    return Shot(values, _label(values, titles), take.state, take.key, take.seconds, take.readings or {}, shown)
