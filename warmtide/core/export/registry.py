"""The forms in which a sweep can be saved. A new one is a new file here with an `EXPORTER`, and nothing else: address,
menu and docs follow."""

import importlib
import re
from functools import cache
from pathlib import Path

from ..model.errors import BadInput
from .kind import Exporter

_DECLARES = re.compile(r"^EXPORTER\b", re.MULTILINE)


@cache
def exporters() -> dict[str, Exporter]:
    """All exporters by name, in the order of the menu."""
    files = (path for path in sorted(Path(__file__).parent.glob("*.py")) if _DECLARES.search(path.read_text("utf-8")))
    found: list[Exporter] = [importlib.import_module(f"{__package__}.{path.stem}").EXPORTER for path in files]
    return {exporter.name: exporter for exporter in sorted(found, key=lambda e: (e.place, e.name))}


def exporter_named(name: str) -> Exporter:
    """The exporter of that name, or `BadInput` that lists them."""
    found = exporters().get(name)
    if found is None:
        raise BadInput(f"A sweep can't be saved as {name[:60]!r}; use one of {', '.join(exporters())}.")
    return found
