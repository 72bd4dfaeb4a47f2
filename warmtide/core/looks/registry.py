"""The looks there are. A new look is a new file here with a `LOOK`, and nothing else."""

import importlib
import pkgutil
from functools import cache

from ..errors import BadInput
from .base import Look

_NOT_LOOKS = {"base", "registry", "painting"}


@cache
def looks() -> dict[str, Look]:
    """All looks by name, in the order of their titles."""
    package = importlib.import_module(__package__ or "")
    found = []
    for module in pkgutil.iter_modules(package.__path__):
        if module.name not in _NOT_LOOKS:
            found.append(importlib.import_module(f"{__package__}.{module.name}").LOOK)
    return {look.name: look for look in sorted(found, key=lambda look: look.title)}


def look_named(name: str) -> Look:
    """The look of that name, or `BadInput` that lists the names."""
    if name not in looks():
        raise BadInput(f"There is no look {name!r}; use one of {', '.join(looks())}.")
    return looks()[name]
