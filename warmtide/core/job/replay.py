"""A saved picture made again from itself: every step of its way, from the originals on."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..engine.staging import takes_cover
from ..finish.enlarge.kind import Job, Origin
from ..finish.enlarge.registry import enlarged
from ..finish.enlarge.size import checked
from ..maths.arrays import Byte, pixel_key
from ..model.errors import BadInput
from ..model.guides import Guides
from ..model.recipe import Recipe, recipe_from
from ..pictures.framing import Framing, frame, framed_cover, original_side
from ..pictures.image import Picture, decode
from ..pictures.recolour import opened, recoloured
from ..understanding.faces import framed_faces
from .looking import look_of
from .take import restyle
from .told import framing_of

# Steps that one picture may have come about in: a hostile file could nest them without end.
MOST_STEPS = 64
# Gives the bytes of an original by the hash of its file and its name; None where it is not there.
Find = Callable[[str, str], bytes | None]


class SourceMissing(BadInput):
    """An original that a picture came from is not there."""


@dataclass(frozen=True)
class Replayed:
    """A picture made again: its pixels, in how many steps, and whether they are those that its file tells of (None: it doesn't)."""

    picture: Byte
    steps: int
    same: bool | None
    engine: str


@dataclass(frozen=True)
class _Source:
    """What a step begins with: a picture that was made again, or the file of an original."""

    made: Byte | None
    data: bytes
    whole: tuple[int, int]

    def read(self, framing: Framing, size: int) -> Picture:
        """It with its parts' new colours, with pixels enough for a size."""
        if self.made is not None:
            rgba = np.dstack([self.made, np.full(self.made.shape[:2], 255, np.uint8)])
            return Picture(
                recoloured(rgba, framing.new_colours) if framing.new_colours else rgba, "PNG", (), self.whole
            )
        return opened(self.data, framing.new_colours, original_side(*self.whole, framing, size))


def _recipe(inside: dict[str, Any]) -> Recipe:
    try:
        return recipe_from(dict(inside["recipe"]))
    except (KeyError, TypeError, ValueError) as error:
        if isinstance(error, BadInput):
            raise
        raise BadInput("The picture holds no recipe that can be read.") from None


def _guides(inside: dict[str, Any], read: Picture, recipe: Recipe, framing: Framing, size: int) -> Guides:
    lacking = [str(name) for name in inside.get("guides", ())]
    if lacking:
        raise BadInput(
            f"This picture was led by a guide that is not in its file ({', '.join(lacking)}); make it again in the program."
        )
    marked = inside.get("faces")
    try:
        faces = framed_faces(marked, *read.whole, framing)
    except (TypeError, ValueError):
        raise BadInput("The picture says of its faces what can't be read; make it again in the program.") from None
    cover = (
        framed_cover(read.rgba, framing, size, read.whole)
        if read.has_alpha and takes_cover(recipe, look_of(recipe))
        else None
    )
    return Guides(faces=faces, cover=cover)


def replay(inside: dict[str, Any], find: Find, depth: int = 0) -> Replayed:
    """Make a picture again.

    Parameters
    ----------
    inside : what its file says (`told`). find : gives originals.

    Raises
    ------
    SourceMissing : an original is not there; named by its hash and its name. BadInput : what it says can't be followed.
    """
    if depth >= MOST_STEPS:
        raise BadInput(f"The picture tells of more than {MOST_STEPS} steps; make it again in the program.")
    recipe, framing = _recipe(inside), framing_of(inside)
    before, steps = inside.get("from"), 1
    if isinstance(before, dict):
        earlier = replay(before, find, depth + 1)
        source, steps = _Source(earlier.picture, b"", earlier.picture.shape[:2]), earlier.steps + 1
    else:
        key, name = str(inside.get("original", "")), str(inside.get("source", ""))
        data = find(key, name)
        if data is None:
            raise SourceMissing(
                f"The source {name!r} (SHA-256 {key or 'not told'}) is not in the folders given; name its folder with --sources."
            )
        source = _Source(None, data, decode(data, 64).whole)

    def framed(side: int) -> Byte:
        read = source.read(framing, side)
        return frame(read.rgba, framing, side, read.whole)

    guides = _guides(inside, source.read(framing, recipe.size), recipe, framing, recipe.size)
    made = restyle(framed(recipe.size), recipe, guides=guides)
    larger = inside.get("enlarged")
    if not isinstance(larger, dict):
        return Replayed(made, steps, _same(inside, made), str(inside.get("engine", "")))
    try:
        way, height, width = str(larger["way"]), int(larger["height"]), int(larger["width"])
    except (KeyError, TypeError, ValueError):
        raise BadInput("The picture does not say how it was made larger.") from None
    checked(height, width)
    job = Job(made, height, width, origin=Origin(recipe, look_of(recipe), framed, guides))
    return Replayed(enlarged(job, way), steps + 1, None, str(inside.get("engine", "")))


def _same(inside: dict[str, Any], made: Byte) -> bool | None:
    told = inside.get("pixels")
    return None if told is None else pixel_key(made) == told
