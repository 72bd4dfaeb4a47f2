"""Sweeps: a recipe with spans, expanded into recipes."""

import itertools
import math
import re
from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict

from .errors import BadInput
from .recipe import HOLDS, Recipe

TAKES_LIMIT = 400
AXES_LIMIT = 3
VERSIONS_LIMIT = 24
SPANNABLE = (
    "strength",
    "guidance",
    "seed",
    "steps",
    *HOLDS,
    "look_weight",
    "look",
    "second_share",
    "sampler",
    "quality",
    "prompt",
    "size",
    "engine",
)
_WHOLE = ("seed", "steps", "size")


class Span(BaseModel):
    """The values that one control takes in a sweep."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    control: str
    values: tuple[float | int | str, ...]


def evenly(first: float, last: float, count: int) -> list[float]:
    """`count` values from first to last, both included, rounded to what an artist can type."""
    if count < 1:
        raise BadInput("A span needs at least one value.")
    if count > TAKES_LIMIT:
        raise BadInput(f"A span of {count} values is too long; at most {TAKES_LIMIT} takes run at once.")
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
    except BadInput:
        raise
    except ValueError:
        raise BadInput(f"{control} is {text[:60]!r}; write 0.2..0.9/8 for eight values or 3,6,9 for a list.") from None
    if not all(math.isfinite(value) for value in values):
        raise BadInput(f"{control} is {text[:60]!r}; its values must be numbers that can be reached.")
    if control not in _WHOLE:
        return values
    if spread is None and any(value != round(value) for value in values):
        raise BadInput(f"{control} is {text[:60]!r}; it takes whole numbers.")
    return [round(value) for value in values]


def combinations(spans: list[Span], besides: tuple[str, ...] = ()) -> list[dict[str, Any]]:
    """Every combination of the spans' values by control, the last span varying fastest.

    Parameters
    ----------
    besides : controls that may be swept although no recipe has them.

    Raises
    ------
    BadInput : an unknown or doubled control, an empty span, more than 400 takes.
    """
    names = [span.control for span in spans]
    if len(spans) > AXES_LIMIT:
        raise BadInput(f"A sweep has at most {AXES_LIMIT} spans; this one has {len(spans)}.")
    for span in spans:
        if span.control not in SPANNABLE + besides:
            raise BadInput(f"{span.control!r} can't be swept; use one of {', '.join(SPANNABLE)}.")
        if not span.values:
            raise BadInput(f"The span of {span.control} is empty; give it at least one value.")
        if span.control == "prompt" and len(span.values) > VERSIONS_LIMIT:
            raise BadInput(
                f"At most {VERSIONS_LIMIT} versions of a prompt run side by side; these are {len(span.values)}."
            )
        if names.count(span.control) > 1:
            raise BadInput(f"There are two spans of {span.control}; join them into one.")
    count = int(np.prod([float(len(span.values)) for span in spans])) if spans else 1
    if count > TAKES_LIMIT:
        raise BadInput(f"This sweep would be {count} takes; at most {TAKES_LIMIT} run at once, so shorten a span.")
    found = []
    for values in itertools.product(*(dict.fromkeys(span.values) for span in spans)):
        changes: dict[str, Any] = dict(zip(names, values, strict=True))
        for name in _WHOLE:
            if isinstance(changes.get(name), float) and float(changes[name]).is_integer():
                changes[name] = int(changes[name])
        found.append(changes)
    return found


def expand(recipe: Recipe, spans: list[Span]) -> list[Recipe]:
    """Every recipe of a sweep, the last span varying fastest.

    Raises
    ------
    BadInput : as `combinations`; also values out of range.
    """
    return [recipe.changed(**changes) for changes in combinations(spans)]


def coarse_first(spans: list[Span]) -> list[int]:
    """The order in which a sweep is best filled: positions of its takes, the whole range first, then between.

    Along an axis of numbers the ends and the middle come first, then the middles between those, and so on; the
    values of a list are all alike.
    """
    counts = [len(dict.fromkeys(span.values)) for span in spans]
    rounds = [
        _rounds(count) if all(isinstance(v, (int, float)) for v in span.values) else [0] * count
        for span, count in zip(spans, counts, strict=True)
    ]
    late = [max(levels, default=0) for levels in itertools.product(*rounds)]
    return sorted(range(len(late)), key=lambda position: (late[position], position))


def _rounds(count: int) -> list[int]:
    """In which round each of `count` places along an axis is filled."""
    found = [-1] * count
    for level in range(count):
        parts = 2 ** (level + 1)
        for k in range(parts + 1):
            place = round(k * (count - 1) / parts)
            if found[place] < 0:
                found[place] = level
        if min(found) >= 0:
            break
    return found
