"""A saved picture made again from itself: every step of its way, from the originals on."""

import hashlib
import json
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..finish.enlarge.kind import Job, Origin
from ..finish.enlarge.painted import painted_side
from ..finish.enlarge.registry import enlarged
from ..finish.enlarge.size import checked
from ..layers.compose import compose
from ..maths.arrays import Byte
from ..model.errors import BadInput
from ..model.guides import Guides
from ..model.recipe import Recipe, recipe_from
from ..model.stack import stack_from
from ..pictures.framing import Framing, frame, framed_cover, original_side
from ..pictures.guide import framed_plane
from ..pictures.image import Picture, decode
from ..pictures.mix import mix
from ..pictures.recolour import opened, recoloured
from ..understanding.faces import framed_faces
from .cutting import cut_from, cut_pixels
from .looking import covers, look_of
from .parts import carried_parts, steps_of
from .take import restyle
from .told import framing_of, pixels_of

# Steps that one picture may have come about in: a hostile file could tell of any number.
MOST_STEPS = 256
_NESTED = 64
# Gives the bytes of an original by the hash of its file and its name; None where it is not there.
Find = Callable[[str, str], bytes | None]
_GUIDES = ("region", "depth", "subject")
_UNREADABLE = "The picture says of its way what can't be read; make it again in the program."


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
            rgba = _solid(self.made)
            return Picture(
                recoloured(rgba, framing.new_colours) if framing.new_colours else rgba, "PNG", (), self.whole
            )
        return opened(self.data, framing.new_colours, original_side(*self.whole, framing, size))


def _solid(picture: Byte) -> Byte:
    """A picture (h, w, 4), with no transparency where it had none."""
    if picture.shape[2] == 4:
        return picture
    return np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)])


def replay(inside: dict[str, Any], find: Find) -> Replayed:
    """Make a picture again.

    Parameters
    ----------
    inside : what its file says (`told`), with what was made by hand among it. find : gives originals, and what was made by hand and is
    not in the file.

    Raises
    ------
    SourceMissing : an original is not there; named by its hash and its name. BadInput : what it says can't be followed.
    """
    try:
        walk = _Walk(find, carried_parts(inside), inside)
        picture = walk.made(inside, 0)
    except (KeyError, TypeError, ValueError, AttributeError, RecursionError) as error:
        if isinstance(error, BadInput):
            raise
        raise BadInput(_UNREADABLE) from None
    told = None if isinstance(inside.get("enlarged"), dict) else inside.get("pixels")
    return Replayed(
        picture, walk.steps, None if told is None else pixels_of(picture) == told, str(inside.get("engine", ""))
    )


class _Walk:
    """One way, followed from its end back to the originals."""

    def __init__(self, find: Find, parts: dict[str, bytes], inside: dict[str, Any]) -> None:
        self._find, self._parts, self.steps = find, parts, 0
        # Branches that are mixed again tell of the same steps: each is made once, and kept if it is told of again.
        self._often = Counter(_name(step) for step in steps_of(inside))
        self._made: dict[str, Byte] = {}

    def made(self, inside: dict[str, Any], depth: int) -> Byte:
        """The picture that a way leads to: (h, w, 3), or (h, w, 4) where it may be transparent."""
        if depth > _NESTED or self.steps >= MOST_STEPS:
            raise BadInput(f"The picture tells of more than {MOST_STEPS} steps; make it again in the program.")
        if "recipe" not in inside and "side" in inside:
            return self._framed(inside, depth)
        name = _name(inside)
        if name in self._made:
            return self._made[name]
        picture = self._step(inside, depth)
        if self._often[name] > 1:
            self._made[name] = picture
        return picture

    def _step(self, inside: dict[str, Any], depth: int) -> Byte:
        self.steps += 1
        if "mixed" in inside:
            return self._mixed(inside, depth)
        if "stacked" in inside:
            return self._stacked(inside, depth)
        if "cut" in inside:
            return self._cut(inside, depth)
        return self._take(inside, depth)

    def _part(self, digest: str) -> bytes:
        data = self._parts.get(digest) or self._find(digest, "made by hand")
        if data is None:
            raise SourceMissing(
                f"What was made by hand on the way (SHA-256 {digest}) is not in this file; save it as PNG or TIFF, or give the study's "
                "file with --sources."
            )
        return data

    def _source(self, inside: dict[str, Any], depth: int) -> _Source:
        """What a framing frames: the step before, or an original."""
        before = inside.get("from")
        if isinstance(before, dict):
            earlier = self.made(before, depth + 1)
            return _Source(earlier, b"", earlier.shape[:2])
        key, name = str(inside.get("original", "")), str(inside.get("source", ""))
        data = self._find(key, name)
        if data is None:
            raise SourceMissing(
                f"The source {name!r} (SHA-256 {key or 'not told'}) is not in the folders given; name its folder with --sources."
            )
        return _Source(None, data, decode(data, _NESTED).whole)

    def _framed(self, inside: dict[str, Any], depth: int) -> Byte:
        framing, side = framing_of(inside), int(inside["side"])
        checked(side, side)
        read = self._source(inside, depth).read(framing, side)
        return frame(read.rgba, framing, side, read.whole)

    def _mixed(self, inside: dict[str, Any], depth: int) -> Byte:
        parts = inside["mixed"]
        pictures = [np.ascontiguousarray(self.made(part["of"], depth + 1)[..., :3]) for part in parts]
        return mix(pictures, [float(part["weight"]) for part in parts])

    def _stacked(self, inside: dict[str, Any], depth: int) -> Byte:
        stack, ways = stack_from(inside["stacked"]), inside.get("ways") or {}
        made: dict[str, Byte] = {}

        def picture(digest: str) -> Byte:
            if digest not in made:
                of = self.made(ways[digest], depth + 1) if digest in ways else decode(self._part(digest)).rgba
                made[digest] = np.ascontiguousarray(_solid(of))
            return made[digest]

        # Layers are composed in threads; steps are followed one after another.
        for name in sorted(stack.pictures):
            picture(name)
        return compose(stack, picture)

    def _cut(self, inside: dict[str, Any], depth: int) -> Byte:
        way, subject = inside["of"], inside["cut"].get("subject")
        picture = self._framed(way, depth + 1)
        guides = Guides()
        if subject is not None:
            whole = self._source(way, depth + 1).whole
            plane = framed_plane(self._part(subject), "subject", whole, framing_of(way), int(way["side"]))
            guides = Guides(subject=plane)
        return cut_pixels(cut_from(picture, guides))

    def _take(self, inside: dict[str, Any], depth: int) -> Byte:
        recipe, framing, source = _recipe(inside), framing_of(inside), self._source(inside, depth)

        def framed(side: int) -> Byte:
            read = source.read(framing, side)
            return frame(read.rgba, framing, side, read.whole)

        guides = self._guides(inside, source.read(framing, recipe.size), recipe, framing)
        made = restyle(framed(recipe.size), recipe, guides=guides)
        larger = inside.get("enlarged")
        if not isinstance(larger, dict):
            return made
        self.steps += 1
        try:
            way, height, width = str(larger["way"]), int(larger["height"]), int(larger["width"])
        except (KeyError, TypeError, ValueError):
            raise BadInput("The picture does not say how it was made larger.") from None
        checked(height, width)
        look = look_of(recipe)
        # What leads it is read at the size that it is painted at, not enlarged from the take's.
        side = painted_side(look, height, width)
        led = self._guides(inside, source.read(framing, side), recipe.changed(size=side), framing)
        return enlarged(Job(made, height, width, origin=Origin(recipe, look, framed, led)), way)

    def _guides(self, inside: dict[str, Any], read: Picture, recipe: Recipe, framing: Framing) -> Guides:
        try:
            faces = framed_faces(inside.get("faces"), *read.whole, framing)
        except (TypeError, ValueError):
            raise BadInput("The picture says of its faces what can't be read; make it again in the program.") from None
        told = inside.get("guides") or {}
        lacking = [str(name) for name in told if not isinstance(told, dict) or told[name] is None]
        if lacking:
            raise BadInput(
                f"This picture was led by a guide that is not in its file ({', '.join(lacking)}); make it again in the program."
            )
        planes = {
            name: framed_plane(self._part(str(told[name])), name, read.whole, framing, recipe.size)
            for name in _GUIDES
            if name in told
        }
        cover = None
        if read.has_alpha and covers(recipe):
            cover = framed_cover(read.rgba, framing, recipe.size, read.whole)
        return Guides(faces=faces, cover=cover, **planes)


def _name(inside: dict[str, Any]) -> str:
    """What a step is known by: all that it says."""
    return hashlib.sha256(json.dumps(inside, sort_keys=True).encode()).hexdigest()


def _recipe(inside: dict[str, Any]) -> Recipe:
    try:
        return recipe_from(dict(inside["recipe"]))
    except (KeyError, TypeError, ValueError) as error:
        if isinstance(error, BadInput):
            raise
        raise BadInput("The picture holds no recipe that can be read.") from None
