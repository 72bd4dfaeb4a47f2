"""What an exporter is, and what it is given."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..maths.arrays import Byte


@dataclass(frozen=True)
class Shot:
    """One take of a sweep, as exporters see it.

    Attributes
    ----------
    axes : what tells it from the others, by control. label : the same in words. readings : as stored, {} without.
    picture : gives its pixels (h, w, 3) uint8; None where it is not finished.
    """

    axes: dict[str, Any]
    label: str
    state: str
    key: str
    seconds: float | None
    readings: dict[str, Any]
    picture: Callable[[], Byte] | None


@dataclass(frozen=True)
class Harvest:
    """A sweep to be taken away.

    Attributes
    ----------
    axes : controls by which takes are told apart. columns : pictures in a row. source : gives the framed source's pixels.
    cell : long side of a picture on a sheet, px.
    """

    axes: tuple[str, ...]
    columns: int
    shots: tuple[Shot, ...]
    source: Callable[[], Byte]
    cell: int = 384

    @property
    def finished(self) -> list[tuple[str, Byte]]:
        """Labels and pictures of the takes that are done."""
        return [(shot.label, shot.picture()) for shot in self.shots if shot.picture is not None]


@dataclass(frozen=True)
class Exporter:
    """One form in which a sweep can be saved.

    Attributes
    ----------
    name : in the address. title, says : for the menu. suffix, media : of the file. of : makes its bytes. place : its rank in
    the menu. pictures : whether it needs the source's picture and a finished take; without, the source is one black pixel.
    """

    name: str
    title: str
    says: str
    suffix: str
    media: str
    of: Callable[[Harvest], bytes]
    place: int = 100
    pictures: bool = True
