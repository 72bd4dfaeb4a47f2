"""Sweeps: a recipe with spans, expanded into recipes, and what they will cost."""

import itertools
import re
from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict

from .engine.schedule import steps_run
from .errors import BadInput
from .looks.registry import look_named
from .recipe import HOLDS, Recipe

TAKES_LIMIT = 400
AXES_LIMIT = 3
SPANNABLE = ("strength", "guidance", "seed", "steps", *HOLDS, "look_weight", "look", "sampler")
_WHOLE = ("seed", "steps")

# Seconds of one core that every step of a 512 x 341 take costs.
_STEP_SECONDS = 0.012
_REFERENCE_PIXELS = 512 * 341
_PNG_BYTES = 1.7


class Span(BaseModel):
    """The values that one control takes in a sweep."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    control: str
    values: tuple[float | int | str, ...]


def evenly(first: float, last: float, count: int) -> list[float]:
    """`count` values from first to last, both included, rounded to what an artist can type."""
    if count < 1:
        raise BadInput("A span needs at least one value.")
    if count == 1:
        return [first]
    return [round(float(v), 4) for v in np.linspace(first, last, count)]


def parse_values(text: str, control: str) -> list[float | int]:
    """Values from `A..B/N` (evenly spaced, both ends) or a comma list."""
    number = r"-?\d+(?:\.\d+)?"
    spread = re.fullmatch(rf"\s*({number})\.\.({number})/(\d+)\s*", text)
    try:
        if spread:
            values = evenly(float(spread[1]), float(spread[2]), int(spread[3]))
        else:
            values = [float(part) for part in text.split(",")]
    except ValueError:
        raise BadInput(f"{control} is {text!r}; write 0.2..0.9/8 for eight values or 3,6,9 for a list.") from None
    return [round(v) for v in values] if control in _WHOLE else values


def expand(recipe: Recipe, spans: list[Span]) -> list[Recipe]:
    """Every recipe of a sweep, the last span varying fastest.

    Raises
    ------
    BadInput : an unknown or doubled control, an empty span, values out of range, more than 400 takes.
    """
    names = [span.control for span in spans]
    if len(spans) > AXES_LIMIT:
        raise BadInput(f"A sweep has at most {AXES_LIMIT} spans; this one has {len(spans)}.")
    for span in spans:
        if span.control not in SPANNABLE:
            raise BadInput(f"{span.control!r} can't be swept; use one of {', '.join(SPANNABLE)}.")
        if not span.values:
            raise BadInput(f"The span of {span.control} is empty; give it at least one value.")
        if names.count(span.control) > 1:
            raise BadInput(f"There are two spans of {span.control}; join them into one.")
    count = int(np.prod([float(len(span.values)) for span in spans])) if spans else 1
    if count > TAKES_LIMIT:
        raise BadInput(f"This sweep would be {count} takes; at most {TAKES_LIMIT} run at once, so shorten a span.")
    recipes = []
    for values in itertools.product(*(dict.fromkeys(span.values) for span in spans)):
        changes: dict[str, Any] = dict(zip(names, values, strict=True))
        for name in _WHOLE:
            if isinstance(changes.get(name), float) and float(changes[name]).is_integer():
                changes[name] = int(changes[name])
        recipes.append(recipe.changed(**changes))
    return recipes


def expected_seconds(recipe: Recipe, height: int, width: int) -> float:
    """Seconds of one core for one take, before this machine's own speed is known."""
    if recipe.strength <= 0:
        return 0.02
    steps = steps_run(recipe.strength, recipe.steps) * _STEP_SECONDS
    paint = look_named(recipe.look).seconds
    return (0.08 + steps + paint) * height * width / _REFERENCE_PIXELS


def expected_bytes(height: int, width: int) -> int:
    """Disk for one take with its previews."""
    return int(height * width * _PNG_BYTES)
