"""What a take's file says of how it came about, so that it can be made again from itself (docs/formats.md)."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from pydantic import ValidationError

from ..maths.arrays import Byte, pixel_key
from ..model.errors import BadInput
from ..model.recipe import ENGINE_VERSION, Recipe
from ..model.stack import Stack
from ..pictures.framing import Framing
from ..pictures.image import decode
from ..pictures.inside import recipe_inside


def original_key(data: bytes) -> str:
    """What an original is found by: SHA-256 of its file."""
    return hashlib.sha256(data).hexdigest()


def pixels_of(picture: Byte) -> str:
    """What a picture (h, w, 3) or (h, w, 4) is known by: the hash of its colours, and of its transparency where it has any."""
    solid = picture.shape[2] == 3 or bool((picture[..., 3] == 255).all())
    return pixel_key(np.ascontiguousarray(picture[..., :3] if solid else picture))


def way_of(data: bytes) -> dict[str, Any] | None:
    """What a file says of its own way, where its pixels are still those that it tells of; None for any other picture."""
    inside = recipe_inside(data)
    if inside is None or "pixels" not in inside or "enlarged" in inside:
        return None
    return inside if pixels_of(decode(data).rgba) == inside["pixels"] else None


def framing_of(inside: dict[str, Any]) -> Framing:
    """How a file says that its source was framed, or `BadInput` where that can't be read."""
    try:
        return Framing.model_validate(inside.get("framing") or {})
    except ValidationError:
        raise BadInput(
            "The picture says of its source's frame what can't be read; make it again in the program."
        ) from None


@dataclass(frozen=True)
class Origin:
    """Where a take comes from, as its file tells of it.

    Attributes
    ----------
    source, original : the source's file name, and the hash of that file. framing : how it was framed. before : what the source's own
    file says, where it was a take itself. faces : as they were marked, [] for none; None where they were looked for. guides : by name (region,
    depth, subject) the hash of each picture that led the take; None where nobody keeps it.
    """

    source: str
    original: str
    framing: Framing
    before: dict[str, Any] | None = None
    faces: list[Any] | None = None
    guides: Mapping[str, str | None] = field(default_factory=dict)


def told(picture: Byte, recipe: Recipe, key: str, origin: Origin, engine: str = ENGINE_VERSION) -> dict[str, Any]:
    """What the file of a take (h, w, 3) uint8 says; `key` is the take's, `engine` what the engine that made it is known by."""
    found: dict[str, Any] = {
        "recipe": recipe.model_dump(), "key": key, "source": origin.source, "original": origin.original, "engine": engine,
        "framing": origin.framing.model_dump(mode="json", exclude_defaults=True), "pixels": pixel_key(picture),
    }  # fmt: skip
    more = {"from": origin.before, "faces": origin.faces, "guides": dict(origin.guides) or None}
    return found | {name: value for name, value in more.items() if value is not None}


def told_source(source: str, data: bytes, framing: Framing, side: int, made_here: bool) -> dict[str, Any]:
    """How a source (its file's name and bytes) as it is framed at a long side of `side` came about. A file that was brought in is an
    original, whatever it says of itself; one that was `made_here` tells its way."""
    found = {
        "source": source, "original": original_key(data), "side": side,
        "framing": framing.model_dump(mode="json", exclude_defaults=True),
    }  # fmt: skip
    before = way_of(data) if made_here else None
    return found if before is None else {**found, "from": before}


def told_mix(picture: Byte, ways: list[dict[str, Any]], weights: list[float]) -> dict[str, Any]:
    """What the file of a mix says: how each of its pictures came about, and their weights."""
    return {
        "mixed": [{"of": way, "weight": weight} for way, weight in zip(ways, weights, strict=True)],
        "pixels": pixels_of(picture), "engine": ENGINE_VERSION,
    }  # fmt: skip


def told_stack(picture: Byte, stack: Stack, ways: Mapping[str, dict[str, Any]]) -> dict[str, Any]:
    """What the file of a touched picture says: its layers as far as they are seen, and how those came about that were not painted."""
    layers = [
        layer.model_dump(mode="json", exclude={"origin", "locked"})
        for layer in stack.layers
        if layer.shown and layer.opacity > 0
    ]
    used = {layer["picture"] for layer in layers}
    return {
        "stacked": {"width": stack.width, "height": stack.height, "layers": layers},
        "ways": {name: way for name, way in ways.items() if name in used}, "pixels": pixels_of(picture), "engine": ENGINE_VERSION,
    }  # fmt: skip


def told_cut(picture: Byte, way: dict[str, Any], subject: str | None) -> dict[str, Any]:
    """What the file of a cut-out says: what it was cut from, and the hash of what was painted into the subject, if anything was."""
    return {"cut": {"subject": subject}, "of": way, "pixels": pixels_of(picture), "engine": ENGINE_VERSION}
