"""What takes are made by: the one interface of every engine, and the registry of those that are known."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Protocol

from ..maths.arrays import Byte
from ..model.cache import SharedCache
from ..model.engine import About, Fit
from ..model.errors import BadInput
from ..model.guides import Guides
from ..model.recipe import BUILT_IN, Recipe
from ..readings.pair import FullRendering, SourceReading

# Told how many steps are done and of how many; raises `Cancelled` where nobody waits for the take any more. Called often, also while nothing comes.
Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class Against:
    """What a take is read against.

    Attributes
    ----------
    source : the picture that must stay. full : what the look makes of it when nothing holds; None where nobody knows. meant : pictures
    whose colours were asked for. quiet : warnings that tell of what was asked for. remarks : warnings that the engine adds.
    """

    source: SourceReading
    full: FullRendering | None = None
    meant: tuple[Byte, ...] = ()
    quiet: frozenset[str] = frozenset()
    remarks: tuple[str, ...] = ()


@dataclass(frozen=True)
class Work:
    """One take as an engine is given it: a framed source (h, w, 3) uint8, a recipe that was checked, what leads it, and what takes of a
    sweep share. `key` is the take's."""

    source: Byte
    recipe: Recipe
    guides: Guides
    key: str = ""
    cache: SharedCache = field(default_factory=SharedCache)


class Engine(Protocol):
    """Something that restyles pictures. The built-in one is `job.built_in`; others are reached by the protocol (docs/engine-protocol.md)."""

    @property
    def name(self) -> str:
        """What recipes call it."""

    @property
    def tag(self) -> str:
        """What its takes are known by: part of their keys."""

    @property
    def about(self) -> About:
        """What it says of itself."""

    def check(self, recipe: Recipe, source: Byte, guides: Guides) -> Fit:
        """The recipe as it takes it for a framed source (h, w, 3), and what it lacks of it. Raises `BadInput` where it can't."""

    def render(self, work: Work, progress: Progress) -> Byte:
        """The take (h, w, 3) uint8. Raises `BadInput` with a sentence, or what `progress` raises."""

    def against(self, work: Work) -> Against:
        """What a take of this recipe is read against."""

    def estimate(self, recipe: Recipe, height: int, width: int, people: bool = False) -> float:
        """Seconds of one take, before this machine's own speed is known."""


_known: dict[str, Engine] = {}


def add_engine(engine: Engine) -> None:
    """Make an engine known to this process, in the place of one of its name."""
    _known[engine.name] = engine


def forget_engine(name: str) -> None:
    """An engine that is gone is not known any more."""
    _known.pop(name, None)


def engines() -> dict[str, Engine]:
    """Every engine by name, the built-in one first."""
    if BUILT_IN not in _known:
        from .built_in import BuiltIn

        add_engine(BuiltIn())
    return {BUILT_IN: _known[BUILT_IN], **_known}


def estimated(recipe: Recipe, height: int, width: int, people: bool = False) -> float:
    """Seconds of one take by the engine that its recipe names, before this machine's own speed is known; 0 where that is not known here."""
    found = engines().get(recipe.engine)
    return 0.0 if found is None else found.estimate(recipe, height, width, people)


def engine_of(recipe: Recipe) -> Engine:
    """The engine that a recipe names. Raises `BadInput` for one that isn't known here."""
    found = engines()
    if recipe.engine not in found:
        raise BadInput(
            f"There is no engine {recipe.engine!r} here; there is {', '.join(found)}. The owner adds one by `warmtide engine add`."
        )
    return found[recipe.engine]
