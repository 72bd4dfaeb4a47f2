"""How a study's pictures came about: its tree, and the way to one of them as a strip."""

import asyncio
from typing import Annotated, Literal
from uuid import UUID

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Response
from pydantic import BaseModel

from ..core.export.strip import Shown, strip_page
from ..core.layers.compose import over_colour
from ..core.lineage.tree import Node, strip, told, way_to
from ..core.maths.arrays import Byte
from ..core.model.errors import BadInput
from ..records.models import Source, StackRow, Study
from ..work.lineage import lineage_of, titles_of
from ..work.stacks import body_of
from .downloads import as_file, stem_of
from .finish_schemas import Of
from .finished import found, pixels
from .paper import on_paper
from .services import Services, Session, Shared
from .sources import frame_key

router = APIRouter(tags=["lineage"])
# What stands in a step's place where its picture is lost: a grey square.
_GREY, _SIDE = 128, 64
# Long side of a step on a strip, enough for paper.
_STEP_SIDE = 700
StepName = Annotated[
    str, Query(pattern=r"^(take|source|stack|larger|sweep):[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")
]


class NodeView(BaseModel):
    """One step: see docs/lineage.md. `also`: other names of the same picture; `at`: address of a small picture of it."""

    id: str
    kind: Literal["source", "mixed", "hand", "cut", "sweep", "take", "larger"]
    title: str
    says: list[str]
    parents: list[str]
    also: list[str]
    count: int
    mark: str | None
    sweep: str | None
    at: str | None


class LineageView(BaseModel):
    """Steps, each behind what it came from; `way`: those that led to the picture asked for."""

    nodes: list[NodeView]
    way: list[str]


class StripView(BaseModel):
    """The way to one picture, without its sweeps."""

    steps: list[NodeView]


async def _addresses(session: Session, nodes: tuple[Node, ...]) -> dict[str, str]:
    """Where a small picture of each node is found."""
    made = {}
    for node in nodes:
        if node.picture is None:
            continue
        kind, of = node.picture.split(":")
        if kind == "take":
            made[node.id] = f"/api/takes/{of}/preview"
        elif kind == "larger":
            made[node.id] = f"/api/enlargements/{of}/preview"
        elif kind == "stack":
            row = await session.get_one(StackRow, UUID(of))
            made[node.id] = f"/api/stacks/{of}/picture?side=320&revision={row.revision}"
        else:
            source = await session.get_one(Source, UUID(of))
            made[node.id] = f"/api/sources/{of}/image?size=320&frame={frame_key(source.framing)}"
    return made


def _view(node: Node, at: dict[str, str]) -> NodeView:
    return NodeView(
        id=node.id, kind=node.kind, title=node.title, says=list(node.says), parents=list(node.parents), also=list(node.also),
        count=node.count, mark=node.mark, sweep=node.sweep, at=at.get(node.id),
    )  # fmt: skip


async def _tree(session: Session, study_id: UUID, *wanted: str | None) -> tuple[Study, tuple[Node, ...]]:
    study = await session.get(Study, study_id)
    if study is None or study.deleted is not None:
        raise HTTPException(404)
    takes = [UUID(of.split(":")[1]) for of in wanted if of and of.startswith("take:")]
    return study, await lineage_of(session, study_id, takes)


@router.get("/studies/{study_id}/lineage")
async def lineage(
    study_id: UUID, session: Session, of: StepName | None = None, begun: StepName | None = None
) -> LineageView:
    """A study's tree; `of`, a step by kind and id, is there although it is not kept, and its way is named; so is the one that it was
    `begun` with."""
    _, nodes = await _tree(session, study_id, of, begun)
    at = await _addresses(session, nodes)
    way = way_to(nodes, of) if of else ()
    return LineageView(nodes=[_view(node, at) for node in nodes], way=[node.id for node in way])


async def _steps(session: Session, study_id: UUID, of: str) -> tuple[Study, tuple[Node, ...]]:
    study, nodes = await _tree(session, study_id, of)
    steps = strip(nodes, of, await titles_of(session))
    if not steps:
        raise BadInput("This picture is not in the study any more; pick one that is.")
    return study, steps


@router.get("/studies/{study_id}/strip")
async def way_as_steps(study_id: UUID, of: StepName, session: Session) -> StripView:
    """The way to one picture: its pictures and what changed between them."""
    _, steps = await _steps(session, study_id, of)
    at = await _addresses(session, steps)
    return StripView(steps=[_view(step, at) for step in steps])


async def _picture(session: Session, shared: Services, node: Node) -> Byte:
    """A step's picture, small enough for paper; grey where it is lost."""
    assert node.picture is not None
    kind, of = node.picture.split(":")
    try:
        if kind == "stack":
            stack = await body_of(session, await session.get_one(StackRow, UUID(of)))
            return over_colour(await asyncio.to_thread(shared.layers.composed, stack))
        if kind == "source":
            return await shared.framer.whole(await session.get_one(Source, UUID(of)), _STEP_SIDE)
        name: Literal["take", "enlargement"] = "take" if kind == "take" else "enlargement"
        return await pixels(shared, await found(session, Of(kind=name, id=UUID(of))))
    except (BadInput, HTTPException, KeyError):
        return np.full((_SIDE, _SIDE, 3), _GREY, np.uint8)


@router.get("/studies/{study_id}/strip/{form}", response_class=Response)
async def strip_as_file(
    study_id: UUID, form: Literal["png", "pdf", "txt"], of: StepName, session: Session, shared: Shared
) -> Response:
    """How a picture was made, to take away: PNG or PDF with every step, or text."""
    study, steps = await _steps(session, study_id, of)
    stem = f"{stem_of(study.name, 'study')}-how-it-was-made"
    if form == "txt":
        return as_file(f"{study.name}\n\n{told(steps)}".encode(), "text/plain; charset=utf-8", f"{stem}.txt")
    shown = [
        Shown(
            await _picture(session, shared, step),
            step.title,
            step.says,
            before is not None and before.id in step.parents,
        )
        for before, step in zip((None, *steps), steps, strict=False)
    ]
    page = await asyncio.to_thread(strip_page, shown, study.name)
    return await on_paper([page], form, stem)
