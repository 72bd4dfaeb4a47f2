"""Restyling from the command line: one picture, or one over spans."""

import json
import time
from pathlib import Path
from typing import Any

from ..core.job.take import read_take, render
from ..core.job.take import restyle as restyle_source
from ..core.job.told import Origin, original_key, told, way_of
from ..core.maths.arrays import Byte, pixel_key
from ..core.model.cache import SharedCache
from ..core.model.guides import Guides
from ..core.model.recipe import HOLDS, Recipe, recipe_from, take_key
from ..core.model.sweep import Span, expand, parse_values
from ..core.pictures.framing import Framing
from ..core.pictures.image import png
from .files import read_framed, say, write_file
from .guides import covered
from .looks import named_look
from .reading import shown
from .words import note_words


def _origin(image: Path, guides: Guides) -> Origin:
    """What the files of takes tell of their source."""
    data = image.read_bytes()
    planes = {"region": guides.region, "depth": guides.depth}
    led: dict[str, str | None] = {name: None for name, plane in planes.items() if plane is not None}
    marked = guides.faces
    faces = None if marked is None else [{"x": f.x, "y": f.y, "width": f.width, "angle": f.angle} for f in marked]
    return Origin(image.name, original_key(data), Framing(), way_of(data), faces, led)


def _saved(take: Byte, key: str, recipe: Recipe, origin: Origin) -> bytes:
    """The file of a take with what it says of how it came about."""
    return png(take, told(take, recipe, key, origin))


def restyle(image: Path, out: Path, as_json: bool, guides: Guides, **controls: Any) -> None:
    """Restyle one picture; `controls` are the recipe's fields, holds by their own names."""
    controls["look"], second = named_look(controls["look"]), controls["second_look"]
    controls["second_look"] = second and named_look(second)
    holds = {name: controls.pop(name) for name in HOLDS}
    recipe = recipe_from({**controls, "holds": holds})
    picture, source = read_framed(image, Framing(), recipe.size)
    guides = covered(guides, picture, recipe, Framing(), recipe.size)
    began, cache = time.perf_counter(), SharedCache()
    take = restyle_source(source, recipe, say, cache, guides)
    # Read only where the reading is shown: it costs half as much again as the take.
    reading = read_take(source, take, recipe, cache, guides) if as_json else None
    seconds = round(time.perf_counter() - began, 3)
    key = take_key(pixel_key(source), recipe, guides.key)
    write_file(out, _saved(take, key, recipe, _origin(image, guides)))
    note_words(recipe, source, guides)
    height, width = take.shape[:2]
    if reading is None:
        print(f"{out}: {width} x {height}, {seconds:.2f} s")
        return
    result = {"seconds": seconds, "size": [width, height], "key": key, "readings": shown(reading.figures)}
    print(json.dumps(result))


def sweep(image: Path, out: Path, as_json: bool, guides: Guides, fixed: dict[str, Any], **controls: str) -> None:
    """Restyle one picture over spans; `controls` are texts, each a value, a list or `A..B/N`."""
    given: dict[str, list[Any]] = {
        name: [named_look(part) for part in text.split(",")]
        if name in ("look", "sampler")
        else parse_values(text, name)
        for name, text in controls.items()
    }
    spans = [Span(control=name, values=tuple(values)) for name, values in given.items() if len(values) > 1]
    fixed["second_look"] = fixed["second_look"] and named_look(fixed["second_look"])
    base = recipe_from(fixed).changed(**{name: values[0] for name, values in given.items()})
    recipes = expand(base, spans)
    picture, source = read_framed(image, Framing(), base.size)
    cache, origin = SharedCache(), _origin(image, guides)
    cells: list[tuple[str, Byte]] = []
    takes = []
    for number, recipe in enumerate(recipes, 1):
        rendered = render(source, recipe, None, cache, covered(guides, picture, recipe, Framing(), recipe.size))
        name = f"take-{number:03d}.png"
        write_file(out / name, _saved(rendered.picture, rendered.key, recipe, origin))
        values = {**recipe.model_dump(), **recipe.holds.model_dump()}
        cells.append((", ".join(f"{s.control} {values[s.control]}" for s in spans), rendered.picture))
        entry = {"file": name, "recipe": recipe.model_dump(), "key": rendered.key, "seconds": rendered.seconds}
        takes.append({**entry, "readings": shown(rendered.reading.figures)})
        say(number, len(recipes))
    from ..core.finish.sheet import contact_sheet

    columns = len(spans[-1].values) if spans else 1
    write_file(out / "sheet.png", png(contact_sheet(source, cells, columns)))
    report = json.dumps({"source": image.name, "takes": takes}, indent=None if as_json else 1)
    write_file(out / "readings.json", report.encode())
    note_words(base, source)
    print(report if as_json else f"{out}: {len(takes)} takes, sheet.png, readings.json")
