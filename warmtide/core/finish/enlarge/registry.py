"""The ways of making a picture larger. A new one is a new file here with a `WAYS`, and nothing else."""

from functools import cache

from ...maths.arrays import Byte
from ...model.declared import declared
from ...model.errors import BadInput
from .kind import Job, Way


@cache
def ways() -> dict[str, Way]:
    """All ways by name, the one that keeps most first."""
    found: list[tuple[Way, ...]] = declared(__package__ or "", "WAYS")
    return {way.name: way for way in sorted((way for some in found for way in some), key=lambda way: way.place)}


def way_named(name: str) -> Way:
    """The way of that name, or `BadInput` that lists them."""
    found = ways().get(name)
    if found is None:
        raise BadInput(f"There is no way {name[:60]!r} of making a picture larger; use one of {', '.join(ways())}.")
    return found


def enlarged(job: Job, name: str) -> Byte:
    """A picture made larger in a way.

    Returns
    -------
    (job.height, job.width, 3) uint8 sRGB.

    Raises
    ------
    BadInput : there is no such way, or it needs a recipe that the picture has not.
    """
    way = way_named(name)
    if way.again and job.origin is None:
        raise BadInput(
            f"{way.title} needs the recipe and the source of a take, which this picture lacks; "
            "use detail, edges or a plain way."
        )
    return way.of(job)
