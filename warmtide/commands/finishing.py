"""The commands that finish a picture: larger, and as curves."""

import json
import time
from pathlib import Path
from typing import Any

import numpy as np

from ..core.finish.enlarge.alpha import with_alpha
from ..core.finish.enlarge.kind import Job, Origin
from ..core.finish.enlarge.registry import enlarged, way_named
from ..core.finish.enlarge.size import by_factor, by_side
from ..core.finish.trace.drawing import svg_of
from ..core.finish.trace.trace import flattened, traced
from ..core.job.looking import look_of
from ..core.job.told import framing_of
from ..core.maths.arrays import Byte, pixel_key
from ..core.model.errors import BadInput
from ..core.model.guides import NO_GUIDES
from ..core.model.recipe import SIZES, Recipe, recipe_from, take_key
from ..core.pictures.framing import Framing
from ..core.pictures.image import png
from ..core.pictures.inside import recipe_inside
from .files import read_framed, read_picture, say, write_file
from .guides import covered

_FACTOR = 2.0
_PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".avif", ".svg")


def _source_of(kept: dict[str, Any], recipe: Recipe, folder: Path) -> tuple[Path, Framing]:
    """The source of a saved take among the pictures of a folder: the one that gives its key, or else the one of its name."""
    framing = framing_of(kept)
    try:
        files = sorted(path for path in folder.iterdir() if path.suffix.lower() in _PICTURES)
    except OSError as error:
        raise BadInput(f"{folder} can't be read ({error.strerror}); name the folder of the sources.") from None
    named = [path for path in files if path.name == kept.get("source")]
    for path in [*named, *(path for path in files if path not in named)]:
        try:
            picture, framed = read_framed(path, framing, recipe.size)
        except BadInput:
            continue
        guides = covered(NO_GUIDES, picture, recipe, framing, recipe.size)
        if take_key(pixel_key(framed), recipe, guides.key) == kept.get("key"):
            return path, framing
    if named:
        raise BadInput(
            f"{named[0]} does not give this take: another engine version painted it, or a region, a depth guide or faces led it; "
            "use detail or edges, or paint it again in the program."
        )
    raise BadInput(
        f"The source of this take ({kept.get('source')}) is not in {folder}; name its folder with --sources."
    )


def _origin(image: Path, sources: Path | None) -> Origin:
    try:
        kept = recipe_inside(image.read_bytes())
    except OSError as error:
        raise BadInput(f"{image} can't be read ({error.strerror}); name a picture file.") from None
    if kept is None:
        raise BadInput(f"{image} holds no recipe, so that it can't be painted again; use detail, edges or a plain way.")
    recipe = recipe_from(dict(kept.get("recipe") or {}))
    look = look_of(recipe)
    path, framing = _source_of(kept, recipe, sources or image.parent)
    picture, _ = read_framed(path, framing, SIZES[1])

    def framed(side: int) -> Byte:
        return read_framed(path, framing, side)[1]

    return Origin(recipe, look, framed, covered(NO_GUIDES, picture, recipe, framing, SIZES[1]))


def enlarge(
    image: Path, out: Path, factor: float | None, size: int | None, way: str, sources: Path | None, as_json: bool
) -> None:
    """Make a picture larger, write it as a PNG, and say how large and how long."""
    chosen = way_named(way)
    if factor is not None and size is not None:
        raise BadInput("Give --factor or --size, not both.")
    rgba = read_picture(image).rgba
    picture = np.ascontiguousarray(rgba[..., :3])
    tall, wide = picture.shape[:2]
    height, width = by_side(tall, wide, size) if size is not None else by_factor(tall, wide, factor or _FACTOR)
    origin = _origin(image, sources) if chosen.again else None
    began = time.perf_counter()
    large = enlarged(Job(picture, height, width, say, origin), way)
    seconds = round(time.perf_counter() - began, 3)
    if (rgba[..., 3] < 255).any():
        large = with_alpha(large, np.ascontiguousarray(rgba[..., 3]), way)
    write_file(out, png(large))
    print(
        json.dumps({"way": way, "size": [width, height], "seconds": seconds})
        if as_json
        else f"{out}: {width} x {height}, {seconds:.2f} s"
    )


def trace(image: Path, out: Path, how: str | None, colours: int | None, as_json: bool) -> None:
    """Trace a picture, write it as an SVG, and say what it is made of."""
    rgba = read_picture(image).rgba
    began = time.perf_counter()
    drawing = traced(flattened(rgba), how, colours, image.stem)
    text = svg_of(drawing).encode()
    seconds = round(time.perf_counter() - began, 3)
    write_file(out, text)
    told = {"groups": [group.name for group in drawing.groups], "colours": drawing.colours}
    if as_json:
        print(json.dumps({**told, "nodes": drawing.nodes, "bytes": len(text), "seconds": seconds}))
        return
    print(f"{out}: {drawing.nodes} nodes, {len(text):,} bytes, {len(drawing.groups)} groups, {seconds:.2f} s")
