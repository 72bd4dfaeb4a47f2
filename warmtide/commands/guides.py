"""Guides, faces and placements as they are written on the command line."""

from dataclasses import replace
from pathlib import Path
from typing import Any

from ..core.job.looking import covers
from ..core.model.errors import BadInput
from ..core.model.face import Face
from ..core.model.guides import NO_GUIDES, Guides
from ..core.model.recipe import Recipe
from ..core.pictures.framing import Framing, framed_cover
from ..core.pictures.guide import guide_plane
from ..core.pictures.image import Picture
from .files import read_picture


def guides_from(region: Path | None, depth: Path | None, faces: list[str] | None) -> Guides:
    """Guides from files, and faces from texts x,y,width or x,y,width,lean."""
    planes = {"region": region, "depth": depth}
    found = {name: guide_plane(read_picture(path).rgba, name) for name, path in planes.items() if path is not None}
    marked = None if not faces else tuple(_face(text) for text in faces if text != "none")
    return Guides(found.get("region"), found.get("depth"), marked) if found or marked is not None else NO_GUIDES


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


def covered(guides: Guides, picture: Picture, recipe: Recipe, framing: Framing, size: int) -> Guides:
    """Guides with the cover of a transparent picture, where that matters."""
    if not covers(recipe):
        return guides
    return replace(guides, cover=framed_cover(picture.rgba, framing, size, picture.whole))
