"""The looks there are. A new look is a new file here with a `LOOK`, and nothing else.

Looks learned from pictures are made known by `add` before a recipe names them.
"""

import importlib
import pkgutil
from functools import cache

from ..errors import BadInput
from .base import Look

_NOT_LOOKS = {"base", "registry", "mixed", "painting", "learned"}
_learned: dict[str, Look] = {}


@cache
def _modules() -> frozenset[str]:
    """Names of the modules that hold a look."""
    package = importlib.import_module(__package__ or "")
    return frozenset(module.name for module in pkgutil.iter_modules(package.__path__)) - _NOT_LOOKS


def _built_in(name: str) -> Look | None:
    """The built-in look of a name, whose module alone is loaded: it is called as the look is."""
    module = name.replace("-", "_")
    if "_" in name or module not in _modules():
        return None
    found: Look = importlib.import_module(f"{__package__}.{module}").LOOK
    return found


@cache
def looks() -> dict[str, Look]:
    """All built-in looks by name, in the order of their titles."""
    found = [importlib.import_module(f"{__package__}.{module}").LOOK for module in sorted(_modules())]
    return {look.name: look for look in sorted(found, key=lambda look: look.title)}


def look_named(name: str) -> Look:
    """The look of that name, or `BadInput` that lists the names."""
    found = _built_in(name) or _learned.get(name)
    if found is None:
        if name.startswith("learned-"):
            raise BadInput(f"The look {name!r} is not here; learn it again or bring in its file.")
        raise BadInput(f"There is no look {name[:60]!r}; use one of {', '.join(looks())}.")
    return found


def places_things(name: str) -> bool:
    """Whether a look takes a place in the prompt as a scene; learned ones do."""
    found = _built_in(name)
    return found is None or found.placed


def keeps_shapes(name: str) -> bool:
    """Whether a look makes a thing of the source's own shapes and wants to know where they end."""
    found = _built_in(name)
    return found is not None and found.once and found.placed


def is_known(name: str) -> bool:
    return _built_in(name) is not None or name in _learned


def add(look: Look) -> Look:
    """Make a learned look known to this process."""
    _learned[look.name] = look
    return look
