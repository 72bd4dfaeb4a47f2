"""What a take's file says of how it came about, so that it can be made again from itself (docs/formats.md)."""

import hashlib
from typing import Any

import numpy as np

from ..maths.arrays import Byte, pixel_key
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


def told(
    picture: Byte,
    recipe: Recipe,
    key: str,
    source: str,
    original: str,
    framing: Framing,
    before: dict[str, Any] | None = None,
    **led: Any,
) -> dict[str, Any]:
    """What a take's file says.

    Parameters
    ----------
    picture : the take (h, w, 3) uint8. key : of the take. source, original : its source's file name, and the hash of that file.
    before : what the source's own file says, where it was a take itself. led : what led the take besides, by name: `faces` as they were
        marked, `guides` as the names of those that are not in the file (region, depth, subject).
    """
    found: dict[str, Any] = {
        "recipe": recipe.model_dump(), "key": key, "source": source, "original": original, "engine": ENGINE_VERSION,
        "framing": framing.model_dump(mode="json", exclude_defaults=True), "pixels": pixel_key(picture),
    }  # fmt: skip
    if before is not None:
        found["from"] = before
    return found | {name: value for name, value in led.items() if value}
