"""Steps of pixels as a few straight lines and curves, corners kept.

Sources
-------
1. P. Schneider, "An algorithm for automatically fitting digitized curves", 1990.
2. D. Chetverikov, "A simple and efficient algorithm for detection of high curvature points in planar curves", 2003.
"""

import itertools
from dataclasses import dataclass

import numpy as np

from ...maths.arrays import AnyArray
from ...maths.jit import kernel

# A corner: two chords of this reach turn by more than this, and none nearer turns more.
_REACH, _TURN = 5.0, 0.62
_ROUNDS, _DEEP = 4, 24
CALM = 8


@dataclass(frozen=True)
class Curve:
    """Pieces (n, 4, 2) of a line, each a cubic with two ends and two handles; `straight` (n,) says which are lines."""

    pieces: AnyArray
    straight: AnyArray

    @property
    def nodes(self) -> int:
        return len(self.pieces)

    def turned(self) -> "Curve":
        """The same from its end."""
        return Curve(self.pieces[::-1, ::-1], self.straight[::-1])


@kernel
def _least_squares(points, u, first, last, out):  # type: ignore[no-untyped-def]
    """Handles of the cubic through (n, 2) points at parameters `u`, leaving along `first` and coming in along `last`."""
    n = len(points)
    x0, y0, x3, y3 = points[0, 0], points[0, 1], points[n - 1, 0], points[n - 1, 1]
    c00 = c01 = c11 = d0 = d1 = 0.0
    for i in range(n):
        t = u[i]
        s = 1.0 - t
        b0, b1, b2, b3 = s * s * s, 3 * t * s * s, 3 * t * t * s, t * t * t
        ax, ay, bx, by = first[0] * b1, first[1] * b1, last[0] * b2, last[1] * b2
        rx = points[i, 0] - (x0 * (b0 + b1) + x3 * (b2 + b3))
        ry = points[i, 1] - (y0 * (b0 + b1) + y3 * (b2 + b3))
        c00 += ax * ax + ay * ay
        c01 += ax * bx + ay * by
        c11 += bx * bx + by * by
        d0 += ax * rx + ay * ry
        d1 += bx * rx + by * ry
    chord = np.sqrt((x3 - x0) ** 2 + (y3 - y0) ** 2)
    det = c00 * c11 - c01 * c01
    one = two = 0.0
    if abs(det) > 1e-9:
        one, two = (d0 * c11 - d1 * c01) / det, (c00 * d1 - c01 * d0) / det
    if one < 0.02 * chord or two < 0.02 * chord or one > 4 * chord + 1 or two > 4 * chord + 1:
        one = two = chord / 3
    out[0, 0], out[0, 1] = x0, y0
    out[1, 0], out[1, 1] = x0 + one * first[0], y0 + one * first[1]
    out[2, 0], out[2, 1] = x3 + two * last[0], y3 + two * last[1]
    out[3, 0], out[3, 1] = x3, y3


@kernel
def _worst(points, u, cubic, place):  # type: ignore[no-untyped-def]
    """The largest squared distance of points from a cubic at their parameters; its place goes to `place[0]`."""
    most = 0.0
    for i in range(len(points)):
        t = u[i]
        s = 1.0 - t
        b0, b1, b2, b3 = s * s * s, 3 * t * s * s, 3 * t * t * s, t * t * t
        x = b0 * cubic[0, 0] + b1 * cubic[1, 0] + b2 * cubic[2, 0] + b3 * cubic[3, 0] - points[i, 0]
        y = b0 * cubic[0, 1] + b1 * cubic[1, 1] + b2 * cubic[2, 1] + b3 * cubic[3, 1] - points[i, 1]
        apart = x * x + y * y
        if apart > most:
            most = apart
            place[0] = i
    return most


@kernel
def _nearer(points, u, cubic):  # type: ignore[no-untyped-def]
    """One step of Newton towards the parameters at which a cubic is nearest to its points."""
    for i in range(1, len(points) - 1):
        t = u[i]
        s = 1.0 - t
        ex = ey = fx = fy = gx = gy = 0.0
        b0, b1, b2, b3 = s * s * s, 3 * t * s * s, 3 * t * t * s, t * t * t
        ex = b0 * cubic[0, 0] + b1 * cubic[1, 0] + b2 * cubic[2, 0] + b3 * cubic[3, 0] - points[i, 0]
        ey = b0 * cubic[0, 1] + b1 * cubic[1, 1] + b2 * cubic[2, 1] + b3 * cubic[3, 1] - points[i, 1]
        for k in range(3):
            weight = 3 * (s * s if k == 0 else 2 * s * t if k == 1 else t * t)
            fx += weight * (cubic[k + 1, 0] - cubic[k, 0])
            fy += weight * (cubic[k + 1, 1] - cubic[k, 1])
        for k in range(2):
            weight = 6 * (s if k == 0 else t)
            gx += weight * (cubic[k + 2, 0] - 2 * cubic[k + 1, 0] + cubic[k, 0])
            gy += weight * (cubic[k + 2, 1] - 2 * cubic[k + 1, 1] + cubic[k, 1])
        below = fx * fx + fy * fy + ex * gx + ey * gy
        if abs(below) > 1e-9:
            u[i] = min(max(t - (ex * fx + ey * fy) / below, 0.0), 1.0)


@kernel
def _fitted(points, first, last, cubic, rounds, place):  # type: ignore[no-untyped-def]
    """The cubic nearest to points; its worst squared distance."""
    n = len(points)
    u = np.zeros(n)
    for i in range(1, n):
        u[i] = u[i - 1] + np.sqrt((points[i, 0] - points[i - 1, 0]) ** 2 + (points[i, 1] - points[i - 1, 1]) ** 2)
    if u[n - 1] > 0:
        u /= u[n - 1]
    _least_squares(points, u, first, last, cubic)
    most = _worst(points, u, cubic, place)
    for _ in range(rounds):
        _nearer(points, u, cubic)
        _least_squares(points, u, first, last, cubic)
        most = _worst(points, u, cubic, place)
    return most


@kernel
def _turns(points, reach, closed, turn):  # type: ignore[no-untyped-def]
    """How sharply a line turns at every point, in radians, over chords of a length."""
    n = len(points)
    for i in range(n):
        turn[i] = 0.0
        bx = by = fx = fy = 0.0
        found = 0
        for sign in (-1, 1):
            j = i
            while True:
                j += sign
                if j < 0 or j >= n:
                    if not closed:
                        break
                    j = (j + n) % n
                if j == i:
                    break
                x, y = points[j, 0] - points[i, 0], points[j, 1] - points[i, 1]
                if x * x + y * y >= reach * reach:
                    found += 1
                    if sign < 0:
                        bx, by = -x, -y
                    else:
                        fx, fy = x, y
                    break
        if found == 2:
            turn[i] = abs(np.arctan2(bx * fy - by * fx, bx * fx + by * fy))


def corners_of(points: AnyArray, closed: bool) -> list[int]:
    """Places in a line (n, 2) where it turns sharply, not counting the ends of an open one."""
    turn = np.zeros(len(points))
    _turns(points, _REACH, closed, turn)
    found: list[int] = []
    near = int(_REACH)
    for i in np.flatnonzero(turn > _TURN):
        around = [(i + k) % len(points) if closed else i + k for k in range(-near, near + 1)]
        if turn[i] >= max(turn[j] for j in around if 0 <= j < len(points)) and (not found or i - found[-1] > near // 2):
            found.append(int(i))
    return found


def _way(points: AnyArray, reach: float) -> AnyArray:
    """Unit direction in which a line leaves its first point, over some length."""
    apart = points - points[0]
    far = np.flatnonzero((apart**2).sum(1) >= reach * reach)
    to = apart[far[0] if len(far) else -1]
    length = float(np.hypot(*to))
    return to / length if length > 0 else np.array([1.0, 0.0])


def _straight(points: AnyArray, within: float) -> bool:
    """Whether all points lie beside the line from the first to the last."""
    along = points[-1] - points[0]
    length = float(np.hypot(*along))
    if length == 0:
        return False
    apart = np.abs(along[0] * (points[:, 1] - points[0, 1]) - along[1] * (points[:, 0] - points[0, 0])) / length
    return float(apart.max()) <= within


def _run(
    points: AnyArray, within: float, first: AnyArray, last: AnyArray, deep: int, out: list[tuple[AnyArray, bool]]
) -> None:
    """Fit a run without corners, in halves where one cubic is not near enough."""
    if len(points) < 3 or _straight(points, within):
        a, b = points[0], points[-1]
        out.append((np.array([a, a + (b - a) / 3, b - (b - a) / 3, b]), True))
        return
    cubic, place = np.empty((4, 2)), np.zeros(1, np.int64)
    points = np.ascontiguousarray(points)
    worst = _fitted(points, first, last, cubic, _ROUNDS, place)
    if worst <= within * within or deep >= _DEEP:
        out.append((cubic, False))
        return
    cut = int(np.clip(place[0], 1, len(points) - 2))
    ahead, behind = _way(points[cut:], 3.0), _way(points[cut::-1], 3.0)
    middle = ahead - behind
    length = float(np.hypot(*middle))
    middle = middle / length if length > 1e-6 else ahead
    _run(points[: cut + 1], within, first, -middle, deep + 1, out)
    _run(points[cut:], within, middle, last, deep + 1, out)


def _calmed(run: AnyArray, rounds: int) -> AnyArray:
    """A run without the steps of its pixels; its ends stay."""
    run = run.copy()
    for _ in range(rounds):
        run[1:-1] = (run[:-2] + 2 * run[1:-1] + run[2:]) / 4
    return run


def _calmed_ring(ring: AnyArray, rounds: int) -> AnyArray:
    """As `_calmed`, for a closed line without corners."""
    for _ in range(rounds):
        ring = (np.roll(ring, 1, axis=0) + 2 * ring + np.roll(ring, -1, axis=0)) / 4
    return ring


def smooth_curve(points: AnyArray, closed: bool, within: float, calm: int = CALM) -> Curve:
    """A line as a few pieces that run at most `within` from its points.

    Parameters
    ----------
    points : (n, 2) float x, y; of a closed line the first is not repeated. calm : how often a point becomes the mean of itself and
        its neighbours first: steps of pixels go, curves stay.

    Returns
    -------
    Its pieces; of a closed line the last ends where the first begins. About 1 ms for 500 points.
    """
    points = np.ascontiguousarray(points, np.float64)
    corners = corners_of(points, closed)
    if closed:
        begin = corners[0] if corners else 0
        points = np.roll(points, -begin, axis=0)
        cuts = [c - begin for c in corners] if corners else [0]
        if not corners:
            points = _calmed_ring(points, calm)
        points = np.vstack([points, points[:1]])
        if not corners:
            # Two halves, so that a circle has a direction at either end.
            cuts.append(len(points) // 2)
        cuts.append(len(points) - 1)
    else:
        cuts = sorted({0, *corners, len(points) - 1})
    smooth = closed and not corners
    out: list[tuple[AnyArray, bool]] = []
    for a, b in itertools.pairwise(cuts):
        run = points[a : b + 1] if smooth else _calmed(points[a : b + 1], calm)
        first, last = _way(run, 3.0), _way(run[::-1], 3.0)
        if smooth:
            first, last = _across(points, a), -_across(points, b)
        _run(run, within, first, last, 0, out)
    return Curve(np.array([piece for piece, _ in out]), np.array([line for _, line in out]))


def _across(points: AnyArray, at: int) -> AnyArray:
    """Direction of a closed line (its first point repeated at its end) where it has no corner."""
    ring = points[:-1]
    n, reach = len(ring), min(3, (len(ring) - 1) // 2)
    to = ring[(at + reach) % n] - ring[(at - reach) % n]
    length = float(np.hypot(*to))
    return to / length if length > 0 else np.array([1.0, 0.0])
