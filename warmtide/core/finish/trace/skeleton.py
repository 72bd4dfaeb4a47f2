"""The middle of lines as a net of polylines with widths.

Sources
-------
1. T. Zhang, C. Suen, "A fast parallel algorithm for thinning digital patterns", 1984 (what scikit-image does).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Mask
from ...maths.jit import kernel

# A twig that ends free and is shorter than this many of its widths grew from the line's rim.
_TWIG = 0.9
# Points over which middle and width are weighed.
_WINDOW = 7


@dataclass(frozen=True)
class Line:
    """Points (n, 2) x, y in the middle of a line, and its width at each, in points of the grid."""

    points: AnyArray
    widths: AnyArray
    closed: bool


@kernel
def _follow(thin, knots, y, x, ys, xs, at):  # type: ignore[no-untyped-def]
    """Points of a thin line from (y, x) on, which is taken away already, up to a knot or its end; where it ends in the lists."""
    h, w = thin.shape
    while True:
        found = False
        # A knot beside it ends the line; straight neighbours come before oblique ones.
        for only_knots in range(2):
            for k in range(8):
                dy = (0, 0, 1, -1, 1, 1, -1, -1)[k]
                dx = (1, -1, 0, 0, 1, -1, 1, -1)[k]
                ny, nx = y + dy, x + dx
                if ny < 0 or nx < 0 or ny >= h or nx >= w or found:
                    continue
                if only_knots == 0 and knots[ny, nx] > 0 and at > 1 and not (ny == ys[0] and nx == xs[0] and at < 3):
                    ys[at], xs[at] = ny, nx
                    return at + 1
                if only_knots == 1 and thin[ny, nx] and knots[ny, nx] == 0:
                    thin[ny, nx] = 0
                    y, x = ny, nx
                    ys[at], xs[at] = y, x
                    at += 1
                    found = True
        if not found:
            return at


def _lines(thin: Mask) -> list[AnyArray]:
    """Polylines (n, 2) x, y of a thinned mask, between ends and knots."""
    rest = thin.astype(np.uint8)
    around = cv2.filter2D(rest, cv2.CV_8U, np.ones((3, 3), np.uint8), borderType=cv2.BORDER_CONSTANT) - rest
    knots = ((rest > 0) & (around > 2)).astype(np.uint8)
    left = rest.copy()
    left[knots > 0] = 0
    ys, xs = np.empty(rest.size // 2 + 8, np.int32), np.empty(rest.size // 2 + 8, np.int32)
    found: list[AnyArray] = []

    def walked(y: int, x: int, begun: tuple[int, int] | None) -> None:
        count = 0
        if begun is not None:
            ys[0], xs[0] = begun
            count = 1
        left[y, x] = 0
        ys[count], xs[count] = y, x
        end = _follow(left, knots, y, x, ys, xs, count + 1)
        found.append(np.stack([xs[:end], ys[:end]], 1).astype(float))

    for y, x in np.argwhere(knots > 0):
        for dy in (-1, 0, 1):
            for dx in (-1, 0, 1):
                ny, nx = int(y + dy), int(x + dx)
                if 0 <= ny < rest.shape[0] and 0 <= nx < rest.shape[1] and left[ny, nx]:
                    walked(ny, nx, (int(y), int(x)))
    free = (rest > 0) & (around == 1)
    for y, x in np.argwhere(free):
        if left[y, x]:
            walked(int(y), int(x), None)
    # What is left are rings.
    for y, x in np.argwhere(left > 0):
        if left[y, x]:
            walked(int(y), int(x), None)
    return found


def _shares(mask: Mask, thin: Mask) -> AnyArray:
    """What of a mask is nearest to every point of its middle: (h, w, 3) points, sum of x, sum of y."""
    away = np.where(thin, 0, 1).astype(np.uint8)
    _, near = cv2.distanceTransformWithLabels(away, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    rows, columns = np.nonzero(mask)
    index, most = near[rows, columns], int(near.max()) + 1
    sums = [np.bincount(index, weights, most) for weights in (None, columns.astype(float), rows.astype(float))]
    return np.stack(sums, 1)[np.where(thin, near, 0)]


def _weighed(points: AnyArray, own: AnyArray) -> tuple[AnyArray, AnyArray]:
    """Middles and widths of a line from what is nearest to its points, over a few of them: no step of the grid shows."""
    if len(points) < 2:
        return points, np.sqrt(own[:, 0])
    window = np.ones(min(_WINDOW, len(points) | 1 if len(points) % 2 else len(points) - 1))
    steps = np.hypot(*np.diff(points, axis=0).T)
    lengths = np.convolve(np.concatenate([steps[:1], (steps[1:] + steps[:-1]) / 2, steps[-1:]]), window, "same")
    sums = np.stack([np.convolve(own[:, k], window, "same") for k in range(3)], 1)
    widths = sums[:, 0] / np.maximum(lengths, 1e-6)
    offset = (
        sums[:, 1:] / np.maximum(sums[:, :1], 1)
        - np.stack([np.convolve(points[:, k] * 1.0, window, "same") for k in range(2)], 1)
        / np.convolve(np.ones(len(points)), window, "same")[:, None]
    )
    # At its ends a window lies on one side only: there holds what holds further in.
    half = min(len(window) // 2, (len(points) - 1) // 2)
    offset[:half], offset[len(offset) - half :] = offset[half], offset[len(offset) - 1 - half]
    return points + np.clip(offset, -1, 1), widths


def middle_lines(mask: Mask) -> list[Line]:
    """Lines of a mask (h, w) by their middles. About .4 s at two megapixels."""
    from skimage.morphology import skeletonize

    thin = skeletonize(mask)
    own = _shares(mask, thin)
    ends = cv2.filter2D(thin.astype(np.uint8), cv2.CV_8U, np.ones((3, 3), np.uint8), borderType=cv2.BORDER_CONSTANT)
    found = []
    for points in _lines(thin):
        columns, rows = points[:, 0].astype(int), points[:, 1].astype(int)
        middles, widths = _weighed(points, own[rows, columns])
        length = float(np.hypot(*np.diff(points, axis=0).T).sum()) if len(points) > 1 else 0.0
        free = [bool(thin[r, c]) and int(ends[r, c]) == 2 for r, c in ((rows[0], columns[0]), (rows[-1], columns[-1]))]
        knotted = [int(ends[r, c]) > 3 for r, c in ((rows[0], columns[0]), (rows[-1], columns[-1]))]
        if any(free) and any(knotted) and length < _TWIG * float(widths.max()):
            continue
        ring = len(points) > 8 and not any(knotted) and float(np.hypot(*(points[0] - points[-1]))) < 2
        found.append(Line(middles + 0.5, widths, ring))
    return found
