"""The command that writes pictures in other formats."""

import json
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import ValidationError

from ..core.export.files.kind import DPI, SIDE, Format, Wish
from ..core.export.files.registry import format_named, known
from ..core.export.names import names_of
from ..core.export.write import written
from ..core.model.errors import BadInput
from ..core.pictures.image import Picture
from ..core.pictures.inside import recipe_inside
from .files import read_picture, say, write_file

_RIGHT = {
    "size": f"The long side goes from {SIDE[0]} to {SIDE[1]} px",
    "dpi": f"Dots per inch go from {DPI[0]} to {DPI[1]}",
    "depth": "A channel has 8 or 16 bits",
    "quality": "Quality goes from 1 to 100",
    "ground": "A ground looks like #f4efe6",
}


def wish_from(**values: Any) -> Wish:
    """Wishes from plain values, or `BadInput` with one sentence."""
    try:
        return Wish(**values)
    except ValidationError as error:
        first = error.errors()[0]
        name = str(first["loc"][0])
        raise BadInput(f"{_RIGHT.get(name, name)}; {first['input']!r} is not in that range.") from None


def _fields(path: Path, picture: Picture, inside: dict[str, Any] | None) -> dict[str, object]:
    """What a picture's name may be made of."""
    recipe = (inside or {}).get("recipe") or {}
    height, width = picture.rgba.shape[:2]
    told = {name: recipe.get(name, "") for name in ("look", "strength", "guidance", "seed", "steps")}
    return {
        **told,
        "study": path.stem,
        "source": Path(str((inside or {}).get("source", path.stem))).stem,
        "width": width,
        "height": height,
    }


def _format(name: str | None, out: Path) -> Format:
    """The format by its name, else by the suffix of the file that is written, else PNG."""
    if name is not None:
        return format_named(name)
    return known(out.suffix.lstrip(".")) or format_named("png")


def export(images: list[Path], out: Path, name: str | None, pattern: str | None, as_json: bool, **wishes: Any) -> None:
    """Write pictures in a format: one to a file, several to a folder with names by a pattern."""
    form, wish = _format(name, out), wish_from(**wishes)
    read = [(path, read_picture(path), recipe_inside(path.read_bytes())) for path in images]
    one = len(images) == 1 and pattern is None and bool(out.suffix)
    # Without a pattern a file keeps the name that it has: `study` is its stem here.
    names = names_of(pattern or "{study}", [_fields(*picture) for picture in read], form.suffix)
    places = [out] if one else [out / name for name in names]
    if not one and out.is_file():
        raise BadInput(f"{out} is a file; name a folder for several pictures, or a file for one.")
    for number, (place, (path, picture, inside)) in enumerate(zip(places, read, strict=True), 1):
        rgba = picture.rgba if picture.has_alpha else np.ascontiguousarray(picture.rgba[..., :3])
        data = written(rgba, form, wish, inside, path.stem)
        write_file(place, data)
        say(number, len(places))
        print(json.dumps({"file": str(place), "bytes": len(data)}) if as_json else f"{place}: {len(data):,} bytes")
