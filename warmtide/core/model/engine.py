"""What an engine says of itself, and how a recipe fits it: the same data for the built-in one and for any other (docs/engine-protocol.md)."""

from dataclasses import dataclass
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from .errors import BadInput
from .recipe import BUILT_IN, ENGINE_NAME, ENGINE_VERSION, HOLDS, SIZES, Recipe

# Controls that an engine may have beside holds: fields of a recipe that are amounts.
AMOUNTS = ("strength", "guidance", "seed", "steps", "look_weight", "second_share")
_BEGINNING = Recipe()
_TITLES = {"look_weight": "look weight", "second_share": "second look"}
_MOST_LISTED = 200


class _Told(BaseModel):
    """What is told by somebody else: frozen; what a later version adds is passed over."""

    model_config = ConfigDict(frozen=True, extra="ignore")


class LookTold(_Told):
    """A look that an engine has."""

    name: str = Field(pattern=ENGINE_NAME, max_length=64)
    title: str = Field(min_length=1, max_length=60)
    description: str = Field("", max_length=300)


class SamplerTold(_Told):
    """A way of taking steps that an engine has."""

    name: str = Field(min_length=1, max_length=40)
    title: str = Field(min_length=1, max_length=60)


class ControlTold(_Told):
    """An amount that an engine hears, and from where to where."""

    name: Literal["strength", "guidance", "seed", "steps", "look_weight", "second_share"]
    low: float = Field(allow_inf_nan=False)
    high: float = Field(allow_inf_nan=False)
    unit: str = Field("", max_length=20)

    @model_validator(mode="after")
    def _ordered(self) -> "ControlTold":
        if self.low > self.high:
            raise ValueError(f"{self.name} goes from {self.low:g} to {self.high:g}; the lower end comes first")
        return self


class Cost(_Told):
    """Seconds of a take of 512 x 341 px: those that every take costs, and those of each step that runs."""

    take: float = Field(1.0, ge=0, le=3600)
    step: float = Field(0.0, ge=0, le=600)


class About(_Told):
    """An engine.

    Attributes
    ----------
    protocol : version of the protocol that it speaks. name : what recipes call it. repeatable : whether equal requests give equal
    pictures. sizes : shortest and longest long side in pixels. words : whether it hears prompts. regions : whether it can leave the
    rest of a picture out by itself; what lies outside is the source's own either way. at_once : takes that it works on side by side.
    """

    protocol: int = Field(ge=1, le=1000)
    name: str = Field(pattern=ENGINE_NAME, max_length=40)
    title: str = Field(min_length=1, max_length=40)
    version: str = Field(min_length=1, max_length=40, pattern=r"^[!-~]+$")
    repeatable: bool = True
    sizes: tuple[int, int] = SIZES
    looks: tuple[LookTold, ...] = Field(min_length=1, max_length=_MOST_LISTED)
    controls: tuple[ControlTold, ...] = Field((), max_length=len(AMOUNTS))
    samplers: tuple[SamplerTold, ...] = Field((), max_length=_MOST_LISTED)
    holds: tuple[Literal["lines", "shapes", "colours", "faces", "subject", "depth"], ...] = Field(
        (), max_length=len(HOLDS)
    )
    regions: bool = False
    words: bool = False
    at_once: int = Field(1, ge=1, le=64)
    cost: Cost = Cost()

    @field_validator("sizes")
    @classmethod
    def _sizes_in_order(cls, value: tuple[int, int]) -> tuple[int, int]:
        if not 1 <= value[0] <= value[1] <= 16384:
            raise ValueError(
                f"sizes go from the shortest long side to the longest, like [64, 1024]; these are {list(value)}"
            )
        return value

    @model_validator(mode="after")
    def _named_once(self) -> "About":
        for kind, things in (("look", self.looks), ("sampler", self.samplers), ("control", self.controls)):
            names = [thing.name for thing in things]
            if len(set(names)) < len(names):
                raise ValueError(f"a {kind} has a name of its own; two have the same here")
        return self

    @property
    def tag(self) -> str:
        """What takes of this engine are known by: part of their keys."""
        return ENGINE_VERSION if self.name == BUILT_IN else f"{self.name} {self.version}"

    def control(self, name: str) -> ControlTold | None:
        """An amount that it hears, by name."""
        return next((control for control in self.controls if control.name == name), None)


@dataclass(frozen=True)
class Fit:
    """A recipe as an engine takes it, and what it lacks of what was asked for, as it is said after "has no"."""

    recipe: Recipe
    lacks: tuple[str, ...] = ()


def said(about: About, lacks: tuple[str, ...]) -> str:
    """One sentence for what an engine lacks."""
    return f"{about.title} has no {', no '.join(lacks)}."


def _amounts(about: About, recipe: Recipe, changes: dict[str, Any]) -> list[str]:
    """Amounts that an engine does not hear go back to where they begin; those out of its range are refused."""
    lacks = []
    for name in AMOUNTS:
        control, value = about.control(name), getattr(recipe, name)
        title = _TITLES.get(name, name)
        if control is None:
            beginning = getattr(_BEGINNING, name)
            if value != beginning and not (name == "second_share" and recipe.second_look is None):
                lacks.append(title)
            changes[name] = beginning
        elif not control.low <= value <= control.high and not (name == "second_share" and recipe.second_look is None):
            raise BadInput(
                f"{about.title}: {title} goes from {control.low:g} to {control.high:g}; {value:g} is not in that range."
            )
    return lacks


def _choices(about: About, recipe: Recipe, changes: dict[str, Any]) -> list[str]:
    """The look, the second one and the sampler, as far as an engine has them."""
    lacks = []
    looks = {look.name: look.title for look in about.looks}
    if recipe.look not in looks:
        changes["look"] = about.looks[0].name
        lacks.append(f"look {recipe.look} (it makes {about.looks[0].title})")
    if recipe.second_look is not None and (recipe.second_look not in looks or about.control("second_share") is None):
        changes["second_look"], changes["second_share"] = None, 0.0
        lacks.append(f"second look {recipe.second_look}")
    samplers = [sampler.name for sampler in about.samplers]
    if recipe.sampler not in samplers:
        changes["sampler"] = samplers[0] if samplers else _BEGINNING.sampler
        if recipe.sampler != _BEGINNING.sampler:
            lacks.append(f"sampler {recipe.sampler}")
    return lacks


def fitted(about: About, recipe: Recipe) -> Fit:
    """A recipe as an engine other than the built-in one takes it.

    What it lacks goes back to where it begins (holds: to nothing held), so that takes that would be the same have the same key, and is
    told: nothing is left out without a word.

    Raises
    ------
    BadInput : a size or an amount out of the engine's range.
    """
    least, most = about.sizes
    if not least <= recipe.size <= most:
        raise BadInput(
            f"{about.title} makes takes with a long side of {least} to {most} px; {recipe.size} is not in that range."
        )
    changes: dict[str, Any] = {}
    lacks = _choices(about, recipe, changes) + _amounts(about, recipe, changes)
    held = [name for name in HOLDS if name not in about.holds and getattr(recipe.holds, name) > 0]
    changes |= dict.fromkeys((name for name in HOLDS if name not in about.holds), 0.0)
    if held:
        lacks.append(f"hold on {', '.join(held[:-1]) + ' or ' + held[-1] if len(held) > 1 else held[0]}")
    if not about.words:
        lacks += ["prompt"] * bool(recipe.prompt) + ["avoid list"] * bool(recipe.avoid)
        changes |= {"prompt": "", "avoid": ""}
    if recipe.placement is not None:
        changes["placement"] = None
        lacks.append("place for a cut-out")
    return Fit(recipe.changed(**changes), tuple(lacks))
