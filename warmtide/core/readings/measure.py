"""All readings of a take."""

import base64
from dataclasses import asdict, dataclass
from functools import cached_property
from typing import Any

import cv2
import numpy as np

from ..maths.arrays import Byte, Float
from ..model.errors import BadInput
from .composition import Composition
from .heat import worst_region
from .pair import FullRendering, Pair, SourceReading
from .registry import readings
from .warnings import warnings_of

READINGS_VERSION = 4
# Cells of the stored map along the long side.
MAP_SIDE = 48


@dataclass(frozen=True)
class Reading:
    """The figures of a take, and the maps they come from."""

    figures: dict[str, Any]
    composition: Composition

    @cached_property
    def map(self) -> Byte:
        """Kept share of each place, 0..255, at most 48 cells a side: what tips and heat are drawn from."""
        return _cells(self.composition.share * 255)

    @cached_property
    def weight_map(self) -> Byte:
        """How much each place of the source matters, the most 255, in the cells of `map`."""
        weight = self.composition.weight
        return _cells(weight / max(float(weight.max()), 1e-9) * 255)

    def stored(self) -> dict[str, Any]:
        """The figures, and under `map` the two maps as base64: what is kept beside a take."""
        height, width = self.map.shape
        maps = {"kept": self.map, "weight": self.weight_map}
        return {
            **self.figures,
            "map": {"width": width, "height": height}
            | {name: base64.b64encode(plane.tobytes()).decode() for name, plane in maps.items()},
        }


def stored_map(stored: dict[str, Any], name: str) -> Float | None:
    """A map (h, w) 0..1 from stored readings, or None where they have none."""
    found = stored.get("map")
    if not found:
        return None
    plane = np.frombuffer(base64.b64decode(found[name]), np.uint8)
    return (plane.reshape(found["height"], found["width"]) / 255).astype(np.float32)


def _cells(plane: Float) -> Byte:
    scale = MAP_SIDE / max(plane.shape)
    size = (max(round(plane.shape[1] * scale), 1), max(round(plane.shape[0] * scale), 1))
    small = cv2.resize(plane.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    return np.clip(small + 0.5, 0, 255).astype(np.uint8)


def read(source: SourceReading, take: Byte, full: FullRendering | None = None, meant: tuple[Byte, ...] = ()) -> Reading:
    """Compare a take (h, w, 3) uint8 with its framed source. About 35 ms at 512 px once the source is known.

    Parameters
    ----------
    full : the look's own rendering of the source; without it `look` is None. meant : pictures (h, w, 3) whose colours
    were asked for, as the source and the look's rendering are.

    Raises
    ------
    BadInput : the two have different sizes.
    """
    if source.rgb.shape != take.shape:
        raise BadInput(
            f"The take has {take.shape[1]} x {take.shape[0]} pixels and the source {source.rgb.shape[1]} x "
            f"{source.rgb.shape[0]}; they must have the same size."
        )
    pair = Pair(source, take, full, meant)
    figures: dict[str, Any] = {}
    parts: dict[str, float] = {}
    for kind in readings():
        value = kind.of(pair)
        if not kind.within:
            figures[kind.name] = None if value is None else round(value, 1)
        elif value is not None:
            parts[kind.name] = round(value, 1)
        parts |= kind.parts(pair)
    worst = worst_region(pair.composition)
    figures |= {
        "parts": parts,
        "worst": {name: round(value, 3) for name, value in asdict(worst).items()} if worst else None,
        "warnings": warnings_of(
            source.small, pair.small, full.rgb if full else None, [kept.whole for kept in pair.faces], meant
        ),
        "version": READINGS_VERSION,
    }
    return Reading(figures, pair.composition)


def measure(source: Byte, take: Byte) -> dict[str, Any]:
    """Readings of a take against its framed source, both (h, w, 3) uint8 of the same size.

    `look` is None: that needs the look. About 60 ms at 512 px, and a search for faces.
    """
    return read(SourceReading(source), take).figures
