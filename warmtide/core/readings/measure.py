"""All readings of a take."""

from typing import Any

from ..arrays import Byte
from ..errors import BadInput
from .colour import colour_kept
from .composition import composition_kept

READINGS_VERSION = 1


def measure(source: Byte, take: Byte) -> dict[str, Any]:
    """Readings of a take against its framed source, both (h, w, 3) uint8 of the same size.

    `look` is None: how far a look was reached is not read yet. About 15 ms at 512 px.
    """
    if source.shape != take.shape:
        raise BadInput(
            f"The take has {take.shape[1]} x {take.shape[0]} pixels and the source {source.shape[1]} x "
            f"{source.shape[0]}; they must have the same size."
        )
    composition, parts = composition_kept(source, take)
    colour, difference = colour_kept(source, take)
    return {
        "composition": composition,
        "colour": colour,
        "look": None,
        "parts": {**parts, "colour_difference": difference},
        "warnings": [],
        "version": READINGS_VERSION,
    }
