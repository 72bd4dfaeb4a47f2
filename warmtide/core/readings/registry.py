"""The readings there are. A new reading is a new file here with a `READING`, and nothing else: what is stored, the tables,
the panel, the sorting and the maps of the interface follow."""

import importlib
import re
from functools import cache
from pathlib import Path

from .kind import ReadingKind

_DECLARES = re.compile(r"^READING\b", re.MULTILINE)


@cache
def readings() -> tuple[ReadingKind, ...]:
    """All readings in the order in which they are listed."""
    files = (path for path in sorted(Path(__file__).parent.glob("*.py")) if _DECLARES.search(path.read_text("utf-8")))
    found: list[ReadingKind] = [importlib.import_module(f"{__package__}.{path.stem}").READING for path in files]
    return tuple(sorted(found, key=lambda kind: (kind.place, kind.name)))
