"""Names of files by a pattern: `{study}-{look}-{strength}-{number}`."""

import re
from collections.abc import Iterable, Mapping
from string import Formatter

from ..model.errors import BadInput

FIELDS = {
    "study": "the study's name",
    "source": "the source's name",
    "look": "the look",
    "strength": "0 to 1",
    "guidance": "1 to 30",
    "seed": "the seed",
    "steps": "the steps",
    "width": "pixels across",
    "height": "pixels down",
    "number": "counted from 001",
}
DEFAULT = "{study}-{look}-{strength}-{seed}-{number}"
_LONGEST = 120
_MOST = 200


def checked_pattern(pattern: str) -> str:
    """A pattern, or `BadInput` that says what is wrong with it."""
    if not pattern.strip() or len(pattern) > _MOST:
        raise BadInput(f"A pattern of names has 1 to {_MOST} characters, such as {DEFAULT}.")
    if re.search(r'[/\\\x00-\x1f:*?"<>|]', pattern) or pattern.strip().startswith("."):
        raise BadInput('A pattern names files, not folders: leave out / \\ : * ? " < > | and a dot at its beginning.')
    try:
        parts = list(Formatter().parse(pattern))
    except ValueError:
        raise BadInput("A { or } in the pattern stands alone; a field looks like {look}.") from None
    for _, name, spec, conversion in parts:
        if name is not None and (name not in FIELDS or spec or conversion):
            raise BadInput(
                f"There is no field {{{name[:40]}}} in a pattern; use {', '.join('{' + f + '}' for f in FIELDS)}."
            )
    return pattern


def _said(value: object) -> str:
    text = f"{value:g}" if isinstance(value, float) else str(value)
    return re.sub(r"[^\w.,+()=-]+", "-", text).strip("-. ") or "none"


def names_of(pattern: str, many: Iterable[Mapping[str, object]], suffix: str) -> list[str]:
    """Names of files, no two alike, in the order of what they are named by: mappings with the names of `FIELDS` but `number`."""
    checked_pattern(pattern)
    taken: set[str] = set()
    names = []
    for number, values in enumerate(many, 1):
        fields = {name: _said(values.get(name, "")) for name in FIELDS} | {"number": f"{number:03d}"}
        stem = re.sub(r"\s+", " ", pattern.format(**fields)).strip("-. ")[:_LONGEST] or f"picture-{number:03d}"
        name, more = stem, 1
        while name.casefold() in taken:
            more += 1
            name = f"{stem}-{more}"
        taken.add(name.casefold())
        names.append(f"{name}.{suffix}")
    return names
