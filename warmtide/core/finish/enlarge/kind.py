"""What a way of making a picture larger is, and what it is given."""

from collections.abc import Callable
from dataclasses import dataclass, field

from ...maths.arrays import Byte
from ...model.cache import SharedCache
from ...model.guides import NO_GUIDES, Guides
from ...model.look import Look
from ...model.recipe import Recipe

Progress = Callable[[int, int], None]


def silent(_: int, __: int) -> None:
    """Progress that nobody asks for."""


@dataclass(frozen=True)
class Origin:
    """How a picture came about, for ways that paint it again.

    Attributes
    ----------
    recipe : of the take. look : the one that it names. framed : gives its source at a long side in pixels, (h, w, 3) uint8 sRGB. guides : region, depth,
    cover, faces at any size.
    """

    recipe: Recipe
    look: Look
    framed: Callable[[int], Byte]
    guides: Guides = NO_GUIDES


@dataclass(frozen=True)
class Job:
    """One picture to be made larger.

    Attributes
    ----------
    picture : (h, w, 3) uint8 sRGB. height, width : wanted, pixels. progress : called as progress(done, of); what it raises
    stops the work. origin : None for a picture that has no recipe.
    """

    picture: Byte
    height: int
    width: int
    progress: Progress = silent
    origin: Origin | None = None
    cache: SharedCache = field(default_factory=SharedCache)


@dataclass(frozen=True)
class Way:
    """One way: `name` in commands and addresses, `title` and `says` for the panel, `again` where it needs a recipe (it costs what a take does);
    of others `seconds` of one core a megapixel of what comes out, for a first guess."""

    name: str
    title: str
    says: str
    of: Callable[[Job], Byte]
    again: bool = False
    seconds: float = 0.02
    place: int = 100
