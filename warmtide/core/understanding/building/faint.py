"""Faint straight joins of a building: a wall on ground of its own grey, a roof before a sky as bright.

A join may differ by less than one grey level and still be seen by its straightness. Once it is known where level lines
meet, every such line can be looked for along its whole length, where a level's difference stands out of the grain.

Sources
-------
1. G. L. Turin, "An introduction to matched filters", 1960.
"""

import math

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from .perspective import Perspective

# Length that is averaged along a line, the least that is believed, and how far ends may be off, px of a 512th.
_ALONG, _LEAST, _ENDS = 41, 34, 11
# Difference of lightness across a join: more is plain to see, and left out; less is none, or a step of eight bits where there is no grain.
_MOST, _NONE, _STEP = 0.02, 0.0005, 0.006
# A join stands out of the grain by this many standard errors, and out of the slopes beside it by this factor.
_ERRORS, _STANDS_OUT = 3.6, 1.8
_BESIDE = 21
_ACROSS = np.array([-0.5, -0.5, 0, 0.5, 0.5], f32)[:, None]
_RADIUS_MOST = 3.0


def _fan(light: Float, x: float, y: float, unit: float) -> tuple[Float, AnyArray, AnyArray]:
    """Lines through a point as rows: the picture by angle (rows) and distance (columns), with both as arrays."""
    height, width = light.shape
    corners = np.array([(0, 0), (width - 1, 0), (0, height - 1), (width - 1, height - 1)], float)
    inside = -1 < x < width and -1 < y < height
    reach = np.hypot(corners[:, 0] - x, corners[:, 1] - y)
    centre = math.atan2(height / 2 - y, width / 2 - x)
    turned = (np.arctan2(corners[:, 1] - y, corners[:, 0] - x) - centre + math.pi) % (2 * math.pi) - math.pi
    low, high = (-math.pi, math.pi) if inside else (float(turned.min()), float(turned.max()))
    # The nearest point of the picture, on a side or at a corner.
    near = max(math.hypot(max(-x, x - width + 1, 0), max(-y, y - height + 1, 0)), 8.0)
    rows = int(min((high - low) * float(reach.max()), _RADIUS_MOST * (height + width)))
    angles = centre + np.linspace(low, high, max(rows, 2))
    radii = np.arange(near, float(reach.max()), max(unit, 0.5))
    cos, sin = np.cos(angles)[:, None], np.sin(angles)[:, None]
    xs, ys = (x + cos * radii).astype(f32), (y + sin * radii).astype(f32)
    seen = cv2.remap(light, xs, ys, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=-1)
    return seen, angles, radii


def _runs(rows: Float) -> list[tuple[int, int, int]]:
    """Row, first and last column of every straight faint join of a picture whose rows are the lines looked along."""
    outside = cv2.dilate((rows < 0).astype(np.uint8), np.ones((7, 3), np.uint8)) > 0
    across = cv2.filter2D(rows, cv2.CV_32F, _ACROSS)
    plain = cv2.dilate((np.abs(cv2.blur(across, (5, 1))) > _MOST).astype(np.uint8), np.ones((3, 1), np.uint8)) > 0
    across = np.clip(across, -_MOST, _MOST)
    across[outside | plain] = 0
    across -= cv2.blur(across, (1, _BESIDE))
    mean = cv2.blur(across, (_ALONG, 1))
    spread = np.sqrt(np.maximum(cv2.blur(across * across, (_ALONG, 1)) - mean * mean, 0))
    strong = np.abs(mean)
    beside = cv2.blur(strong, (1, _BESIDE))
    peak = strong >= cv2.dilate(strong, np.ones((7, 1), np.uint8)) - 1e-7
    least = np.maximum(_NONE + _ERRORS * spread / math.sqrt(_ALONG), _STEP - 3 * spread)
    found = peak & (strong > least) & (strong > _STANDS_OUT * beside) & ~outside
    # Where a shorter average has the same sign, so that a line ends where the join does.
    short = cv2.blur(across, (_ENDS, 1))
    found &= (np.sign(short) == np.sign(mean)) & (np.abs(short) > 0.4 * strong)
    # A line may be a row off along its way.
    joined = cv2.morphologyEx(
        cv2.dilate(found.astype(np.uint8), np.ones((3, 1), np.uint8)), cv2.MORPH_CLOSE, np.ones((1, 7), np.uint8)
    )
    count, _, stats, centres = cv2.connectedComponentsWithStats(joined, connectivity=8)
    return [
        (round(float(centres[k][1])), int(stats[k, cv2.CC_STAT_LEFT]), int(stats[k, cv2.CC_STAT_LEFT] + stats[k, cv2.CC_STAT_WIDTH] - 1))
        for k in range(1, count)
        if stats[k, cv2.CC_STAT_WIDTH] >= _LEAST and stats[k, cv2.CC_STAT_HEIGHT] <= 8
    ]  # fmt: skip


def faint_joins(light: Float, view: Perspective, unit: float) -> AnyArray:
    """Faint straight joins that run one of the two level ways or upright.

    Parameters
    ----------
    light : (h, w) lightness 0..1. view : how it is seen. unit : pixels to a 512th of the short side.

    Returns
    -------
    Ends (n, 4) x0, y0, x1, y1, px. About .25 s at 512 px.
    """
    found: list[tuple[float, float, float, float]] = []
    for x in (view.first, view.second):
        rows, angles, radii = _fan(light, x, view.horizon, unit)
        for row, start, end in _runs(rows):
            cos, sin = math.cos(angles[row]), math.sin(angles[row])
            a, b = radii[start], radii[end]
            found.append((x + cos * a, view.horizon + sin * a, x + cos * b, view.horizon + sin * b))
    for column, start, end in _runs(np.ascontiguousarray(light.T)):
        found.append((column, start, column, end))
    return np.array(found).reshape(-1, 4)
