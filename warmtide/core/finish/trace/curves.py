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
_ROUNDS, _DEEP, _STACK = 4, 24, 64
# Length over which a line shows its direction.
_LOOK = 3.0
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


@kernel
def _way(points, begin, step, reach, out):  # type: ignore[no-untyped-def]
    """Unit direction in which a line leaves a point, ahead (step 1) or back (-1), over some length at least."""
    x, y = points[begin, 0], points[begin, 1]
    at = begin
    dx = dy = 0.0
    while 0 <= at + step < len(points):
        at += step
        dx, dy = points[at, 0] - x, points[at, 1] - y
        if dx * dx + dy * dy >= reach * reach:
            break
    length = np.sqrt(dx * dx + dy * dy)
    out[0], out[1] = (dx / length, dy / length) if length > 0 else (1.0, 0.0)


@kernel
def _off_chord(points):  # type: ignore[no-untyped-def]
    """How far points lie from the line from the first to the last, the furthest; a great deal where those are one."""
    dx, dy = points[len(points) - 1, 0] - points[0, 0], points[len(points) - 1, 1] - points[0, 1]
    length = np.sqrt(dx * dx + dy * dy)
    if length == 0:
        return 1e9
    most = 0.0
    for i in range(1, len(points) - 1):
        most = max(most, abs(dx * (points[i, 1] - points[0, 1]) - dy * (points[i, 0] - points[0, 0])))
    return most / length


@kernel
def _fit_run(points, within, first, last, pieces, straight):  # type: ignore[no-untyped-def]
    """Fit a run without corners into `pieces`, in halves where one cubic is not near enough; how many there are.

    first, last : unit directions in which it leaves its ends, inwards.
    """
    begins, ends, deeps = np.empty(_STACK, np.int64), np.empty(_STACK, np.int64), np.empty(_STACK, np.int64)
    ways = np.empty((_STACK, 2, 2))
    place, ahead, behind = np.zeros(1, np.int64), np.empty(2), np.empty(2)
    begins[0], ends[0], deeps[0] = 0, len(points) - 1, 0
    ways[0, 0], ways[0, 1] = first, last
    top, count = 1, 0
    while top > 0:
        top -= 1
        begin, end, deep = begins[top], ends[top], deeps[top]
        out, away = ways[top, 0].copy(), ways[top, 1].copy()
        part = points[begin : end + 1]
        if end - begin < 2 or _off_chord(part) <= within:
            for k in range(2):
                a, b = points[begin, k], points[end, k]
                pieces[count, 0, k], pieces[count, 1, k] = a, a + (b - a) / 3
                pieces[count, 2, k], pieces[count, 3, k] = b - (b - a) / 3, b
            straight[count] = True
            count += 1
            continue
        worst = _fitted(part, out, away, pieces[count], _ROUNDS, place)
        if worst <= within * within or deep >= _DEEP:
            straight[count] = False
            count += 1
            continue
        cut = begin + min(max(place[0], 1), end - begin - 1)
        _way(points[begin : end + 1], cut - begin, 1, _LOOK, ahead)
        _way(points[begin : end + 1], cut - begin, -1, _LOOK, behind)
        mx, my = ahead[0] - behind[0], ahead[1] - behind[1]
        length = np.sqrt(mx * mx + my * my)
        if length > 1e-6:
            mx, my = mx / length, my / length
        else:
            mx, my = ahead[0], ahead[1]
        # The second half lies lower, so that pieces come in their order.
        begins[top], ends[top], deeps[top] = cut, end, deep + 1
        ways[top, 0, 0], ways[top, 0, 1] = mx, my
        ways[top, 1] = away
        top += 1
        begins[top], ends[top], deeps[top] = begin, cut, deep + 1
        ways[top, 0] = out
        ways[top, 1, 0], ways[top, 1, 1] = -mx, -my
        top += 1
    return count


def _run(points: AnyArray, within: float, first: AnyArray, last: AnyArray) -> tuple[AnyArray, AnyArray]:
    """Pieces (n, 4, 2) of a run without corners, and which are lines."""
    points = np.ascontiguousarray(points)
    pieces, straight = np.empty((len(points), 4, 2)), np.empty(len(points), np.bool_)
    count = _fit_run(points, within, np.ascontiguousarray(first), np.ascontiguousarray(last), pieces, straight)
    return pieces[:count], straight[:count]


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
    out: list[tuple[AnyArray, AnyArray]] = []
    first, last = np.empty(2), np.empty(2)
    for a, b in itertools.pairwise(cuts):
        run = points[a : b + 1] if smooth else _calmed(points[a : b + 1], calm)
        if smooth:
            first, last = _across(points, a), -_across(points, b)
        else:
            _way(run, 0, 1, _LOOK, first)
            _way(run, len(run) - 1, -1, _LOOK, last)
        out.append(_run(run, within, first, last))
    return Curve(np.concatenate([pieces for pieces, _ in out]), np.concatenate([lines for _, lines in out]))


def _across(points: AnyArray, at: int) -> AnyArray:
    """Direction of a closed line (its first point repeated at its end) where it has no corner."""
    ring = points[:-1]
    n, reach = len(ring), min(3, (len(ring) - 1) // 2)
    to = ring[(at + reach) % n] - ring[(at - reach) % n]
    length = float(np.hypot(*to))
    return to / length if length > 0 else np.array([1.0, 0.0])
