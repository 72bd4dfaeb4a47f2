"""The readings there are. A new reading is a new file here with a `READING`, and nothing else: what is stored, the tables,
the panel, the sorting and the maps of the interface follow."""

from functools import cache

from ..model.declared import declared
from .kind import ReadingKind


@cache
def readings() -> tuple[ReadingKind, ...]:
    """All readings in the order in which they are listed."""
    found: list[ReadingKind] = declared(__package__ or "", "READING")
    return tuple(sorted(found, key=lambda kind: (kind.place, kind.name)))
