"""The places there are. A new place is a new file in `places` with `PLACES`, and nothing else."""

from functools import cache

from ..model.declared import declared
from ..model.errors import BadInput
from .places.base import Place


@cache
def places() -> dict[str, Place]:
    """All places by name, in the order of their titles."""
    found = [place for some in declared(f"{__package__}.places", "PLACES") for place in some]
    return {place.name: place for place in sorted(found, key=lambda place: place.title)}


def place_named(name: str) -> Place:
    """The place of that name, or `BadInput` that lists them."""
    found = places().get(name)
    if found is None:
        raise BadInput(f"There is no place {name!r}; use one of {', '.join(places())}.")
    return found
