"""Plan the demo studies in the database named in WARMTIDE_DATABASE; their takes fill in behind everything else."""

import asyncio
import logging
from pathlib import Path
from typing import Any

from sqlalchemy import select

from warmtide.core.model.recipe import Recipe
from warmtide.core.model.sweep import Span
from warmtide.core.pictures.framing import Framing
from warmtide.core.pictures.image import decode
from warmtide.log import configure
from warmtide.records.database import Database
from warmtide.records.models import Mark, Source, Study
from warmtide.records.store import ImageStore
from warmtide.settings import settings
from warmtide.work import planning
from warmtide.work.planning import Framer
from warmtide.work.queue import make_app

PICTURES = Path(__file__).parent / "pictures"
_STRENGTHS = (0.2, 0.4, 0.6, 0.8, 1.0)
_RUN = (0.35, 0.6, 0.85)
_MATERIALS = (
    "gold", "enamel", "chrome", "bronze", "glass", "balloon", "felt", "patch", "cut-paper", "clay", "inlay", "tesserae",
    "stained-glass", "ice", "foil", "neon-sign", "hologram",
)  # fmt: skip

_MASSING = (
    "timber walls, zinc roof, green door, gravel yard", "brick walls, slate roof, harbour, golden hour",
    "plaster walls, brick plinth, tiled roof, paved yard, mountain lake, dusk", "stone walls, red door, snow field, overcast",
)  # fmt: skip
_KETTLE = (
    "red enamel, brass lid, walnut handle, on wood", "navy enamel, steel lid, on slate", "copper, wooden handle", "ivory ceramic, on marble",
)  # fmt: skip
# Name, picture, recipe, spans, marks by position of the take.
STUDIES: list[tuple[str, str, dict[str, Any], dict[str, tuple[Any, ...]], dict[int, tuple[str, str]]]] = [
    (
        "Lantern Quay, evening of the walk", "quay.jpg", {"look": "watercolour", "holds": {"lines": 0.35, "shapes": 0.35, "colours": 0.3}},
        {"seed": (7, 8, 9), "strength": _STRENGTHS},
        {2: ("keep", "The lamps still read as lamps."), 3: ("maybe", ""), 7: ("maybe", "Calmer water."),
         4: ("drop", "The walkers are gone."), 14: ("drop", "")},
    ),
    ("The lamp-keeper, for the film of the walk", "keeper.jpg",
     {"look": "character", "strength": 0.75, "holds": {"lines": 0.25, "shapes": 0.3, "colours": 0.3, "faces": 0.9}},
     {"look": ("character", "character-drawn", "character-clay")}, {1: ("keep", "This one for the title.")}),
    ("The fisher and her dog, painted", "fisher.jpg", {"look": "oil", "holds": {"lines": 0.25, "shapes": 0.3, "colours": 0.3, "faces": 0.5}},
     {"strength": _STRENGTHS}, {2: ("keep", "Freckles and dog are still theirs.")}),
    ("Boat-house on the slip", "boathouse.png", {"look": "marker", "holds": {"lines": 0.8, "shapes": 0.8, "colours": 0.3}},
     {"strength": _RUN}, {1: ("keep", "")}),
    ("Net store by the quay, massing", "massing.png",
     {"look": "built", "strength": 0.9, "prompt": _MASSING[0], "holds": {"lines": 0.75, "shapes": 0.75, "colours": 0.2}},
     {"prompt": _MASSING}, {1: ("keep", "For the council.")}),
    ("Kettle of the tea stall, render", "kettle.png",
     {"look": "product", "strength": 0.9, "prompt": _KETTLE[0], "holds": {"lines": 0.75, "shapes": 0.75, "colours": 0.2}},
     {"prompt": _KETTLE}, {0: ("keep", "This one for the stall.")}),
    ("Fishing boat, first sketch", "sketch.png", {"look": "marker-concept", "strength": 0.85, "holds": {"lines": 0.8, "shapes": 0.6, "colours": 0.2}},
     {"look": ("shaded-concept", "marker-concept", "line-wash", "clean-ink")}, {}),
    ("Badge of the lantern walk", "badge.svg", {"look": "gold", "strength": 0.9, "holds": {"lines": 0.85, "shapes": 0.85, "colours": 0.6}},
     {"look": _MATERIALS}, {1: ("keep", "For the lapel."), 6: ("maybe", "")}),
    ("Badge in four places", "badge.svg",
     {"look": "gouache", "strength": 0.4, "seed": 3, "prompt": "cliff edge, daylight, sea behind, gulls", "holds": {"lines": 0.85, "shapes": 0.85, "colours": 0.5},
      "placement": {"x": 0.5, "y": 0.9, "tall": 0.62}},
     {"prompt": ("cliff edge, daylight, sea behind, gulls", "rainy street, night, neon", "wooden table, bokeh lights", "harbour quay, sunset")},
     {0: ("keep", "For the poster.")}),
    ("Hills over the inlet, blocked in", "block.png",
     {"look": "oil", "prompt": "lake with mountains, golden hour", "holds": {"lines": 0.0, "shapes": 0.2, "colours": 0.2}},
     {"strength": (0.3, 0.5, 0.65, 0.8, 1.0)}, {3: ("keep", "")}),
]  # fmt: skip


async def load() -> None:
    """Make what is missing; a study that is there already is left alone."""
    configure(logging.WARNING)
    chosen = settings()
    database, store = Database(chosen.database), ImageStore(chosen.store_at)
    framer = Framer(store)
    app = make_app(chosen.database)
    async with app.open_async():
        # The last one touched stands first on the shelf.
        for place, (name, picture, values, spans, marks) in reversed(list(enumerate(STUDIES, 1))):
            async with database.sessions.begin() as session:
                if await session.scalar(select(Study.id).where(Study.demo, Study.name == name)):
                    continue
                data = (PICTURES / picture).read_bytes()
                decoded = decode(data)
                height, width = decoded.rgba.shape[:2]
                source = Source(
                    name=picture, original=store.put(data), format=decoded.format, width=width, height=height,
                    has_alpha=decoded.has_alpha, notes=list(decoded.notes), framing=Framing().model_dump(), kind=planning.what_it_is(decoded.rgba)[0],
                )  # fmt: skip
                study = Study(name=name, demo=True, sources=[source])
                session.add(study)
                await session.flush()
                recipe = Recipe.model_validate(values)
                stretched = [Span(control=control, values=points) for control, points in spans.items()]
                planned = await planning.plan(session, framer, source, recipe, stretched, 1)
                sweep = await planning.start(session, app, source, planned, recipe, stretched, behind=place)
                found = await planning.sweep_with_takes(session, sweep.id)
                assert found is not None
                for position, (value, note) in marks.items():
                    take = found.cells[position].take_id
                    session.add(Mark(study_id=study.id, take_id=take, value=value, note=note))
    await database.close()


if __name__ == "__main__":
    asyncio.run(load())
