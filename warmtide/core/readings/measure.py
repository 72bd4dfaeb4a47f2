"""All readings of a take."""

import base64
from dataclasses import asdict, dataclass
from functools import cached_property
from typing import Any

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, Mask
from ..model.errors import BadInput
from ..model.face import Face
from ..understanding.faces import find_faces
from ..understanding.ground import flat_ground
from .colour import colour_kept
from .composition import Composition, composition_kept
from .face import face_kept
from .features import Features, read_features
from .heat import worst_region
from .look import at_reading_size, look_reached, statistics
from .warnings import warnings_of

READINGS_VERSION = 3
# Cells of the stored map along the long side.
MAP_SIDE = 48


@dataclass
class SourceReading:
    """A framed source as the readings need it; what is costly is worked out once, on first use.

    Attributes
    ----------
    rgb : (h, w, 3) uint8. marked : faces that the artist marked; None to look for them.
    """

    rgb: Byte
    marked: tuple[Face, ...] | None = None

    @cached_property
    def features(self) -> Features:
        return read_features(self.rgb)

    @cached_property
    def ground(self) -> Mask | None:
        """The flat ground around the subject of flat art."""
        return flat_ground(self.features.lab)

    @cached_property
    def faces(self) -> tuple[Face, ...]:
        return find_faces(self.rgb) if self.marked is None else self.marked

    @cached_property
    def statistics(self) -> tuple[AnyArray, ...]:
        return statistics(at_reading_size(self.rgb))


@dataclass(frozen=True)
class FullRendering:
    """A look's own rendering of a whole source, which look reached is relative to."""

    rgb: Byte
    statistics: tuple[AnyArray, ...]


def full_rendering(rgb: Byte) -> FullRendering:
    """A rendering (h, w, 3) uint8 with its statistics."""
    small = at_reading_size(rgb)
    return FullRendering(small, statistics(small))


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
    first = source.features
    second = read_features(take, first.size)
    composition = composition_kept(first, second, source.ground)
    colour, difference, saturation = colour_kept(first, second)
    worst = worst_region(composition)
    faces = [face_kept(source.rgb, take, face) for face in source.faces]
    reached = look_reached(source.statistics, statistics(at_reading_size(take)), full.statistics) if full else None
    parts = {name: getattr(composition, name) for name in ("fine", "mid", "coarse", "moved", "gone", "shift", "added")}
    if faces:
        parts["faces"] = min(faces)
    figures: dict[str, Any] = {
        "composition": round(composition.kept, 1),
        "colour": round(colour, 1),
        "look": None if reached is None else round(reached, 1),
        "parts": {
            **{name: round(value, 1) for name, value in parts.items()},
            "colour_difference": round(difference, 4),
            "saturation": round(saturation, 2),
        },
        "worst": {name: round(value, 3) for name, value in asdict(worst).items()} if worst else None,
        "warnings": warnings_of(
            at_reading_size(source.rgb), at_reading_size(take), full.rgb if full else None, faces, meant
        ),
        "version": READINGS_VERSION,
    }
    return Reading(figures, composition)


def measure(source: Byte, take: Byte) -> dict[str, Any]:
    """Readings of a take against its framed source, both (h, w, 3) uint8 of the same size.

    `look` is None: that needs the look. About 60 ms at 512 px, and a search for faces.
    """
    return read(SourceReading(source), take).figures
