"""How an untextured building is seen: straight edges, where they meet, the lens, and the two ways its walls run.

The eye is taken to look level, so that uprights are upright and what is level meets on one level horizon.

Sources
-------
1. R. Grompone von Gioi et al., "LSD: a fast line segment detector with a false detection control", 2010.
2. B. Caprile, V. Torre, "Using vanishing points for camera calibration", 1990.
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, f32
from .outlines import sides_of
from .parts import GROUND, SKY, Parts, along, drawn

_UPRIGHT = math.radians(3.5)
_NEAR, _PIXEL = math.radians(0.5), 0.8
_TRIES, _FIRST = 500, 24
_FAR = 40.0
# What is smaller than this share of the picture is a window or a door.
_LET_IN = 0.012
# Upper ends of two slopes of a gable, and of an upright below a corner, px of a 512th; sine of a slope that is steep.
_PEAK, _BELOW, _STEEP = 6.0, 9.0, 0.35
# Lenses that buildings are shown with, in widths of the picture: the commonest, how widely they scatter (of its
# logarithm), and how much that says beside the edges.
_LENS, _LENSES, _LENS_SAYS = 1.0, 0.4, 0.8
# What a level meeting of sky and ground says of the horizon, and how near it is, in widths of the picture.
_HORIZON_SAYS, _HORIZON = 4.0, 0.004
_LENS_TRIED = np.array([0.6, 0.75, 0.9, 1.0, 1.15, 1.3, 1.5, 1.8, 2.2])


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


def _verges(ends: AnyArray, upright: AnyArray, unit: float) -> AnyArray:
    """Which edges (n,) climb to a peak that no upright stands below: slopes of a gable. Two level edges of a flat top
    meet above a corner of its walls."""
    turned = np.where((ends[:, 1] > ends[:, 3])[:, None], ends[:, [2, 3, 0, 1]], ends)
    top, away = turned[:, :2], turned[:, 2:] - turned[:, :2]
    # How far every edge's upper end is from every other one's.
    apart = np.hypot(*(top[:, None] - top[None]).transpose(2, 0, 1))
    near = (apart < _PEAK * unit) & ~upright
    across = near & (away[:, None, 0] * away[None, :, 0] < 0)
    stands = ((apart < _BELOW * unit) & upright).any(1)
    steep = away[:, 1] > _STEEP * np.hypot(away[:, 0], away[:, 1])
    return np.asarray(across.any(1) & ~stands & steep & ~upright)


def edges_of(light: Float, parts: Parts, least: float = 0.025) -> Edges:
    """Straight edges of a picture (h, w), at least `least` of its short side long. About 20 ms at 512 px.

    The foot of a wall and the sides of what is let into it run as the wall does; a line against the sky is as often
    the slope of a gable, and the edge of a shadow runs anywhere.
    """
    ends = np.concatenate([parts.plain, parts.traced])
    # The foot of a wall in its own shadow hardly shows, but the areas meet there.
    large = np.flatnonzero(parts.areas > _LET_IN / 4 * parts.ids.size)
    sides = sides_of(parts.ids, large, parts.unit, least * min(light.shape))
    known = cv2.dilate(drawn(light.shape, ends), np.ones((5, 5), np.uint8))
    ends = np.concatenate([ends, sides[[along(known, e).mean() < 100 for e in sides]].reshape(-1, 4)])
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
    level = ~shadow & ~_verges(ends, upright, parts.unit)
    weights = np.sqrt(lengths) * np.where(foot, 1.3, 1) * np.where(sky, 0.25, 1) * np.where(let_in, 2.2, 1) * level
    return Edges(ends, lengths, upright, weights)


def off_way(edges: Edges, x: float | AnyArray, y: float) -> AnyArray:
    """Angle between every edge and the direction from its middle to a point, 0..pi/2: (n,), or (m, n) for columns (m, 1)."""
    middle = edges.middles
    toward = np.arctan2(y - middle[:, 1], x - middle[:, 0])
    return np.asarray(np.abs((edges.angles - toward + math.pi / 2) % math.pi - math.pi / 2))


def _crossings(ends: AnyArray, row: float) -> AnyArray:
    """Column where each edge, made longer, meets a row."""
    slope = ends[:, 3] - ends[:, 1]
    slope = np.where(np.abs(slope) < 1e-3, 1e-3, slope)
    t = (row - ends[:, 1]) / slope
    return np.asarray(ends[:, 0] + t * (ends[:, 2] - ends[:, 0]))


def _tolerance(edges: Edges) -> AnyArray:
    """How far an edge may point aside: a short one is known less well."""
    return np.hypot(_NEAR, _PIXEL / np.maximum(edges.lengths, 1))


def _unlikely(first: float, second: float | AnyArray, width: int) -> AnyArray:
    """How far the lens that two ways give is from the commonest one, 1 for as far as lenses scatter."""
    focal = np.sqrt(np.maximum(-(first - width / 2) * (second - width / 2), 1.0))
    return np.asarray(np.log(focal / (_LENS * width)) / _LENSES)


def _scores(edges: Edges, row: float, first: float, others: AnyArray, width: int, meets: float | None) -> AnyArray:
    """How well the edges run a first way and each of others (m,); -1 for what can't be."""
    off = np.minimum(off_way(edges, first, row), off_way(edges, others[:, None], row))
    agree = np.exp(-((off / _tolerance(edges)) ** 2)) @ edges.weights
    # Beside a long front the few short edges of a narrow end fit many ways.
    lens = _LENS_SAYS * np.exp(-(_unlikely(first, others, width) ** 2) / 2)
    level = 0.0 if meets is None else _HORIZON_SAYS * math.exp(-(((row - meets) / (_HORIZON * width)) ** 2))
    # Walls stand square: the two ways lie on either side of what is straight ahead.
    square = (first - width / 2) * (others - width / 2) <= -((0.25 * width) ** 2)
    return np.where(square, agree + (lens + level) * float(edges.weights.mean()), -1.0)


def _first_ways(level: Edges, height: int, width: int) -> list[tuple[float, float]]:
    """Columns and rows where many level edges meet, the best first, none twice."""
    random = np.random.default_rng(5)
    pairs = random.choice(len(level.weights), (_TRIES, 2), p=level.weights / level.weights.sum())
    ends = np.insert(level.ends, (2, 4), 1.0, axis=1)
    lines = np.cross(ends[:, :3], ends[:, 3:])
    tolerance = _tolerance(level)
    found: dict[tuple[int, int], tuple[float, float, float]] = {}
    for met in np.cross(lines[pairs[:, 0]], lines[pairs[:, 1]]):
        if abs(met[2]) < 1e-9:
            continue
        x, row = float(met[0] / met[2]), float(met[1] / met[2])
        if not -0.6 * height < row < 1.6 * height or abs(x - width / 2) > _FAR * width:
            continue
        score = float(np.exp(-((off_way(level, x, row) / tolerance) ** 2)) @ level.weights)
        cell = round(math.atan((x - width / 2) / width) / 0.05), round(row / (0.02 * height))
        if score > found.get(cell, (0.0,))[0]:
            found[cell] = score, x, row
    return [(x, row) for _, x, row in sorted(found.values(), reverse=True)[:_FIRST]]


def perspective_of(edges: Edges, height: int, width: int, meets: float | None = None) -> Perspective | None:
    """The two ways that level edges run, or None where too few edges agree. About .1 s.

    Parameters
    ----------
    edges : of a picture of that size, px. meets : row in which sky and ground meet, if they do: most often the horizon.
    """
    # Loaded here: the server names looks but never draws.
    from scipy.optimize import least_squares

    level = some(edges, ~edges.upright & (edges.weights > 0))
    if len(level.lengths) < 4 or edges.upright.sum() < 2:
        return None
    best, found = -1.0, (height / 2, 0.0, float(width))
    ways = _first_ways(level, height, width)
    if meets is not None:
        ways += [(x, meets) for x in np.clip(_crossings(level.ends, meets), -_FAR * width, _FAR * width)]
    for x, row in ways:
        # The other way is one that an edge runs, or one that a lens would give.
        reach = np.clip(_crossings(level.ends, row), -_FAR * width, _FAR * width)
        lenses = width / 2 - (_LENS_TRIED * width) ** 2 / (x - width / 2 or 1.0)
        others = np.concatenate([reach, lenses])
        scores = _scores(level, row, x, others, width, meets)
        if scores.max() > best:
            best, found = float(scores.max()), (row, x, float(others[scores.argmax()]))
    if best < 0:
        return None

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
            edged = np.sqrt(kept.weights) * np.where(which == 0, *ways) / _tolerance(kept)
            columns = [math.tan(v[1 + k]) * width + width / 2 for k in (0, 1)]
            lens = math.sqrt(_LENS_SAYS * kept.weights.mean()) * float(_unlikely(columns[0], columns[1], width))
            horizon = 0.0 if meets is None else (v[0] * height - meets) / (_HORIZON * width)
            return np.append(edged, (lens, math.sqrt(_HORIZON_SAYS * kept.weights.mean()) * horizon))

        values = least_squares(off, values, loss="soft_l1", diff_step=1e-4).x
    row = float(values[0]) * height
    first_, second = (math.tan(v) * width + width / 2 for v in sorted(values[1:]))
    squared = -(first_ - width / 2) * (second - width / 2)
    focal = math.sqrt(squared) if squared > (0.4 * width) ** 2 else 1.1 * width
    near = np.minimum(off_way(level, first_, row), off_way(level, second, row)) < 2 * _tolerance(level)
    return Perspective(
        row, first_, second, min(focal, 6 * width), width / 2, float(level.lengths[near].sum() / level.lengths.sum())
    )
