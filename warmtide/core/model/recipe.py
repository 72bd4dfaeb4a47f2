"""The recipe of a take: the frozen models that every part of the program shares."""

import hashlib
import json
from collections.abc import Mapping
from typing import Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from .errors import BadInput
from .phrases import phrases
from .sampling import DRAFT_STEPS, TITLES, steps_run
from .text import visible

ENGINE_VERSION = "16"
# The engine that comes with the program; recipes that name none mean it.
BUILT_IN = "built-in"
# How an engine, or a look of one, is named.
ENGINE_NAME = r"^[a-z][a-z0-9-]*$"
SIZES = (64, 2048)
PHRASES_LIMIT = 100
# What is repeated of a value that is refused.
_SHOWN = 60

_RIGHT = {
    "strength": "Strength goes from 0 (source) to 1 (look)",
    "guidance": "Guidance goes from 1 (plain) to 30 (breaks up)",
    "seed": "A seed is a whole number from 0 to 4294967295",
    "steps": "Steps go from 1 to 150",
    "size": "Size is the long side in pixels, from 64 to 2048",
    "look_weight": "A look's weight goes from 0 to 1.5",
    "second_share": "The second look's share goes from 0 to 1",
    "lines": "The hold on lines goes from 0 to 1",
    "shapes": "The hold on shapes goes from 0 to 1",
    "colours": "The hold on colours goes from 0 to 1",
    "faces": "The hold on faces goes from 0 to 1",
    "subject": "The hold on the subject goes from 0 to 1",
    "depth": "The hold on depth goes from 0 to 1",
    "x": "A placement's x goes from -0.5 to 1.5",
    "y": "A placement's y goes from 0 to 1.5",
    "tall": "A placement's height goes from 0.05 to 2 pictures",
    "stance": "A stance is auto, stands, floats or hangs",
    "engine": "An engine is named with small letters, digits and hyphens, like studio-a",
    "quality": "Quality is full, draft or glimpse",
    "prompt": "A prompt has at most 2000 characters",
    "avoid": "An avoid list has at most 2000 characters",
}


class Holds(BaseModel):
    """How firmly the source is kept, 0 (free) to 1 (kept)."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    lines: float = Field(0.7, ge=0, le=1)
    shapes: float = Field(0.7, ge=0, le=1)
    colours: float = Field(0.3, ge=0, le=1)
    faces: float = Field(0.85, ge=0, le=1)
    subject: float = Field(0.4, ge=0, le=1)
    depth: float = Field(0.0, ge=0, le=1)


class Placement(BaseModel):
    """Where a cut-out is put before the scene that the prompt names."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    x: float = Field(0.5, ge=-0.5, le=1.5, description="its middle, 0 (left) to 1 (right)")
    y: float = Field(0.9, ge=0, le=1.5, description="its lower edge, 0 (top) to 1 (bottom)")
    tall: float = Field(0.5, ge=0.05, le=2, description="its height, as a share of the picture's")
    stance: Literal["auto", "stands", "floats", "hangs"] = Field(
        "auto", description="on the ground, in the open or on a wall; auto: as the place has it"
    )


HOLDS = tuple(Holds.model_fields)


class Recipe(BaseModel):
    """Everything that decides a take but the source."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    engine: str = Field(BUILT_IN, max_length=40, pattern=ENGINE_NAME, description="which engine makes it")
    look: str = Field("watercolour", max_length=64, description="a look by name, built in or learned")
    look_weight: float = Field(
        1.0, ge=0, le=1.5, description="how far the look goes: 0 leaves its paint out, 1 is usual"
    )
    second_look: str | None = Field(None, max_length=64, description="a look mixed into the first")
    second_share: float = Field(0.0, ge=0, le=1, description="its share")
    prompt: str = Field("", max_length=2000, description="phrases by comma, each with a weight if wanted: mist^1.4")
    avoid: str = Field("", max_length=2000, description="phrases that it should have less of")
    strength: float = Field(0.5, ge=0, le=1, description="0 returns the source, 1 ignores it")
    guidance: float = Field(5.0, ge=1, le=30, description="how hard words and look pull; 1 leaves words out")
    seed: int = Field(7, ge=0, le=4294967295, description="which noise")
    steps: int = Field(20, ge=1, le=150, description="how finely; strength x steps of them run")
    sampler: str = Field("dpm++2m", max_length=40, description="how the steps are taken")
    holds: Holds = Holds()
    placement: Placement | None = Field(
        None, description="where a cut-out stands before the scene that the prompt names; null: where it is"
    )
    size: int = Field(
        512, ge=SIZES[0], le=SIZES[1], description="long side in pixels; the short one follows the source"
    )
    quality: Literal["full", "draft", "glimpse"] = Field(
        "full", description="full; draft and glimpse leave the finest octaves out"
    )

    @model_validator(mode="after")
    def _known_sampler(self) -> Self:
        if self.engine == BUILT_IN and self.sampler not in TITLES:
            raise ValueError(f"there is no sampler {_short(self.sampler)}; use one of {', '.join(TITLES)}")
        return self

    @model_validator(mode="after")
    def _readable_words(self) -> Self:
        for text in (self.prompt, self.avoid):
            if "^" in text:
                list(phrases(text))
        return self

    @property
    def steps_run(self) -> int:
        """Steps that run: strength x steps, and never more than a draft needs in a draft; none at strength 0."""
        return steps_run(self.strength, self.steps_asked) if self.strength > 0 else 0

    @property
    def looks(self) -> tuple[str, ...]:
        """Names of the looks that it needs."""
        return (self.look,) if self.second_look is None else (self.look, self.second_look)

    @property
    def steps_asked(self) -> int:
        return self.steps if self.quality == "full" else min(self.steps, DRAFT_STEPS[self.quality])

    def canonical(self) -> str:
        """JSON with sorted keys and rounded numbers: equal recipes give equal text. The built-in engine goes without saying."""
        values = _rounded(self.model_dump(exclude={"engine"} if self.engine == BUILT_IN else None))
        return json.dumps(values, sort_keys=True, separators=(",", ":"), ensure_ascii=False)

    def changed(self, **changes: Any) -> "Recipe":
        """The recipe with some fields replaced; the names of holds reach into them."""
        holds = {name: changes.pop(name) for name in HOLDS if name in changes}
        values = {**self.model_dump(), **changes}
        values["holds"] = {**values["holds"], **holds}
        return recipe_from(values)


def _rounded(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _rounded(item) for key, item in value.items()}
    return round(value, 6) + 0.0 if isinstance(value, float) else value


def _short(value: Any) -> str:
    """A value as it was given, or its beginning."""
    shown = repr(value[: 2 * _SHOWN] if isinstance(value, str) else value)
    return shown if len(shown) <= _SHOWN else f"{shown[:_SHOWN]} ..."


def sentence(error: ValidationError) -> str:
    """One sentence for the first thing that is wrong with a recipe."""
    first = error.errors()[0]
    name = str(first["loc"][-1]) if first["loc"] else ""
    message = str(first["msg"]).removeprefix("Value error, ")
    if name in _RIGHT:
        return f"{_RIGHT[name]}; {_short(first['input'])} is not in that range."
    if first["type"] == "extra_forbidden":
        return f"A recipe has no field {_short(name)}."
    return f"{message[0].upper()}{message[1:]}."


_TEXTS = ("engine", "look", "second_look", "prompt", "avoid")


def _written(values: dict[str, Any]) -> dict[str, Any]:
    """Values whose texts can be kept and read. Asked of what is given, not of the model: recipes that are kept stay readable."""
    texts = {name: text for name in _TEXTS if isinstance(text := values.get(name), str)}
    for name, text in texts.items():
        try:
            texts[name] = visible(text)
        except ValueError as error:
            raise BadInput(f"{name.capitalize()}: {error}.") from None
        if name in ("prompt", "avoid") and text.count(",") + text.count(";") >= PHRASES_LIMIT:
            raise BadInput(f"A prompt has at most {PHRASES_LIMIT} phrases; leave some out.")
    return {**values, **texts}


def recipe_from(values: dict[str, Any]) -> Recipe:
    """A recipe from plain values, or `BadInput` with one sentence."""
    try:
        return Recipe.model_validate(_written(values))
    except ValidationError as error:
        raise BadInput(sentence(error)) from None


_BEGINNING = Recipe().model_dump()


def whole_recipe(values: Mapping[str, Any]) -> dict[str, Any]:
    """A kept recipe as plain values, what an older one lacks at its beginning; unchecked, thousands are read at once."""
    return {**_BEGINNING, **values, "holds": {**_BEGINNING["holds"], **(values.get("holds") or {})}}


def take_key(source_key: str, recipe: Recipe, guides_key: str = "", engine: str = ENGINE_VERSION) -> str:
    """Name of a take: the same source pixels, guides, recipe and engine (its name and version) give the same picture."""
    text = f"{engine}\n{source_key}\n{recipe.canonical()}" + (f"\n{guides_key}" if guides_key else "")
    return hashlib.sha256(text.encode()).hexdigest()
