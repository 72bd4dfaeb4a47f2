"""Painted again: a take's own recipe at a larger size.

The engine paints the whole, as large as its memory allows, with marks as large in the picture as they were, or as large in pixels;
what is wanted beyond that is carried on along edges. Nothing is laid together from parts, so there are no seams.
"""

import numpy as np

from ...engine.restyle import restyled
from ...maths.arrays import Byte
from ...model.errors import BadInput
from ...model.look import Look
from ...model.recipe import SIZES
from .edges import carried
from .kind import Job, Way

# Bytes that the engine may take for a picture, and what it takes a pixel: where a look paints beside the sampler, and where it
# makes a thing of the source's own shapes, which it holds part by part.
_MEMORY = 650_000_000
_A_PIXEL, _A_PIXEL_OF_A_THING = 590, 900
# Of the work, what painting is where the picture is carried on afterwards.
_PAINTING = 70


def painted_side(look: Look, height: int, width: int) -> int:
    """The long side at which a take is painted when it is wanted at a size: that size, or less where memory ends."""
    handling = look.handling
    each = _A_PIXEL_OF_A_THING if handling.once or handling.whole else _A_PIXEL
    long_side, short = max(height, width), min(height, width)
    most = (_MEMORY / each * long_side / short) ** 0.5
    return min(long_side, int(most), SIZES[1])


def _again(job: Job, marks: float) -> Byte:
    origin = job.origin
    if origin is None:
        raise BadInput("Painting again needs the recipe and the source of a take.")
    side = painted_side(origin.look, job.height, job.width)
    recipe = origin.recipe.changed(size=side, quality="full")
    source = origin.framed(side)
    whole = side >= max(job.height, job.width)
    share = 100 if whole else _PAINTING

    def painting(done: int, steps: int) -> None:
        job.progress(share * done // max(steps, 1), 100)

    take = restyled(source, recipe, origin.look, painting, job.cache, origin.guides, marks)
    # A source's own shape, rounded at another size, may differ from the smaller take's by a pixel.
    if take.shape[:2] == (job.height, job.width):
        return take

    def carrying(done: int, of: int) -> None:
        job.progress(share + (100 - share) * done // max(of, 1), 100)

    return carried(np.ascontiguousarray(take), job.height, job.width, carrying, corrections=0)


def painted_again(job: Job) -> Byte:
    """A take painted at a larger size with marks as large in the picture as they were; (job.height, job.width, 3) uint8.

    Costs as a take of that size does, up to the side that `painted_side` gives; beyond that as `edges`. At most about 1 GB.
    """
    return _again(job, 1.0)


def painted_fine(job: Job) -> Byte:
    """A take painted at a larger size with marks that keep their pixels, as fine as the look can make them; (job.height, job.width, 3) uint8."""
    return _again(job, max(job.picture.shape[:2]) / max(job.height, job.width))


WAYS = (
    Way(
        "painted", "Painted again", "the same recipe at this size: the same picture with real detail", painted_again,
        again=True, place=1,
    ),
    Way(
        "fine", "Painted with a fine brush", "the same recipe, its marks no larger than they were: a large canvas", painted_fine,
        again=True, place=2,
    ),
)  # fmt: skip
