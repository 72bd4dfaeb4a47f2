"""Samplers as coefficients of one linear update, so that the row kernels serve all of them.

A step takes the state x, the estimate d and the estimate of the step before, d':
    x <- keep * x + gain * (now * d - before * d') + fresh * noise

Sources
-------
1. T. Karras et al., 2022 (Euler; ancestral noise after K. Crowson's split into down and up).
2. C. Lu et al., "DPM-Solver++", 2022, second order multistep (2M).
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

from ..model.errors import BadInput


@dataclass(frozen=True)
class Update:
    """Coefficients of one step; see the module's text."""

    keep: float
    gain: float
    now: float = 1.0
    before: float = 0.0
    fresh: float = 0.0


Rule = Callable[[list[float], int], Update]


def _euler(sigmas: list[float], i: int) -> Update:
    ratio = sigmas[i + 1] / sigmas[i]
    return Update(ratio, 1 - ratio)


def _ancestral(sigmas: list[float], i: int) -> Update:
    now, then = sigmas[i], sigmas[i + 1]
    up = min(then, math.sqrt(max(then**2 * (now**2 - then**2) / now**2, 0.0)))
    ratio = math.sqrt(max(then**2 - up**2, 0.0)) / now
    return Update(ratio, 1 - ratio, fresh=up)


def _multistep(sigmas: list[float], i: int) -> Update:
    now, then = sigmas[i], sigmas[i + 1]
    if then == 0:
        return Update(0.0, 1.0)
    width = math.log(now / then)
    gain = -math.expm1(-width)
    if i == 0:
        return Update(then / now, gain)
    half = width / (2 * math.log(sigmas[i - 1] / now))
    return Update(then / now, gain, 1 + half, half)


_RULES: dict[str, Rule] = {"dpm++2m": _multistep, "euler": _euler, "euler-ancestral": _ancestral}


def rule(name: str) -> Rule:
    """The update rule of a sampler by name; `TITLES` lists the names."""
    if name not in _RULES:
        raise BadInput(f"There is no sampler {name!r}; use one of {', '.join(_RULES)}.")
    return _RULES[name]
