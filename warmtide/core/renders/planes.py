"""The planes of a building: which areas are walls, roofs and flats, what is let into them, and how each one faces.

Sources
-------
1. A. Criminisi, I. Reid, A. Zisserman, "Single view metrology", 2000 (planes from two directions).
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ..arrays import AnyArray, Float, Int, f32
from .parts import GROUND, Parts, parts_of
from .perspective import Perspective, edges_of, perspective_of

_UP = np.array([0.0, 1.0, 0.0])
_TURN = math.radians(4.0)
# Smaller than this share of the picture nothing is a face of its own.
_FACE = 0.006
_WINDOW_LEAST, _WINDOW_MOST = 0.00025, 0.06
_AROUND = 0.72
_SURE = 0.62


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
class Opening:
    """A window or door let into a wall: kind, face, area number, corners (4, 2) px from upper left, clockwise."""

    kind: str
    face: int
    part: int
    corners: Float


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


def _polygon(mask: AnyArray, unit: float) -> AnyArray:
    """Corners (n, 2) of a mask's outline."""
    lines, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not lines:
        return np.zeros((0, 2))
    line = max(lines, key=cv2.contourArea)
    return np.asarray(cv2.approxPolyDP(line, max(2.2 * unit, 1.6), True)[:, 0].astype(float))


def _off(a: AnyArray, b: AnyArray, x: float, y: float) -> float:
    """Angle between the line through two points and the direction from its middle to a third."""
    middle = (a + b) / 2
    own, toward = math.atan2(b[1] - a[1], b[0] - a[0]), math.atan2(y - middle[1], x - middle[0])
    return abs((own - toward + math.pi / 2) % math.pi - math.pi / 2)


def _runs(corners: AnyArray, view: Perspective, unit: float) -> tuple[dict[str, float], list[tuple[float, AnyArray]]]:
    """Length of an outline that is upright, runs the first or second way, or neither; and what runs neither way."""
    total = {"up": 0.0, "first": 0.0, "second": 0.0, "other": 0.0}
    slopes = []
    for a, b in zip(corners, np.roll(corners, -1, 0), strict=True):
        long = float(np.hypot(*(b - a)))
        if long < 6 * unit:
            continue
        slack = _TURN + 1.2 / long
        lean = abs(abs(math.atan2(b[1] - a[1], b[0] - a[0])) - math.pi / 2)
        off = {
            "up": lean,
            "first": _off(a, b, view.first, view.horizon),
            "second": _off(a, b, view.second, view.horizon),
        }
        kind = min(off, key=lambda k: off[k])
        if off[kind] < slack:
            total[kind] += long
        else:
            total["other"] += long
            slopes.append((long, np.stack([a, b])))
    return total, sorted(slopes, key=lambda s: -s[0])


def _ray(point: AnyArray, view: Perspective) -> AnyArray:
    return np.array([(point[0] - view.middle) / view.focal, -(point[1] - view.horizon) / view.focal, 1.0])


def _toward_eye(normal: AnyArray, at: AnyArray, view: Perspective) -> AnyArray:
    normal = normal / max(float(np.linalg.norm(normal)), 1e-9)
    return -normal if normal @ _ray(at, view) > 0 else normal


def _sloped(
    slopes: list[tuple[float, AnyArray]], ridge: AnyArray, middle: AnyArray, view: Perspective
) -> AnyArray | None:
    """Normal of a roof whose ridge runs one way, from the longest line that goes up it; square to the gable."""
    for _, ends in slopes:
        through = np.cross(_ray(ends[0], view), _ray(ends[1], view))
        slope = np.cross(through, ridge)
        if np.linalg.norm(slope) < 1e-9:
            continue
        normal = _toward_eye(np.cross(ridge, slope), middle, view)
        if abs(normal[1]) > 0.2:
            return normal
    return None


def _face(mask: AnyArray, view: Perspective, unit: float) -> tuple[str, AnyArray, AnyArray]:
    """Kind, normal and level direction of an area."""
    corners = _polygon(mask, unit)
    if len(corners) < 3:
        return "loose", np.array([0, 0, -1.0]), np.array([1.0, 0, 0])
    runs, slopes = _runs(corners, view, unit)
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


def _surrounding(ids: Int, k: int, mask: AnyArray, box: tuple[int, int, int, int]) -> tuple[int, float]:
    """The area that most of what lies around an area belongs to, and how much."""
    x, y, wide, tall = box
    view = np.s_[max(y - 4, 0) : y + tall + 4, max(x - 4, 0) : x + wide + 4]
    mine = mask[view]
    rim = (cv2.dilate(mine.astype(np.uint8), np.ones((7, 7), np.uint8)) > 0) & ~mine
    names, counts = np.unique(ids[view][rim], return_counts=True)
    if not len(names):
        return k, 0.0
    return int(names[counts.argmax()]), float(counts.max() / counts.sum())


def _corners_of(mask: AnyArray) -> Float:
    """The quad around an opening, from the upper left, clockwise."""
    ys, xs = np.nonzero(mask)
    points = np.stack([xs, ys], 1).astype(float)
    picks = [points @ np.array(d) for d in ((1, 1), (-1, 1), (-1, -1), (1, -1))]
    found = np.array([points[p.argmin()] for p in picks])
    grown = found + np.array([(0, 0), (1, 0), (1, 1), (0, 1)])
    return grown.astype(f32)


def _distances(faces: dict[int, tuple[str, AnyArray, AnyArray]], owner: Int, view: Perspective) -> dict[int, float]:
    """Distance of every plane from the eye, in eye heights: walls from their foot, the rest from what they touch."""
    found: dict[int, float] = {}
    for k, (kind, normal, _) in faces.items():
        if kind in ("wall", "loose"):
            ys, xs = np.nonzero(owner == k)
            low = int(ys.argmax())
            ray = _ray(np.array([xs[low], ys[low] + 1.0]), view)
            if ray[1] < -1e-3:
                found[k] = float(normal @ (ray / -ray[1]))
    for _ in range(3):
        for k, (_, normal, _) in faces.items():
            if k in found:
                continue
            mine = owner == k
            rim = (cv2.dilate(mine.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0) & ~mine
            for other in np.unique(owner[rim]):
                if int(other) in found:
                    ys, xs = np.nonzero(rim & (owner == other))
                    ray = _ray(np.array([xs.mean(), ys.mean()]), view)
                    reach = found[int(other)] / min(float(faces[int(other)][1] @ ray), -1e-4)
                    found[k] = float(normal @ (ray * reach))
                    break
    return found


def understand_building(light: Float) -> Built:
    """Faces and openings of an untextured building (h, w) lightness 0..1. About .5 s at 512 px; once a source."""
    light = np.ascontiguousarray(light, dtype=f32)
    parts = parts_of(light)
    view = perspective_of(edges_of(light, parts), *light.shape)
    owner = parts.ids.copy()
    size = parts.ids.size
    large = [k for k in range(parts.count) if parts.areas[k] > _FACE * size]
    guessed = {} if view is None else {k: _face(parts.ids == k, view, parts.unit) for k in large}
    openings: list[Opening] = []
    if view is not None:
        for k in range(parts.count):
            share = parts.areas[k] / size
            if not _WINDOW_LEAST < share < _WINDOW_MOST:
                continue
            mask = parts.ids == k
            ys, xs = np.nonzero(mask)
            box = int(xs.min()), int(ys.min()), int(np.ptp(xs)) + 1, int(np.ptp(ys)) + 1
            wall, around = _surrounding(parts.ids, k, mask, box)
            below = parts.ids[min(box[1] + box[3] + 3, light.shape[0] - 1), int(xs.mean())]
            if (
                wall not in guessed
                or guessed[wall][0] not in ("wall", "loose")
                or around < (0.5 if below == GROUND else _AROUND)
            ):
                continue
            runs, _ = _runs(_polygon(mask, parts.unit), view, parts.unit)
            if runs["other"] > 0.35 * max(sum(runs.values()), 1e-6) or parts.areas[k] < 0.6 * box[2] * box[3] * 0.8:
                continue
            openings.append(Opening("door" if below == GROUND else "window", wall, k, _corners_of(mask)))
            owner[mask] = wall
            guessed.pop(k, None)
    distances = {} if view is None else _distances(guessed, owner, view)
    faces = {
        k: Face(kind if k in distances else "loose", n.astype(f32), along.astype(f32), distances.get(k, 0.0))
        for k, (kind, n, along) in guessed.items()
    }
    return Built(parts, view, faces, openings, owner)
