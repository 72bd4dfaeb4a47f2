"""Smooth steps.

Sources
-------
1. C. Hermite, 1877 (the cubic with level ends).
"""

from typing import TypeVar

import numpy as np

from .arrays import AnyArray, Float, f32

Value = TypeVar("Value", float, AnyArray)


def eased(t: Value) -> Value:
    """From 0 to 1 with level ends; `t` 0..1, a number or an array."""
    return t * t * (3 - 2 * t)  # type: ignore[return-value]


def smoothstep(low: float, high: float, x: AnyArray | float) -> Float:
    """Step from 0 at `low` to 1 at `high`, on arrays."""
    return eased(np.clip((np.asarray(x, f32) - low) / (high - low), 0, 1)).astype(f32)
