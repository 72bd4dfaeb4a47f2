"""How a prompt is written: phrases by comma or line, each with a weight if wanted: `misty morning^1.4`."""

import re
from collections.abc import Iterator

from .errors import BadInput

_WEIGHTS = (0.1, 2.0)


def _weighed(text: str) -> tuple[str, float]:
    """A phrase and its weight: `misty morning^1.4`."""
    body, mark, number = text.partition("^")
    if not mark:
        return body.strip(), 1.0
    try:
        weight = float(number)
    except ValueError:
        raise BadInput(f"The weight in {text.strip()[:60]!r} is not a number; write it like mist^1.4.") from None
    if not _WEIGHTS[0] <= weight <= _WEIGHTS[1]:
        raise BadInput(f"The weight of {body.strip()[:60]!r} is {weight:g}; weights go from 0.1 to 2.")
    return body.strip(), weight


def phrases(text: str) -> Iterator[tuple[str, float]]:
    """Every phrase of a prompt as it is written, with its weight.

    Raises
    ------
    BadInput : a weight that is not a number from .1 to 2.
    """
    for part in re.split(r"[,;\n]", text):
        body, weight = _weighed(part)
        if body:
            yield body, weight
