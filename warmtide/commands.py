"""What the commands do. Apart from `cli`, so that starting the server does not load the engine."""

import json
import sys
from pathlib import Path
from typing import Any

from .core.arrays import Byte
from .core.engine.cache import SharedCache
from .core.errors import BadInput
from .core.finish.sheet import contact_sheet
from .core.framing import Framing, frame
from .core.image import Picture, decode, png
from .core.job import Rendered, render
from .core.looks.registry import looks as all_looks
from .core.readings.measure import measure as measure_take
from .core.recipe import HOLDS, Recipe, recipe_from
from .core.sweep import Span, expand, parse_values
from .core.words.understanding import understand


def _read(path: Path) -> Picture:
    try:
        return decode(path.read_bytes())
    except OSError as error:
        raise BadInput(f"{path} can't be read ({error.strerror}); name a picture file.") from None


def _write(path: Path, data: bytes) -> None:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    except OSError as error:
        raise BadInput(f"{path} can't be written ({error.strerror}); name a place that can.") from None


def _say(done: int, steps: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {steps}", end="" if done < steps else "\n", file=sys.stderr, flush=True)


def _saved(rendered: Rendered, recipe: Recipe, source: str) -> bytes:
    return png(rendered.picture, {"recipe": recipe.model_dump(), "key": rendered.key, "source": source})


def _note_words(recipe: Recipe) -> None:
    """Say of every phrase what it was understood as."""
    for name, text in (("prompt", recipe.prompt), ("avoid", recipe.avoid)):
        for phrase in understand(text):
            means = ", ".join(phrase.concepts) or "nothing: without effect"
            missed = f" (not understood: {' '.join(phrase.unknown)})" if phrase.concepts and phrase.unknown else ""
            print(f"{name}: {phrase.text} = {means}{missed}", file=sys.stderr)


def restyle(image: Path, out: Path, as_json: bool, **controls: Any) -> None:
    """Restyle one picture; `controls` are the recipe's fields, holds by their own names."""
    holds = {name: controls.pop(name) for name in HOLDS}
    recipe = recipe_from({**controls, "holds": holds})
    source = frame(_read(image).rgba, Framing(), recipe.size)
    rendered = render(source, recipe, _say)
    _write(out, _saved(rendered, recipe, image.name))
    _note_words(recipe)
    height, width = rendered.picture.shape[:2]
    result = {"seconds": rendered.seconds, "size": [width, height], "key": rendered.key, "readings": rendered.readings}
    print(json.dumps(result) if as_json else f"{out}: {width} x {height}, {rendered.seconds:.2f} s")


def sweep(image: Path, out: Path, as_json: bool, fixed: dict[str, Any], **controls: str) -> None:
    """Restyle one picture over spans; `controls` are texts, each a value, a list or `A..B/N`."""
    given: dict[str, list[Any]] = {
        name: text.split(",") if name in ("look", "sampler") else parse_values(text, name)
        for name, text in controls.items()
    }
    spans = [Span(control=name, values=tuple(values)) for name, values in given.items() if len(values) > 1]
    base = recipe_from(fixed).changed(**{name: values[0] for name, values in given.items()})
    recipes = expand(base, spans)
    source = frame(_read(image).rgba, Framing(), base.size)
    cache = SharedCache()
    cells: list[tuple[str, Byte]] = []
    takes = []
    for number, recipe in enumerate(recipes, 1):
        rendered = render(source, recipe, None, cache)
        name = f"take-{number:03d}.png"
        _write(out / name, _saved(rendered, recipe, image.name))
        values = {**recipe.model_dump(), **recipe.holds.model_dump()}
        cells.append((", ".join(f"{s.control} {values[s.control]}" for s in spans), rendered.picture))
        entry = {"file": name, "recipe": recipe.model_dump(), "key": rendered.key, "seconds": rendered.seconds}
        takes.append({**entry, "readings": rendered.readings})
        _say(number, len(recipes))
    columns = len(spans[-1].values) if spans else 1
    _write(out / "sheet.png", png(contact_sheet(source, cells, columns)))
    report = json.dumps({"source": image.name, "takes": takes}, indent=None if as_json else 1)
    _write(out / "readings.json", report.encode())
    _note_words(base)
    print(report if as_json else f"{out}: {len(takes)} takes, sheet.png, readings.json")


def measure(source: Path, take: Path, as_json: bool) -> None:
    """Read a take against its source, at the take's size."""
    picture = _read(take).rgba
    side = max(picture.shape[:2])
    readings = measure_take(frame(_read(source).rgba, Framing(), side), frame(picture, Framing(), side))
    del readings["version"]
    if as_json:
        print(json.dumps(readings))
    else:
        print(f"composition kept {readings['composition']}, colour kept {readings['colour']}")


def looks(as_json: bool) -> None:
    """List the looks."""
    names = ("name", "category", "kinds", "description", "strengths")
    found = [{name: getattr(look, name) for name in names} for look in all_looks().values()]
    if as_json:
        print(json.dumps({"looks": found}))
        return
    for look in found:
        print(f"{look['name']:14} {look['category']:9} {look['description']}")
