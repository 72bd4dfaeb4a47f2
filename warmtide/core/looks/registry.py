"""The looks there are. A new look is a new file with a `LOOK` in the folder of its family, and nothing else.

A family is a folder: its looks, what they share, and, where parts of its things can be named in a prompt, their words in
`vocabulary.py`. Looks learned from pictures are made known by `add` before a recipe names them.
"""

import importlib
import re
from functools import cache
from pathlib import Path

from ..model.declared import declared
from ..model.errors import BadInput
from ..model.look import Look

_FOLDER = Path(__file__).parent
# Folders that are no families.
_SHARED = {"shared", "learned", "__pycache__"}
_learned: dict[str, Look] = {}


@cache
def _families() -> tuple[Path, ...]:
    return tuple(sorted(path for path in _FOLDER.iterdir() if path.is_dir() and path.name not in _SHARED))


def _loaded(family: Path, module: str) -> Look | None:
    """The look of a module, if it has one; others of the family are not loaded."""
    found: Look | None = getattr(importlib.import_module(f"{__package__}.{family.name}.{module}"), "LOOK", None)
    return found


@cache
def _built_in(name: str) -> Look | None:
    """The built-in look of a name, whose module alone is loaded: it is called as the look is."""
    if not re.fullmatch(r"[a-z0-9]+(-[a-z0-9]+)*", name):
        return None
    module = name.replace("-", "_")
    family = next((family for family in _families() if (family / f"{module}.py").exists()), None)
    found = None if family is None else _loaded(family, module)
    return found if found is not None and found.name == name else None


@cache
def looks() -> dict[str, Look]:
    """All built-in looks by name, in the order of their titles."""
    found = [look for family in _families() for look in declared(f"{__package__}.{family.name}", "LOOK")]
    return {look.name: look for look in sorted(found, key=lambda look: look.title)}


# Categories in the order in which they are shown; others follow.
_ORDER = (
    "material", "concept", "building", "product", "character", "painted", "drawn", "graphic", "printed", "made", "restored",
)  # fmt: skip


@cache
def by_category() -> tuple[Look, ...]:
    """All built-in looks, category by category, in each by their titles."""
    rank = {category: k for k, category in enumerate(_ORDER)}
    return tuple(
        sorted(looks().values(), key=lambda look: (rank.get(look.category, len(rank)), look.category, look.title))
    )


@cache
def part_words() -> frozenset[str]:
    """Words for the parts of things, and for what these are made of, of every family that has any."""
    modules = [family.name for family in _families() if (family / "vocabulary.py").exists()]
    return frozenset().union(*(importlib.import_module(f"{__package__}.{m}.vocabulary").part_words() for m in modules))


def look_named(name: str) -> Look:
    """The look of that name, or `BadInput` that lists the names."""
    found = _built_in(name) or _learned.get(name)
    if found is None:
        if name.startswith("learned-"):
            raise BadInput(f"The look {name!r} is not here; learn it again or bring in its file.")
        raise BadInput(f"There is no look {name[:60]!r}; use one of {', '.join(looks())}.")
    return found


def is_known(name: str) -> bool:
    return _built_in(name) is not None or name in _learned


def add(look: Look) -> Look:
    """Make a learned look known to this process."""
    _learned[look.name] = look
    return look
