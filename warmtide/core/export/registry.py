"""The forms in which a sweep can be saved. A new one is a new file here with an `EXPORTER`, and nothing else: address,
menu and docs follow."""

from functools import cache

from ..model.declared import declared
from ..model.errors import BadInput
from .kind import Exporter


@cache
def exporters() -> dict[str, Exporter]:
    """All exporters by name, in the order of the menu."""
    found: list[Exporter] = declared(__package__ or "", "EXPORTER")
    return {exporter.name: exporter for exporter in sorted(found, key=lambda e: (e.place, e.name))}


def exporter_named(name: str) -> Exporter:
    """The exporter of that name, or `BadInput` that lists them."""
    found = exporters().get(name)
    if found is None:
        raise BadInput(f"A sweep can't be saved as {name[:60]!r}; use one of {', '.join(exporters())}.")
    return found
