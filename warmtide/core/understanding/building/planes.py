"""The planes of a building: which areas are walls, roofs and flats, what is let into them, and how each one faces.

Sources
-------
1. A. Criminisi, I. Reid, A. Zisserman, "Single view metrology", 2000 (planes from two directions).
"""

import math
from dataclasses import dataclass, replace
from itertools import combinations

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, f32
from ...maths.blur import blur
from ...model.cache import SharedCache
from ...model.sitting import Original
from .faint import faint_joins
from .openings import Opening, WallPlane, find_openings
from .outlines import edge_runs, polygon, ray_of
from .parts import GROUND, SKY, Parts, borders, meeting_row, parts_of
from .perspective import Perspective, edges_of, perspective_of

_UP = np.array([0.0, 1.0, 0.0])
# Smaller than this share of the picture nothing is a face of its own.
_FACE = 0.006
# Level edges that run one of the two ways: in buildings .56 to 1 of their length, in other pictures at most .32.
_SURE = 0.5
# Mean slope of lightness along what parts two halves of one wall, and how much darker one may lie in shadow.
_ONE_WALL, _SHADED = 0.03, 0.09
# Largest share of the picture of a strip of wall between windows, and how often what touches is joined anew.
_STRIP, _ROUNDS = 0.006, 3
# Least share of a bay, and how alike greys are.
_BAY, _SAME = 0.002, 0.03
# How much of the smallest triangle around it a gable fills.
_TRIANGLE = 0.86

# Share that strips of one wall have in common along it, and share of that which windows between them take up; largest
# share of the picture of one such window.
_COMMON, _ROW_OF, _LET_IN = 0.8, 0.5, 0.03

_Guessed = dict[int, tuple[str, AnyArray, AnyArray]]


@dataclass(frozen=True)
class Face:
    """A plane face.

    Attributes
    ----------
    kind : wall, roof, flat or loose (how it faces is not known). normal : unit, toward the eye; x right, y up, z away.
    along : unit direction in the plane, level. distance : of the plane from the eye, eye heights.
    """

    kind: str
    normal: Float
    along: Float
    distance: float


@dataclass(frozen=True)
class Built:
    """An untextured building understood.

    Attributes
    ----------
    parts : its areas. view : how it is seen, None when that can't be told. faces : by area number. openings : windows
    and doors. owner : (h, w) area that a pixel belongs to when openings are part of their walls; SKY, GROUND.
    """

    parts: Parts
    view: Perspective | None
    faces: dict[int, Face]
    openings: list[Opening]
    owner: Int

    @property
    def sure(self) -> bool:
        """Whether planes may be drawn on; without, a look must stay soft."""
        return self.view is not None and self.view.sure > _SURE and any(f.kind == "wall" for f in self.faces.values())


def _toward_eye(normal: AnyArray, at: AnyArray, view: Perspective) -> AnyArray:
    normal = normal / max(float(np.linalg.norm(normal)), 1e-9)
    return -normal if normal @ ray_of(at, view) > 0 else normal


def _sloped(
    slopes: list[tuple[float, AnyArray]], ridge: AnyArray, middle: AnyArray, view: Perspective
) -> AnyArray | None:
    """Normal of a roof whose ridge runs one way, from the longest line that goes up it; square to the gable."""
    for _, ends in slopes:
        through = np.cross(ray_of(ends[0], view), ray_of(ends[1], view))
        slope = np.cross(through, ridge)
        if np.linalg.norm(slope) < 1e-9:
            continue
        normal = _toward_eye(np.cross(ridge, slope), middle, view)
        if abs(normal[1]) > 0.2:
            return normal
    return None


def _face(mask: AnyArray, view: Perspective, unit: float) -> tuple[str, AnyArray, AnyArray]:
    """Kind, normal and level direction of an area."""
    corners = polygon(mask, unit)
    if len(corners) < 3:
        return "loose", np.array([0, 0, -1.0]), np.array([1.0, 0, 0])
    runs, slopes = edge_runs(corners, view, unit)
    whole = max(sum(runs.values()), 1e-6)
    middle = corners.mean(0)
    first, second = view.way(0).astype(float), view.way(1).astype(float)
    way, other = (first, second) if runs["first"] >= runs["second"] else (second, first)
    level = runs["first"] + runs["second"]
    if runs["up"] > 0.13 * whole and level > 0.06 * whole:
        return "wall", _toward_eye(np.cross(way, _UP), middle, view), way
    if runs["up"] > 0.30 * whole:
        # Nothing level is seen of it: it runs the way on whose side it lies.
        return "loose", _toward_eye(np.cross(way, _UP), middle, view), way
    if runs["first"] > 0.18 * whole and runs["second"] > 0.18 * whole and runs["other"] < 0.25 * whole:
        return "flat", _toward_eye(_UP, middle, view), way
    if level > 0.2 * whole and slopes:
        normal = _sloped(slopes, way, middle, view)
        if normal is not None:
            return "roof", normal, way
    return "loose", _toward_eye(other, middle, view), way


def _distances(faces: dict[int, tuple[str, AnyArray, AnyArray]], owner: Int, view: Perspective) -> dict[int, float]:
    """Distance of every plane from the eye, in eye heights: walls from their foot, the rest from what they touch."""
    found: dict[int, float] = {}
    cut: dict[int, float] = {}
    for k, (kind, normal, _) in faces.items():
        if kind in ("wall", "loose"):
            ys, xs = np.nonzero(owner == k)
            low = int(ys.argmax())
            ray = ray_of(np.array([xs[low], ys[low] + 1.0]), view)
            if ray[1] < -1e-3:
                # Where the picture cuts a wall off, its foot is not seen.
                (cut if ys[low] == len(owner) - 1 else found)[k] = float(normal @ (ray / -ray[1]))
    found = found or cut
    for _ in range(3):
        for k, (_, normal, _) in faces.items():
            if k in found:
                continue
            mine = owner == k
            rim = (cv2.dilate(mine.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0) & ~mine
            for other in np.unique(owner[rim]):
                if int(other) in found:
                    ys, xs = np.nonzero(rim & (owner == other))
                    ray = ray_of(np.array([xs.mean(), ys.mean()]), view)
                    reach = found[int(other)] / min(float(faces[int(other)][1] @ ray), -1e-4)
                    found[k] = float(normal @ (ray * reach))
                    break
    return found


def _with_far_ground(parts: Parts, view: Perspective) -> Parts:
    """What leaves the picture at a side, below the horizon, without an upright edge, is ground of another grey."""
    ids = parts.ids.copy()
    width = ids.shape[1]
    for side in (0, width - 1):
        for k in np.unique(ids[:, side]):
            if k < 0 or parts.areas[k] < _FACE * ids.size:
                continue
            mask = parts.ids == k
            if np.nonzero(mask)[0].min() < view.horizon - 2 * parts.unit or mask[0].any():
                continue
            columns = np.flatnonzero(mask.any(0))
            above = parts.ids[np.maximum(mask.argmax(0)[columns] - 3, 0), columns]
            if (above == SKY).mean() > 0.5:
                # No wall ends below the horizon with sky behind it.
                ids[mask] = GROUND
                continue
            corners = polygon(mask, parts.unit)
            inner = (corners[:, 0] > 1) & (corners[:, 0] < width - 2)
            upright = 0.0
            for a, b, inside in zip(corners, np.roll(corners, -1, 0), inner | np.roll(inner, -1), strict=True):
                steep = abs(b[1] - a[1]) > 4 * abs(b[0] - a[0])
                upright += float(np.hypot(*(b - a))) if inside and steep else 0.0
            if upright < 0.25 * math.sqrt(parts.areas[k]):
                ids[mask] = GROUND
    return replace(parts, ids=ids)


def with_bays(parts: Parts, light: Float) -> Parts:
    """What is seen through an open bay is sky and ground: its edge runs on where theirs meet, in their greys."""
    edge = meeting_row(parts.ids)
    if edge is None:
        return parts
    ids, slack = parts.ids.copy(), 4 * parts.unit
    for k in range(parts.count):
        rows = np.flatnonzero((parts.ids == k).any(1))
        if parts.areas[k] < _BAY * ids.size or not len(rows):
            continue
        for number, end in ((SKY, rows[-1] + 1), (GROUND, rows[0])):
            beyond = parts.ids[rows[0] : rows[-1] + 1] == number
            if abs(end - edge) > slack or not beyond.any():
                continue
            off = np.median(light[parts.ids == k]) - np.median(light[rows[0] : rows[-1] + 1][beyond])
            if abs(float(off)) < _SAME:
                ids[parts.ids == k] = number
    return replace(parts, ids=ids)


def _gables(parts: Parts, guessed: _Guessed) -> None:
    """A triangle above a wall, as bright as it, faces as the wall does: a roof would catch more of the sky."""
    ids = parts.ids
    for k in [k for k, (kind, _, _) in guessed.items() if kind == "roof"]:
        mask = ids == k
        corners = polygon(mask, parts.unit).astype(f32)
        whole = cv2.minEnclosingTriangle(corners[:, None])[0] if len(corners) > 2 else 0.0
        columns = np.flatnonzero(mask.any(0))
        if cv2.contourArea(corners) < _TRIANGLE * max(whole, 1.0):
            continue
        low = ids.shape[0] - 1 - mask[::-1].argmax(0)[columns]
        below = ids[np.minimum(low + 4, ids.shape[0] - 1), columns]
        names, counts = np.unique(below[below >= 0], return_counts=True)
        for wall in names[np.argsort(-counts)][:1]:
            beneath = guessed.get(int(wall))
            if beneath and beneath[0] == "wall" and abs(parts.greys[k] - parts.greys[wall]) < _SHADED:
                guessed[k] = beneath


def _one_wall(parts: Parts, light: Float, guessed: _Guessed) -> Parts:
    """Halves of a wall, parted by no more than a line, become one; so do strips of it between windows in a row."""
    slope = np.hypot(cv2.Sobel(light, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(light, cv2.CV_32F, 0, 1, scale=0.125))
    slope = blur(slope, parts.unit).astype(f32)
    ids, areas = parts.ids.copy(), parts.areas.copy()
    for _ in range(_ROUNDS):
        names, length, steep = borders(ids, slope)
        now = np.arange(parts.count)
        for (i, j), long, step in zip(names, length, steep, strict=True):
            if i < 0 or j < 0 or step > _ONE_WALL:
                continue
            large, small = sorted((int(now[i]), int(now[j])), key=lambda k: -areas[k])
            one, other = guessed.get(large), guessed.get(small)
            if large == small or one is None or one[0] != "wall":
                continue
            off = abs(parts.greys[i] - parts.greys[j])
            halves = other is not None and other[0] == "wall" and one[1] @ other[1] > 0.99 and off < _SHADED
            strip = other is None and areas[small] < _STRIP * ids.size and off < _SAME / 2
            if strip or (halves and long >= 14 * parts.unit):
                ids[ids == small] = large
                areas[large] += areas[small]
                now[now == small] = large
                guessed.pop(small, None)
        if (now == np.arange(parts.count)).all():
            break
    return replace(parts, ids=ids, areas=np.bincount(ids[ids >= 0], minlength=parts.count))


def _between(ids: Int, upper: AnyArray, lower: AnyArray) -> tuple[AnyArray, float]:
    """Pixels (n,) of areas between one area and another below it, and the share of their common columns that have any."""
    columns = np.flatnonzero(upper.any(0) & lower.any(0))
    rows = np.arange(len(ids))[:, None]
    begins = len(ids) - 1 - upper[::-1, columns].argmax(0)
    ends = lower[:, columns].argmax(0)
    gap = (rows > begins) & (rows < ends)
    return ids[:, columns][gap], float((gap.sum(0) > 2).mean()) if len(columns) else 0.0


def _whole_walls(parts: Parts, guessed: _Guessed, view: Perspective) -> Parts:
    """Strips of one wall, parted by rows of nearly touching windows, become one again."""
    ids, areas = parts.ids.copy(), parts.areas.copy()
    walls = [k for k, (kind, _, _) in guessed.items() if kind == "wall" and (ids == k).any()]
    spans = {}
    for k in walls:
        ys, xs = np.nonzero(ids == k)
        a, b = WallPlane(guessed[k][1], guessed[k][2], view).at(xs + 0.5, ys + 0.5)
        spans[k] = (*np.percentile(a, (2, 98)), float(np.median(b)))
    for i, j in combinations(sorted(walls, key=lambda k: -spans[k][2]), 2):
        if i not in guessed or j not in guessed or abs(parts.greys[i] - parts.greys[j]) > _SAME:
            continue
        (low, high, _), (other_low, other_high, _) = spans[i], spans[j]
        common = min(high, other_high) - max(low, other_low)
        if guessed[i][1] @ guessed[j][1] < 0.99 or common < _COMMON * min(high - low, other_high - other_low):
            continue
        between, share = _between(ids, ids == i, ids == j)
        let_in = (between >= 0) & (areas[between] < _LET_IN * ids.size) & ~np.isin(between, [k for k, g in guessed.items() if g[0] in ("roof", "flat")])  # fmt: skip
        if share < _ROW_OF or not len(between) or let_in.mean() < _COMMON:
            continue
        ids[ids == i] = j
        areas[j] += areas[i]
        spans[j] = min(low, other_low), max(high, other_high), spans[j][2]
        guessed.pop(i)
    return replace(parts, ids=ids, areas=np.bincount(ids[ids >= 0], minlength=parts.count))


def understand_building(light: Float) -> Built:
    """Faces and openings of an untextured building (h, w) lightness 0..1. About 1 s at 512 px; once a source."""
    light = np.ascontiguousarray(light, dtype=f32)
    parts = parts_of(light)
    view = perspective_of(edges_of(light, parts), light.shape[0], light.shape[1], meeting_row(parts.ids))
    if view is not None:
        parts = parts_of(light, faint_joins(light, view, parts.unit), parts)
        parts = with_bays(_with_far_ground(parts, view), light)
    size = parts.ids.size
    large = [k for k in range(parts.count) if parts.areas[k] > _FACE * size and (parts.ids == k).any()]
    guessed = {} if view is None else {k: _face(parts.ids == k, view, parts.unit) for k in large}
    if view is not None:
        _gables(parts, guessed)
        parts = _whole_walls(_one_wall(parts, light, guessed), guessed, view)
    owner = parts.ids.copy()
    openings: list[Opening] = []
    if view is not None:
        walls = {k: (normal, along) for k, (kind, normal, along) in guessed.items() if kind in ("wall", "loose")}
        openings = find_openings(parts, walls, view, light)
        for opening in openings:
            owner[np.isin(parts.ids, opening.parts)] = opening.face
            for k in opening.parts:
                guessed.pop(k, None)
    distances = {} if view is None else _distances(guessed, owner, view)
    faces = {
        k: Face(kind if k in distances else "loose", n.astype(f32), along.astype(f32), distances.get(k, 0.0))
        for k, (kind, n, along) in guessed.items()
    }
    return Built(parts, view, faces, openings, owner)


def built_of(original: Original, cache: SharedCache) -> Built:
    """The building understood, once a source."""

    def known() -> Built:
        return understand_building(np.ascontiguousarray(original.lab[..., 0]))

    return known() if original.key is None else cache.get(("built", original.key), known)
