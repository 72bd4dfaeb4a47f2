"""What the commands do. Apart from `cli`, so that starting the server does not load the engine."""

import asyncio
import json
import sys
import time
import uuid
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

from .core.arrays import Byte
from .core.describe import describe as describe_picture
from .core.engine.cache import SharedCache
from .core.engine.faces import Face
from .core.engine.guides import NO_GUIDES, Guides, guide_plane
from .core.engine.restyle import painted_whole
from .core.engine.source import places_in
from .core.engine.staging import parts_asked, scene_asked, takes_cover
from .core.errors import BadInput
from .core.finish.sheet import contact_sheet
from .core.framing import Framing, frame, framed_cover
from .core.image import Picture, decode, png, recipe_inside
from .core.job import Rendered, render
from .core.looking import look_of, look_said, without_looks
from .core.looks.base import Look
from .core.looks.learned.dictionary import learn as learn_look
from .core.looks.learned.dictionary import read as read_look
from .core.looks.learned.dictionary import written
from .core.looks.learned.painter import look_from
from .core.looks.registry import add
from .core.looks.registry import looks as all_looks
from .core.mix import mix as mix_pictures
from .core.readings.look import at_reading_size
from .core.readings.measure import SourceReading, full_rendering
from .core.readings.measure import read as read_pair
from .core.recipe import HOLDS, Recipe, recipe_from
from .core.scenes.things import things_in
from .core.sweep import Span, expand, parse_values
from .core.words.places import said
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


def _note_words(recipe: Recipe, source: Byte, guides: Guides = NO_GUIDES) -> None:
    """Say of every phrase what it was understood as, and where."""
    reading = scene_asked(recipe.look, recipe.prompt)
    phrases = understand(recipe.prompt, reading) + understand(recipe.avoid)
    there = places_in(source, tuple(phrase.place for phrase in phrases if phrase.place))
    for name, text in (("prompt", recipe.prompt), ("avoid", recipe.avoid)):
        for phrase in understand(text, reading if name == "prompt" else None):
            brought = things_in(phrase.text) if guides.region is not None and name == "prompt" else ()
            parts = parts_asked(recipe.look, phrase.text) if name == "prompt" else ()
            look = look_said(recipe, phrase) if name == "prompt" else None
            said_all = (
                *((look.words,) if look and look.acts else ()),
                *((*parts, *phrase.scene) or without_looks(phrase) or brought),
            )
            means = ", ".join(said_all) or "nothing: without effect"
            if brought and not phrase.scene:
                means += " in the region"
            missed = f" (not understood: {' '.join(phrase.unknown)})" if phrase.concepts and phrase.unknown else ""
            if look and not look.acts:
                missed += f" ({look.words})"
            where = f" {said(phrase.place)}" if phrase.place else ""
            if phrase.place and phrase.place not in there:
                where += ", which this picture has not: without effect"
            print(f"{name}: {phrase.text} = {means}{where}{missed}", file=sys.stderr)
    for conflict in reading.conflicts:
        print(conflict, file=sys.stderr)


def guides_from(region: Path | None, depth: Path | None, faces: list[str] | None) -> Guides:
    """Guides from files, and faces from texts x,y,width or x,y,width,lean."""
    planes = {"region": region, "depth": depth}
    found = {name: guide_plane(_read(path).rgba, name) for name, path in planes.items() if path is not None}
    marked = None if not faces else tuple(_face(text) for text in faces if text != "none")
    return Guides(found.get("region"), found.get("depth"), marked) if found or marked is not None else NO_GUIDES


def _covered(guides: Guides, picture: Picture, recipe: Recipe) -> Guides:
    """With the cover of a transparent picture, where that matters."""
    if not takes_cover(recipe):
        return guides
    return replace(guides, cover=framed_cover(picture.rgba, Framing(), recipe.size))


def _face(text: str) -> Face:
    try:
        x, y, width, *rest = (float(part) for part in text.split(","))
        angle = rest[0] if rest else 0.0
    except ValueError:
        x = y = width = angle = -1.0
        rest = []
    if not (0 <= x <= 1 and 0 <= y <= 1 and 0.02 <= width <= 1 and -180 <= angle <= 180 and len(rest) < 2):
        raise BadInput(
            f"A face is {text!r}; write x,y,width in shares of the long side, such as 0.4,0.3,0.12, and a fourth figure "
            "for degrees that it leans to the right."
        )
    return Face(x, y, width, angle)


def _look(name: str) -> str:
    """A look's name; a file of a learned look is read and made known first."""
    if not name.endswith(".npz"):
        return name
    try:
        return add(look_from(read_look(Path(name).read_bytes()))).name
    except OSError as error:
        raise BadInput(f"{name} can't be read ({error.strerror}); name the file of a learned look.") from None


def learn(references: list[Path], out: Path, as_json: bool, name: str, marks: float | None) -> None:
    """Learn a look from pictures and write its file."""
    if marks is not None and not 0.2 <= marks <= 2:
        raise BadInput(f"The size of marks is {marks:g}; it goes from 0.2 to 2, 1 as in the pictures.")
    began = time.perf_counter()
    pictures = [frame(_read(path).rgba, Framing(), 1024) for path in references]
    found = learn_look(pictures, name or out.stem, marks)
    data = written(found)
    _write(out, data)
    seconds = round(time.perf_counter() - began, 3)
    facts = {"id": found.id, "name": found.name, "seconds": seconds, "bytes": len(data), "element": found.element}
    print(json.dumps(facts) if as_json else f"{out}: {found.name}, {len(data) / 1e6:.1f} MB, {seconds:.2f} s")


def mix(pictures: list[Path], out: Path, weights: str, size: int) -> None:
    """Mix pictures, the later ones cropped to the first one's shape."""
    given = [float(v) for v in parse_values(weights, "weights")] if weights else [1.0] * len(pictures)
    framed = [frame(_read(path).rgba, Framing(), size) for path in pictures]
    mixed = mix_pictures(framed, given)
    _write(out, png(mixed))
    print(f"{out}: {mixed.shape[1]} x {mixed.shape[0]}")


def placement_from(text: str | None) -> dict[str, Any] | None:
    """Where a cut-out is put, from `x,y,height` or `x,y,height,stance`."""
    if text is None:
        return None
    parts = [part.strip() for part in text.split(",")]
    try:
        numbers = [float(part) for part in parts[:3]]
    except ValueError:
        numbers = []
    if len(numbers) != 3 or len(parts) > 4:
        raise BadInput(f"{text!r} is not a placement; write x,y,height or x,y,height,stands, such as 0.5,0.9,0.4.")
    stance = {"stance": parts[3]} if len(parts) == 4 else {}
    return {"x": numbers[0], "y": numbers[1], "tall": numbers[2], **stance}


def restyle(image: Path, out: Path, as_json: bool, guides: Guides, **controls: Any) -> None:
    """Restyle one picture; `controls` are the recipe's fields, holds by their own names."""
    controls["look"], second = _look(controls["look"]), controls["second_look"]
    controls["second_look"] = second and _look(second)
    holds = {name: controls.pop(name) for name in HOLDS}
    recipe = recipe_from({**controls, "holds": holds})
    picture = _read(image)
    source = frame(picture.rgba, Framing(), recipe.size)
    guides = _covered(guides, picture, recipe)
    rendered = render(source, recipe, _say, None, guides)
    _write(out, _saved(rendered, recipe, image.name))
    _note_words(recipe, source, guides)
    height, width = rendered.picture.shape[:2]
    result = {
        "seconds": rendered.seconds,
        "size": [width, height],
        "key": rendered.key,
        "readings": _shown(rendered.reading.figures),
    }
    print(json.dumps(result) if as_json else f"{out}: {width} x {height}, {rendered.seconds:.2f} s")


def sweep(image: Path, out: Path, as_json: bool, guides: Guides, fixed: dict[str, Any], **controls: str) -> None:
    """Restyle one picture over spans; `controls` are texts, each a value, a list or `A..B/N`."""
    given: dict[str, list[Any]] = {
        name: [_look(part) for part in text.split(",")] if name in ("look", "sampler") else parse_values(text, name)
        for name, text in controls.items()
    }
    spans = [Span(control=name, values=tuple(values)) for name, values in given.items() if len(values) > 1]
    fixed["second_look"] = fixed["second_look"] and _look(fixed["second_look"])
    base = recipe_from(fixed).changed(**{name: values[0] for name, values in given.items()})
    recipes = expand(base, spans)
    picture = _read(image)
    source = frame(picture.rgba, Framing(), base.size)
    cache = SharedCache()
    cells: list[tuple[str, Byte]] = []
    takes = []
    for number, recipe in enumerate(recipes, 1):
        rendered = render(source, recipe, None, cache, _covered(guides, picture, recipe))
        name = f"take-{number:03d}.png"
        _write(out / name, _saved(rendered, recipe, image.name))
        values = {**recipe.model_dump(), **recipe.holds.model_dump()}
        cells.append((", ".join(f"{s.control} {values[s.control]}" for s in spans), rendered.picture))
        entry = {"file": name, "recipe": recipe.model_dump(), "key": rendered.key, "seconds": rendered.seconds}
        takes.append({**entry, "readings": _shown(rendered.reading.figures)})
        _say(number, len(recipes))
    columns = len(spans[-1].values) if spans else 1
    _write(out / "sheet.png", png(contact_sheet(source, cells, columns)))
    report = json.dumps({"source": image.name, "takes": takes}, indent=None if as_json else 1)
    _write(out / "readings.json", report.encode())
    _note_words(base, source)
    print(report if as_json else f"{out}: {len(takes)} takes, sheet.png, readings.json")


def _shown(figures: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in figures.items() if name != "version"}


def _look_inside(data: bytes) -> Look | None:
    """The look that a saved take was made with, if it is one that is here."""
    inside = (recipe_inside(data) or {}).get("recipe") or {}
    if not isinstance(inside, dict) or "look" not in inside:
        return None
    try:
        recipe = recipe_from(inside)
        return look_of(recipe)
    except BadInput:
        return None


def measure(source: Path, take: Path, as_json: bool) -> None:
    """Read a take against its source, at the take's size; look reached where the take says its look."""
    picture = _read(take).rgba
    side = max(picture.shape[:2])
    framed = frame(_read(source).rgba, Framing(), side)
    look = _look_inside(take.read_bytes())
    full = full_rendering(painted_whole(at_reading_size(framed), look)) if look else None
    readings = _shown(read_pair(SourceReading(framed), frame(picture, Framing(), side), full).figures)
    if as_json:
        print(json.dumps(readings))
    else:
        reached = "" if readings["look"] is None else f", look reached {readings['look']}"
        print(f"composition kept {readings['composition']}, colour kept {readings['colour']}{reached}")


def describe(image: Path, as_json: bool) -> None:
    """Describe a picture; a star marks what would steer a take."""
    found = describe_picture(frame(_read(image).rgba, Framing(), 512))
    if as_json:
        print(json.dumps({"phrases": [asdict(phrase) for phrase in found]}))
        return
    for phrase in found:
        print(f"{phrase.sure:.2f} {phrase.text}{' *' if phrase.acts else ''}")


def looks(as_json: bool) -> None:
    """List the looks."""
    names = ("name", "category", "kinds", "description", "strengths")
    found = [{name: getattr(look, name) for name in names} for look in all_looks().values()]
    if as_json:
        print(json.dumps({"looks": found}))
        return
    for look in found:
        print(f"{look['name']:14} {look['category']:9} {look['description']}")


def reread(study: str, everything: bool, data: Path | None) -> None:
    """Read takes again, on the running program's database or one that is started for it."""
    from .launch.postgres import Postgres
    from .records.database import Database
    from .records.store import ImageStore
    from .settings import ROOT
    from .work.reread import reread as read_again

    try:
        wanted = uuid.UUID(study) if study else None
    except ValueError:
        raise BadInput(f"A study has a number like {uuid.UUID(int=1)}; {study!r} is none.") from None
    folder = data or ROOT / ".data"
    if not folder.is_dir():
        raise BadInput(f"There is no data folder {folder}; name it with --data.")
    server = Postgres(folder)
    running = server.running() if server.is_made() else None
    if running is None and not server.is_made():
        raise BadInput(f"{folder} holds no database; name the data folder with --data.")

    async def run(address: str) -> tuple[int, int]:
        database = Database(address)
        try:
            return await read_again(database, ImageStore(str(folder / "images")), wanted, everything)
        finally:
            await database.close()

    try:
        done, failed = asyncio.run(run(running or server.start()))
    finally:
        if running is None:
            server.stop()
    left = f", {failed} could not be read since their source is gone" if failed else ""
    print(f"{done} takes read again{left}")
