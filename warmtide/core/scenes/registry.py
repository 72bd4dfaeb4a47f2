"""The places there are. A new place is a new file in `places` with `PLACES`, and nothing else."""

import importlib
import pkgutil
from functools import cache

from ..model.errors import BadInput
from .places.base import Place


@cache
def places() -> dict[str, Place]:
    """All places by name, in the order of their titles."""
    package = importlib.import_module(f"{__package__}.places")
    found: list[Place] = []
    for module in pkgutil.iter_modules(package.__path__):
        if module.name != "base":
            found += getattr(importlib.import_module(f"{package.__name__}.{module.name}"), "PLACES", ())
    return {place.name: place for place in sorted(found, key=lambda place: place.title)}


def place_named(name: str) -> Place:
    """The place of that name, or `BadInput` that lists them."""
    found = places().get(name)
    if found is None:
        raise BadInput(f"There is no place {name!r}; use one of {', '.join(places())}.")
    return found
