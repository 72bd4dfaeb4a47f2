"""Layers of a picture, for formats that keep them apart."""

from dataclasses import dataclass

from ..maths.arrays import Byte


@dataclass(frozen=True)
class Layered:
    """Named pictures (h, w, 4) uint8 of one size, the lowest first."""

    layers: tuple[tuple[str, Byte], ...]
