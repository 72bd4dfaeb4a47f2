"""What a take's file says of how it came about, so that it can be made again from itself (docs/formats.md)."""

import hashlib
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import ValidationError

from ..maths.arrays import Byte, pixel_key
from ..model.errors import BadInput
from ..model.recipe import ENGINE_VERSION, Recipe
from ..pictures.framing import Framing
from ..pictures.image import decode
from ..pictures.inside import recipe_inside


def original_key(data: bytes) -> str:
    """What an original is found by: SHA-256 of its file."""
    return hashlib.sha256(data).hexdigest()


def way_of(data: bytes) -> dict[str, Any] | None:
    """What a file says of its own way, where its pixels are still those that it tells of; None for any other picture."""
    inside = recipe_inside(data)
    if inside is None or "pixels" not in inside or "enlarged" in inside:
        return None
    rgba = decode(data).rgba
    solid = bool((rgba[..., 3] == 255).all())
    return inside if solid and pixel_key(np.ascontiguousarray(rgba[..., :3])) == inside["pixels"] else None


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
    file says, where it was a take itself. faces : as they were marked, [] for none; None where they were looked for. guides : names of
    those that led the take and are not in its file (region, depth, subject).
    """

    source: str
    original: str
    framing: Framing
    before: dict[str, Any] | None = None
    faces: list[Any] | None = None
    guides: tuple[str, ...] = ()


def told(picture: Byte, recipe: Recipe, key: str, origin: Origin) -> dict[str, Any]:
    """What the file of a take (h, w, 3) uint8 says; `key` is the take's."""
    found: dict[str, Any] = {
        "recipe": recipe.model_dump(), "key": key, "source": origin.source, "original": origin.original, "engine": ENGINE_VERSION,
        "framing": origin.framing.model_dump(mode="json", exclude_defaults=True), "pixels": pixel_key(picture),
    }  # fmt: skip
    more = {"from": origin.before, "faces": origin.faces, "guides": list(origin.guides) or None}
    return found | {name: value for name, value in more.items() if value is not None}
