"""What a reading is: a figure of 0 to 100 by which a take is judged against its source."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .pair import Pair


def _none(_: "Pair") -> dict[str, float]:
    return {}


@dataclass(frozen=True)
class ReadingKind:
    """One reading.

    Attributes
    ----------
    name : what it is stored under. title : as it is shown. says : one sentence on what it tells. of : its figure
    for a source and a take, 0..100, or None where it can't be told. parts : finer figures, in units of their own, by the
    names in `part_names`. goes : what it is that gives way along strength, if that is told beside the composition ("the face").
    place : its rank where readings are listed. within : stored among the parts, and only where
    it can be told.
    """

    name: str
    title: str
    says: str
    of: "Callable[[Pair], float | None]"
    parts: "Callable[[Pair], dict[str, float]]" = _none
    part_names: tuple[str, ...] = ()
    goes: str = ""
    place: int = 100
    within: bool = False

    def stored(self, figures: dict[str, Any]) -> float | None:
        """Its figure in stored readings, which may be older than it is; None where it isn't there."""
        found = figures.get(self.name, figures.get("parts", {}).get(self.name))
        return None if found is None else float(found)
