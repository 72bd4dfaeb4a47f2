"""Readings as a table: one line a take."""

import csv
import io
from typing import Any

from ..readings.registry import readings
from .kind import Exporter, Harvest

# What a table program begins a formula with.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def _cell(value: Any) -> Any:
    """A value that no table program takes for a formula."""
    return f"'{value}" if isinstance(value, str) and value[:1] in _FORMULA else value


def _table(harvest: Harvest) -> bytes:
    kinds = readings()
    parts = [name for kind in kinds for name in kind.part_names]
    out = io.StringIO()
    table = csv.writer(out)
    titles = [kind.title.lower() for kind in kinds]
    table.writerow([*harvest.axes, "state", *titles, *parts, "warnings", "seconds", "key"])
    for shot in harvest.shots:
        figures = [kind.stored(shot.readings) for kind in kinds]
        finer = shot.readings.get("parts", {})
        warned = " ".join(shot.readings.get("warnings", []))
        own = [_cell(shot.axes[axis]) for axis in harvest.axes]
        table.writerow(
            [*own, shot.state, *figures, *(finer.get(part, "") for part in parts), warned, shot.seconds, shot.key]
        )
    return out.getvalue().encode()


EXPORTER = Exporter(
    "readings-csv",
    "Readings as CSV",
    "one line a take",
    "csv",
    "text/csv; charset=utf-8",
    _table,
    place=3,
    pictures=False,
)
