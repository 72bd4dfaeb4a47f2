"""The tip: where along strength the composition gives way, for the whole picture or for one place of it.

Sources
-------
1. M. Best, N. Chakravarti, "Active set algorithms for isotonic regression", 1990.
"""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float
from .heat import Region

Outcome = Literal["tip", "even", "none"]

# A fall smaller than this many points, or than four times the scatter, is no fall.
_NEED, _NEED_SIGMAS = 15.0, 4.0
# The tip lies where the figure has lost this much of its plateau.
_LOSS, _LOSS_SIGMAS = 12.0, 2.5
# Scatter of one seed is unknown; three points are usual.
_SIGMA, _LEAST_SIGMA = 3.0, 1.0
# A straight line explains an even decline to within this share of the fall.
_STRAIGHT, _STRAIGHT_SIGMAS, _EARLY = 0.06, 1.2, 0.12
# A place must lose more, and tips later.
_PLACE_NEED, _PLACE_LOSS = 25.0, 15.0
_PLACE_LEAST = 0.02
LEAST_POINTS = 3


@dataclass(frozen=True)
class Tip:
    """Where a series of strengths gives way.

    Attributes
    ----------
    outcome : "tip"; "even" when it gives way evenly; "none" when it holds over the whole range.
    strength : of the tip, or None. low, high : the strengths rendered on either side. plateau : the figure before
    it. fall : points lost over the range. sigma : scatter of the means.
    """

    outcome: Outcome
    strength: float | None
    low: float | None
    high: float | None
    plateau: float
    fall: float
    sigma: float


@dataclass(frozen=True)
class PlaceTip:
    """The tip of the place that suffers most, and its box."""

    tip: Tip
    region: Region


def _scatter(series: list[list[float]]) -> float:
    """Standard deviation of the means, from the seeds where there are several."""
    spread = [float(np.var(values, ddof=1)) for values in series if len(values) > 1]
    sigma = float(np.sqrt(np.mean(spread))) if spread else _SIGMA
    return max(sigma / float(np.sqrt(np.mean([len(v) for v in series]))), _LEAST_SIGMA)


def find_tip(strengths: list[float], series: list[list[float]], need: float = _NEED, loss: float = _LOSS) -> Tip | None:
    """The tip of a figure 0..100 along rising strengths, or None with fewer than three strengths.

    A falling curve is fitted through the means over seeds; the tip is where it has lost `loss` points, or 2.5
    times the scatter, of its plateau. No tip is told when the fall is small or the decline is straight.

    Parameters
    ----------
    strengths : ascending. series : the figures at each strength, one a seed.
    """
    if len(strengths) < LEAST_POINTS:
        return None
    # Loaded here: half a second that a starting server needn't wait for.
    from scipy.interpolate import PchipInterpolator
    from scipy.optimize import isotonic_regression

    s = np.array(strengths, float)
    means = np.array([np.mean(values) for values in series])
    weights = np.array([len(values) for values in series], float)
    sigma = _scatter(series)
    fitted = isotonic_regression(means, weights=weights, increasing=False).x
    plateau = float(np.median(fitted[:2])) if s[1] - s[0] < 0.3 else float(fitted[0])
    fall = plateau - float(fitted[-1])
    if fall < max(need, _NEED_SIGMAS * sigma):
        return Tip("none", None, None, None, plateau, fall, sigma)
    line = np.polyval(np.polyfit(s, means, 1), s)
    off_line = float(np.sqrt(np.mean((line - means) ** 2)))
    quarter = float(np.interp(s[0] + 0.25 * (s[-1] - s[0]), s, fitted))
    at_once = float(fitted[0]) - quarter > _EARLY * fall
    if at_once and off_line < max(_STRAIGHT * fall, _STRAIGHT_SIGMAS * sigma):
        return Tip("even", None, None, None, plateau, fall, sigma)
    level = plateau - max(loss, _LOSS_SIGMAS * sigma)
    for i in range(len(s) - 1):
        if fitted[i] >= level > fitted[i + 1]:
            # A curve that keeps to the points without overshoot lies nearer the break than straight lines do.
            fine = np.linspace(s[i], s[i + 1], 65)
            below = PchipInterpolator(s, fitted)(fine) < level
            at = float(fine[int(below.argmax())]) if below.any() else float(s[i + 1])
            return Tip("tip", at, float(s[i]), float(s[i + 1]), plateau, fall, sigma)
    return Tip("none", None, None, None, plateau, fall, sigma)


def find_place_tip(strengths: list[float], shares: list[list[Float]], weight: Float) -> PlaceTip | None:
    """The tip of the place that loses most between the first two strengths and the last, or None where none does.

    Parameters
    ----------
    shares : kept share (h, w) 0..1 of every take, by strength and seed. weight : (h, w) how much each place
    matters.
    """
    if len(strengths) < LEAST_POINTS:
        return None
    mean = [np.mean(takes, axis=0) for takes in shares]
    lost: AnyArray = weight * np.clip((mean[0] + mean[1]) / 2 - mean[-1], 0, 1)
    lost = cv2.GaussianBlur(lost.astype(np.float32), (0, 0), max(weight.shape[1] / 26, 0.8))
    top = float(lost.max())
    if top <= 1e-9:
        return None
    count, labels, stats, _ = cv2.connectedComponentsWithStats((lost > top / 2).astype(np.uint8))
    mass = [float(lost[labels == i].sum()) for i in range(1, count)]
    chosen = 1 + int(np.argmax(mass))
    inside = labels == chosen
    total = float(weight[inside].sum())
    if total < _PLACE_LEAST * float(weight.sum()):
        return None

    def kept(share: Float) -> float:
        return 100 * float((weight[inside] * share[inside]).sum()) / total

    series = [[kept(share) for share in takes] for takes in shares]
    tip = find_tip(strengths, series, _PLACE_NEED, _PLACE_LOSS)
    if tip is None or tip.outcome == "none":
        return None
    x, y, w, h = (int(v) for v in stats[chosen][:4])
    height, width = weight.shape
    last = float(np.mean(series[-1]))
    return PlaceTip(tip, Region(x / width, y / height, (x + w) / width, (y + h) / height, last))
