"""How an untextured building is seen: straight edges, where they meet, the lens, and the two ways its walls run.

The eye is taken to look level, so that uprights are upright and what is level meets on one level horizon.

Sources
-------
1. R. Grompone von Gioi et al., "LSD: a fast line segment detector with a false detection control", 2010.
2. B. Caprile, V. Torre, "Using vanishing points for camera calibration", 1990.
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from ..arrays import AnyArray, Float, Int, f32
from .parts import GROUND, SKY, Parts, straight_edges

_UPRIGHT = math.radians(3.5)
_NEAR, _PIXEL = math.radians(0.5), 0.8
_TRIES = 500
_FAR = 40.0
# What is smaller than this share of the picture is a window or a door.
_LET_IN = 0.012


@dataclass(frozen=True)
class Edges:
    """Straight edges: ends (n, 4) x0, y0, x1, y1 px, lengths (n,), which are upright (n,), how much each says (n,)."""

    ends: AnyArray
    lengths: AnyArray
    upright: AnyArray
    weights: AnyArray

    @property
    def middles(self) -> AnyArray:
        return (self.ends[:, :2] + self.ends[:, 2:]) / 2

    @property
    def angles(self) -> AnyArray:
        return np.arctan2(self.ends[:, 3] - self.ends[:, 1], self.ends[:, 2] - self.ends[:, 0])


@dataclass(frozen=True)
class Perspective:
    """How a picture is seen.

    Attributes
    ----------
    horizon : row, px. first, second : columns where the two level directions meet the horizon, px. focal : px.
    middle : column straight ahead. sure : share of the level edges' length that runs one of the two ways, 0..1.
    """

    horizon: float
    first: float
    second: float
    focal: float
    middle: float
    sure: float

    def way(self, which: int) -> Float:
        """Unit direction of the first (0) or second (1) way: x right, y up, z away."""
        x = (self.first, self.second)[which] - self.middle
        found = np.array([x, 0.0, self.focal])
        return (found / np.linalg.norm(found)).astype(f32)

    def rays(self, height: int, width: int) -> Float:
        """Directions (h, w, 3) of the pixels, z 1."""
        ys, xs = np.mgrid[0:height, 0:width].astype(f32)
        return np.stack(
            [(xs - self.middle) / self.focal, -(ys - self.horizon) / self.focal, np.ones_like(xs)], -1
        ).astype(f32)


def some(edges: Edges, which: AnyArray) -> Edges:
    """Those of the edges that are chosen (n,)."""
    return Edges(edges.ends[which], edges.lengths[which], edges.upright[which], edges.weights[which])


def _sides(ends: AnyArray, ids: Int) -> tuple[AnyArray, AnyArray]:
    """What lies beside the middle of each edge, on its one and its other side."""
    middle, way = (ends[:, :2] + ends[:, 2:]) / 2, ends[:, 2:] - ends[:, :2]
    across = np.stack([-way[:, 1], way[:, 0]], 1) / np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-6)[:, None]
    found = []
    for off in (-4, 4):
        at = np.round(middle + off * across).astype(int)
        found.append(ids[np.clip(at[:, 1], 0, ids.shape[0] - 1), np.clip(at[:, 0], 0, ids.shape[1] - 1)])
    return found[0], found[1]


def edges_of(light: Float, parts: Parts, least: float = 0.025) -> Edges:
    """Straight edges of a picture (h, w), at least `least` of its short side long. About 20 ms at 512 px.

    The foot of a wall and the sides of what is let into it run as the wall does; a line against the sky is as often
    the slope of a gable, and the edge of a shadow runs anywhere.
    """
    ends = np.concatenate(straight_edges(light, parts.unit))
    lengths = np.hypot(ends[:, 2] - ends[:, 0], ends[:, 3] - ends[:, 1])
    kept = lengths > least * min(light.shape)
    ends, lengths = ends[kept], lengths[kept]
    upright = np.abs(np.abs(np.arctan2(ends[:, 3] - ends[:, 1], ends[:, 2] - ends[:, 0])) - math.pi / 2) < _UPRIGHT
    one, other = _sides(ends, parts.ids)
    small = np.append(parts.areas < _LET_IN * parts.ids.size, (False, False))
    foot = (one == GROUND) != (other == GROUND)
    shadow = (one == GROUND) & (other == GROUND)
    sky = (one == SKY) | (other == SKY)
    let_in = (small[one] != small[other]) & ~foot & ~sky
    weights = np.sqrt(lengths) * np.where(foot, 1.3, 1) * np.where(sky, 0.25, 1) * np.where(let_in, 2.2, 1) * ~shadow
    return Edges(ends, lengths, upright, weights)


def off_way(edges: Edges, x: float, y: float) -> AnyArray:
    """Angle (n,) between every edge and the direction from its middle to a point, 0..pi/2."""
    middle = edges.middles
    toward = np.arctan2(y - middle[:, 1], x - middle[:, 0])
    return np.abs((edges.angles - toward + math.pi / 2) % math.pi - math.pi / 2)


def _crossings(ends: AnyArray, row: float) -> AnyArray:
    """Column where each edge, made longer, meets a row."""
    slope = ends[:, 3] - ends[:, 1]
    slope = np.where(np.abs(slope) < 1e-3, 1e-3, slope)
    t = (row - ends[:, 1]) / slope
    return np.asarray(ends[:, 0] + t * (ends[:, 2] - ends[:, 0]))


def _tolerance(edges: Edges) -> AnyArray:
    """How far an edge may point aside: a short one is known less well."""
    return np.hypot(_NEAR, _PIXEL / np.maximum(edges.lengths, 1))


def _score(edges: Edges, row: float, columns: tuple[float, float]) -> float:
    off = np.minimum(off_way(edges, columns[0], row), off_way(edges, columns[1], row))
    return float((edges.weights * np.exp(-((off / _tolerance(edges)) ** 2))).sum())


def perspective_of(edges: Edges, height: int, width: int) -> Perspective | None:
    """The two ways that level edges run, or None where too few edges agree. About .1 s.

    Parameters
    ----------
    edges : of a picture of that size, px.
    """
    level = some(edges, ~edges.upright & (edges.weights > 0))
    if len(level.lengths) < 4 or edges.upright.sum() < 2:
        return None
    random = np.random.default_rng(5)
    chance = level.weights / level.weights.sum()
    best, found = -1.0, (height / 2, 0.0, float(width))
    for _ in range(_TRIES):
        i, j, k = random.choice(len(chance), 3, p=chance)
        if i == j or k in (i, j):
            continue
        a, b = level.ends[i], level.ends[j]
        first = np.cross(np.cross([a[0], a[1], 1], [a[2], a[3], 1]), np.cross([b[0], b[1], 1], [b[2], b[3], 1]))
        if abs(first[2]) < 1e-9:
            continue
        x, row = first[0] / first[2], first[1] / first[2]
        if not -0.6 * height < row < 1.6 * height or abs(x - width / 2) > _FAR * width:
            continue
        other = float(np.clip(_crossings(level.ends[k : k + 1], row)[0], -_FAR * width, _FAR * width))  # fmt: skip
        # Walls stand square: the two ways lie on either side of what is straight ahead.
        if (x - width / 2) * (other - width / 2) > -((0.25 * width) ** 2):
            continue
        score = _score(level, row, (x, other))
        if score > best:
            best, found = score, (row, x, other)
    if best < 0:
        return None
    for which in (0, 1, 0, 1):
        # Each way once more against every edge: chance may have missed the better of two that score alike.
        ways = [found[1], found[2]]
        for x in np.clip(_crossings(level.ends, found[0]), -_FAR * width, _FAR * width):
            ways[which] = float(x)
            if (ways[0] - width / 2) * (ways[1] - width / 2) > -((0.25 * width) ** 2):
                continue
            score = _score(level, found[0], (ways[0], ways[1]))
            if score > best:
                best, found = score, (found[0], ways[0], ways[1])

    values = np.array(
        [found[0] / height, math.atan((found[1] - width / 2) / width), math.atan((found[2] - width / 2) / width)]
    )
    for wide in (2.5, 1.5):
        # Only edges that already point there may move it: a gable's slopes are long, and run elsewhere.
        column = [math.tan(v) * width + width / 2 for v in values[1:]]
        aside = np.stack([off_way(level, x, values[0] * height) for x in column])
        near = aside.min(0) < wide * _tolerance(level)
        if near.sum() < 4:
            break
        kept = some(level, near)
        which = aside[:, near].argmin(0)

        def off(v: AnyArray, kept: Edges = kept, which: AnyArray = which) -> AnyArray:
            ways = [off_way(kept, math.tan(v[1 + k]) * width + width / 2, v[0] * height) for k in (0, 1)]
            return np.asarray(np.sqrt(kept.weights) * np.where(which == 0, *ways) / _tolerance(kept))

        values = least_squares(off, values, loss="soft_l1", diff_step=1e-4).x
    row = float(values[0]) * height
    first_, second = (math.tan(v) * width + width / 2 for v in sorted(values[1:]))
    squared = -(first_ - width / 2) * (second - width / 2)
    focal = math.sqrt(squared) if squared > (0.4 * width) ** 2 else 1.1 * width
    near = np.minimum(off_way(level, first_, row), off_way(level, second, row)) < 2 * _tolerance(level)
    return Perspective(
        row, first_, second, min(focal, 6 * width), width / 2, float(level.lengths[near].sum() / level.lengths.sum())
    )
