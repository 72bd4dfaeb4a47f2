"""The formats of picture files. A new one is a new file here with a `FORMAT`, and nothing else."""

from functools import cache

from ...model.declared import declared
from ...model.errors import BadInput
from .kind import Format

# Other names that people write.
_ALSO = {"jpg": "jpeg", "tif": "tiff", "openraster": "ora"}


@cache
def formats() -> dict[str, Format]:
    """All formats by name, in the order of the panel."""
    found: list[Format] = declared(__package__ or "", "FORMAT")
    return {form.name: form for form in sorted(found, key=lambda f: (f.place, f.name))}


def known(name: str) -> Format | None:
    """The format of that name or suffix, where there is one."""
    return formats().get(_ALSO.get(name.lower(), name.lower()))


def format_named(name: str) -> Format:
    """The format of that name or suffix, or `BadInput` that lists them."""
    found = known(name)
    if found is None:
        raise BadInput(f"Pictures can't be saved as {name[:60]!r}; use one of {', '.join(formats())}.")
    return found
