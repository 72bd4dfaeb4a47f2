"""Line art and sketches as strokes: the middle of every line, as wide as it is drawn; what is filled in stays an area."""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Mask, f32
from .between_lines import areas_between
from .curves import Curve, smooth_curve
from .drawing import Drawing, Group, Shape
from .ink import FINER, ink_of
from .outlines import outlined
from .skeleton import Line, middle_lines

# How far a stroke may run from the middle, in fine points; a stroke is parted where its width is off by more than both of these.
_WITHIN, _CALM, _OFF, _OFF_POINTS = 0.35, 4, 0.15, 0.5
# A stroke along a smooth middle covers a little less than the line, which wavers.
_WIDER = 1.05
_SHORTEST = 5
# What is wider than this many usual lines is filled in.
_FILLED = 3.2


def _parts(widths: AnyArray) -> list[tuple[int, int]]:
    """Runs of points whose widths are nearly alike, in their order."""
    found, waiting = [], [(0, len(widths) - 1)]
    while waiting:
        begin, end = waiting.pop()
        own = widths[begin : end + 1]
        mean = float(own.mean())
        off = np.abs(own - mean)
        if end - begin < 2 * _SHORTEST or float(np.percentile(off, 90)) <= max(_OFF * mean, _OFF_POINTS):
            found.append((begin, end))
            continue
        cut = begin + _cut(own)
        waiting += [(cut, end), (begin, cut)]
    return found


def _cut(own: AnyArray) -> int:
    """Where widths are best parted into two runs, each about its own mean."""
    sums = np.cumsum(own)
    squares = np.cumsum(own**2)
    n = np.arange(1, len(own) + 1)
    left = squares - sums**2 / n
    right = (squares[-1] - squares) - (sums[-1] - sums) ** 2 / np.maximum(len(own) - n, 1)
    cost = (left + right)[_SHORTEST : len(own) - _SHORTEST]
    return _SHORTEST + int(np.argmin(cost))


def _strokes(line: Line) -> list[Shape]:
    """A line as strokes, parted where it grows or thins."""
    if len(line.points) < 2:
        dot = line.points[0]
        piece = np.array([[dot, dot, dot + (0.01, 0), dot + (0.01, 0)]]) / FINER
        return [Shape(((Curve(piece, np.array([True])),),), max(float(line.widths[0]), 1) / FINER)]
    found = []
    parts = _parts(line.widths)
    for begin, end in parts:
        points = line.points[begin : end + 1]
        curve = smooth_curve(points, line.closed and len(parts) == 1, _WITHIN, _CALM)
        width = max(_WIDER * float(np.mean(line.widths[begin : end + 1])), 1.0) / FINER
        found.append(Shape(((Curve(curve.pieces / FINER, curve.straight),),), width))
    return found


def _filled(mask: Mask) -> Mask:
    """What is filled in and no line: much wider than the lines are."""
    deep = cv2.distanceTransform(mask.astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    ridge = deep[(deep >= cv2.dilate(deep, np.ones((3, 3), np.uint8)) - 1e-3) & mask]
    usual = float(np.median(ridge)) if len(ridge) else 1.0
    core = (deep > _FILLED * max(usual, 1.5)).astype(np.uint8)
    if not core.any():
        return np.zeros(mask.shape, bool)
    reach = int(np.ceil(_FILLED * max(usual, 1.5)))
    round_ = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1,) * 2)
    return np.asarray((cv2.dilate(core, round_) > 0) & mask, bool)


def traced_lines(rgb: Byte, title: str = "") -> Drawing:
    """A drawing as strokes by their middles, with widths; `rgb` (h, w, 3) uint8 sRGB. About 1 s at 1024 px."""
    ink = ink_of(rgb)
    height, width = rgb.shape[:2]
    filled = _filled(ink.mask)
    strokes = [stroke for line in middle_lines(ink.mask & ~filled) for stroke in _strokes(line)]
    groups = [Group("lines", ink.colour, tuple(strokes))] if strokes else []
    if filled.any():
        groups.insert(0, Group("filled", ink.colour, outlined(np.where(filled, ink.share, 0).astype(f32), 1 / FINER)))
    if groups:
        groups.insert(0, areas_between(ink))
    return Drawing(width, height, tuple(groups), title)
