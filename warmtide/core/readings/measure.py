"""All readings of a take."""

from dataclasses import asdict, dataclass
from typing import Any

from ..arrays import Byte
from ..errors import BadInput
from .colour import colour_kept
from .composition import Composition, composition_kept
from .features import Features, read_features
from .heat import worst_region

READINGS_VERSION = 2


@dataclass(frozen=True)
class Reading:
    """The figures of a take, and the maps they come from."""

    figures: dict[str, Any]
    composition: Composition


def read(source: Byte | Features, take: Byte) -> Reading:
    """Compare a take (h, w, 3) uint8 with its framed source, or with the source's features. About 30 ms."""
    first = source if isinstance(source, Features) else read_features(source)
    second = read_features(take, first.size)
    composition = composition_kept(first, second)
    colour, difference, saturation = colour_kept(first, second)
    worst = worst_region(composition)
    parts = {name: getattr(composition, name) for name in ("fine", "mid", "coarse", "moved", "gone", "shift", "added")}
    figures: dict[str, Any] = {
        "composition": round(composition.kept, 1),
        "colour": round(colour, 1),
        "look": None,
        "parts": {
            **{name: round(value, 1) for name, value in parts.items()},
            "colour_difference": round(difference, 4),
            "saturation": round(saturation, 2),
        },
        "worst": {name: round(value, 3) for name, value in asdict(worst).items()} if worst else None,
        "warnings": [],
        "version": READINGS_VERSION,
    }
    return Reading(figures, composition)


def measure(source: Byte, take: Byte) -> dict[str, Any]:
    """Readings of a take against its framed source, both (h, w, 3) uint8 of the same size.

    `look` is None: how far a look was reached is not read yet. About 40 ms at 512 px.
    """
    if source.shape != take.shape:
        raise BadInput(
            f"The take has {take.shape[1]} x {take.shape[0]} pixels and the source {source.shape[1]} x "
            f"{source.shape[0]}; they must have the same size."
        )
    return read(source, take).figures
