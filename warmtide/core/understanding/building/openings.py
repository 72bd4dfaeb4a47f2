"""Windows and doors: panes let into a wall, joined across their glazing bars, as rectangles in the wall's own plane."""

from dataclasses import dataclass
from itertools import combinations, pairwise

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from .frames import filled, frames_of, snapped
from .outlines import edge_runs, polygon
from .parts import GROUND, Parts
from .perspective import Perspective

# Share of the picture of one pane, and of a whole window or door.
_PANE_LEAST, _PANE_MOST = 0.00012, 0.06
_WINDOW_LEAST = 0.00025
# How much of what lies around a pane is its wall or another pane; around a door, which stands on the ground.
_AROUND, _AROUND_DOOR = 0.72, 0.5
# What is thinner than this is a sill or a jamb, px of a 512th.
_THIN = 2.0
# Panes this far apart, in shares of their wall's height, are one window: a glazing bar lies between.
_BAR = 0.022
# A pane fills this share of its box in the wall's plane; what begins so near the foot, in shares of its own height, is a door.
_FILLED, _FOOT = 0.72, 0.2
# Windows that share this much of their height are a row, and one of this width beside the others is half seen.
_ROW, _HALF = 0.6, 0.8

# A window at a wall's corner: how much of their height it shares with the others of its row, how much wider and of
# another grey it may be.
_LEVEL, _AS_WIDE, _AS_GREY = 0.85, 0.35, 0.04
# The end of a wall: so near the picture's edge or the wall's, px, so narrow, and as grey as a wall.
_CUT, _SLIVER, _AS_WALL = 3.0, 0.5, 0.02
# What faces otherwise than its wall is no opening of it: cosine of the angle between them.
_SAME_WALL = 0.7
# How far a frame's side may move to where lightness steps, px of a 512th.
_MOVES = 4.0
# Sides of a wall seen from straight ahead, px, between which frames are looked for.
_FRONT = (24, 2400)

_Box = list[float]


@dataclass(frozen=True)
class Opening:
    """A window or door let into a wall: kind, face, numbers of its areas, corners (4, 2) px from upper left, clockwise."""

    kind: str
    face: int
    parts: tuple[int, ...]
    corners: Float


@dataclass(frozen=True)
class WallPlane:
    """Level and upward coordinates on a wall at distance 1, to and from pixels."""

    normal: AnyArray
    along: AnyArray
    view: Perspective

    def at(self, x: AnyArray, y: AnyArray) -> tuple[AnyArray, AnyArray]:
        view = self.view
        rays = np.stack([(x - view.middle) / view.focal, -(y - view.horizon) / view.focal, np.ones_like(x, float)], -1)
        points = rays / np.minimum(rays @ self.normal, -1e-3)[..., None] * -1.0
        return points @ self.along, points[..., 1]

    def seen(self, box: list[float]) -> float:
        """Pixels that a box covers."""
        corners = [
            self.pixel(a, b) for a, b in ((box[0], box[2]), (box[1], box[2]), (box[1], box[3]), (box[0], box[3]))
        ]
        return float(cv2.contourArea(np.array(corners, f32)))

    def pixel(self, a: float, b: float) -> tuple[float, float]:
        """Where a point of the plane is seen."""
        view = self.view
        point = a * self.along - self.normal
        point = point + (b - point[1]) * np.array([0.0, 1.0, 0.0])
        z = max(float(point[2]), 1e-6)
        return float(point[0] / z * view.focal + view.middle), float(-point[1] / z * view.focal + view.horizon)


def _panes(parts: Parts, walls: dict[int, tuple[AnyArray, AnyArray]], view: Perspective) -> dict[int, tuple[int, bool]]:
    """Wall of every pane, and whether it stands on the ground."""
    small: dict[int, tuple[AnyArray, tuple[int, int, int, int]]] = {}
    for k in range(parts.count):
        if not _PANE_LEAST < parts.areas[k] / parts.ids.size < _PANE_MOST:
            continue
        ys, xs = np.nonzero(parts.ids == k)
        if not len(ys):
            continue
        box = int(xs.min()), int(ys.min()), int(np.ptp(xs)) + 1, int(np.ptp(ys)) + 1
        mask = (parts.ids[box[1] : box[1] + box[3], box[0] : box[0] + box[2]] == k).astype(np.uint8)
        thick = float(cv2.distanceTransform(np.pad(mask, 1), cv2.DIST_L2, 3).max())
        if thick < _THIN * parts.unit or parts.areas[k] < 0.48 * box[2] * box[3]:
            continue
        total, _ = edge_runs(polygon(parts.ids == k, parts.unit), view, parts.unit)
        if total["other"] <= 0.35 * max(sum(total.values()), 1e-6):
            small[k] = mask, box
    found: dict[int, tuple[int, bool]] = {}
    for k, (_, (x, y, wide, tall)) in small.items():
        view_ = np.s_[max(y - 4, 0) : y + tall + 4, max(x - 4, 0) : x + wide + 4]
        mine = parts.ids[view_] == k
        rim = (cv2.dilate(mine.astype(np.uint8), np.ones((7, 7), np.uint8)) > 0) & ~mine
        names, counts = np.unique(parts.ids[view_][rim], return_counts=True)
        around = dict(zip((int(n) for n in names), (int(c) for c in counts), strict=True))
        walled = {n: c for n, c in around.items() if n in walls and parts.areas[n] > parts.areas[k]}
        if not walled:
            continue
        wall = max(walled, key=lambda n: walled[n])
        shared = sum(c for n, c in around.items() if n == wall or (n in small and n != k))
        below = int(parts.ids[min(y + tall + 3, parts.ids.shape[0] - 1), x + wide // 2])
        if k in walls and abs(float(walls[k][0] @ walls[wall][0])) < _SAME_WALL:
            # The wall around the corner.
            continue
        if walled[wall] > 0.3 * rim.sum() and shared >= (_AROUND_DOOR if below == GROUND else _AROUND) * rim.sum():
            found[k] = wall, below == GROUND
    return {k: v for k, v in found.items() if v[0] not in found}


def _near(a: _Box, b: _Box, slack: float) -> bool:
    return a[0] < b[1] + slack and b[0] < a[1] + slack and a[2] < b[3] + slack and b[2] < a[3] + slack


def _joined(boxes: list[tuple[_Box, list[int]]], slack: float) -> list[tuple[_Box, list[int]]]:
    """Boxes that nearly touch as one."""
    changed = True
    while changed:
        changed = False
        for i, j in combinations(range(len(boxes)), 2):
            (a, mine), (b, other) = boxes[i], boxes[j]
            if _near(a, b, slack):
                whole = [min(a[0], b[0]), max(a[1], b[1]), min(a[2], b[2]), max(a[3], b[3])]
                boxes = [box for k, box in enumerate(boxes) if k not in (i, j)] + [(whole, mine + other)]
                changed = True
                break
    return boxes


def _in_rows(boxes: list[_Box]) -> None:
    """Windows of one row get one sill and one lintel, and a half-seen one the width of the others."""
    rows: list[list[_Box]] = []
    for box in sorted(boxes, key=lambda q: q[2]):
        for row in rows:
            other = row[0]
            overlap = min(box[3], other[3]) - max(box[2], other[2])
            if overlap > _ROW * max(box[3] - box[2], other[3] - other[2]):
                row.append(box)
                break
        else:
            rows.append([box])
    for row in rows:
        if len(row) < 3:
            continue
        low, high = (float(np.median([box[i] for box in row])) for i in (2, 3))
        wide = float(np.median([box[1] - box[0] for box in row]))
        for box in row:
            box[2], box[3] = low, high
            lacking = wide - (box[1] - box[0])
            if box[1] - box[0] >= _HALF * wide:
                continue
            # It grows to the side where its spacing in the row lacks more.
            others = sorted((q[0] + q[1]) / 2 for q in row if q is not box)
            gaps = [b - a for a, b in pairwise(others)]
            pitch = float(np.median(gaps)) if gaps else 0.0
            near = min(others, key=lambda m: abs(m - (box[0] + box[1]) / 2))
            wanted = near + pitch * np.sign((box[0] + box[1]) / 2 - near)
            if wanted < (box[0] + box[1]) / 2:
                box[0] -= lacking
            else:
                box[1] += lacking


def _framed(parts: Parts, wall: AnyArray, plane: WallPlane, light: Float) -> list[_Box]:
    """Boxes of the frames on a wall (h, w), in its plane."""
    ys, xs = np.nonzero(wall)
    a, b = plane.at(xs + 0.5, ys + 0.5)
    left, right = (float(v) for v in np.percentile(a, (0.2, 99.8)))
    low, high = float(b.min()), float(b.max())
    tall = int(np.ptp(ys)) + 1
    scale = tall / max(float(high - low), 1e-6)
    wide = int((right - left) * scale) + 1
    if tall < _FRONT[0] or not _FRONT[0] < wide < _FRONT[1]:
        return []
    seen = [plane.pixel(x, y) for x, y in ((left, high), (right, high), (right, low), (left, low))]
    flat = np.array([(0, 0), (wide, 0), (wide, tall), (0, tall)], f32)
    turn = cv2.getPerspectiveTransform(flat, np.array(seen, f32) - f32(0.5))

    def front(mask: AnyArray) -> AnyArray:
        flags = cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP
        return cv2.warpPerspective(mask.astype(np.uint8), turn, (wide, tall), flags=flags)

    least = _WINDOW_LEAST * parts.ids.size * (wide * tall) / max(int(np.count_nonzero(wall)), 1)
    ahead = cv2.warpPerspective(light, turn, (wide, tall), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP)
    # A side may move by a few pixels of the picture, which are more of them here where the wall is seen from the side.
    stretch = wide / max(float(np.ptp(xs)), 1.0)
    boxes = [
        snapped(ahead, box, (_MOVES * parts.unit * stretch, _MOVES * parts.unit))
        for box in frames_of(front(parts.edges), filled(front(wall)))
        if box[2] * box[3] > min(least, 4 * _WINDOW_LEAST * parts.ids.size)
    ]
    return [
        [left + x / scale, left + (x + w) / scale, high - (y + h) / scale, high - y / scale] for x, y, w, h in boxes
    ]


def _unframed(
    parts: Parts, panes: list[int], plane: WallPlane, framed: list[_Box], slack: float
) -> list[tuple[_Box, list[int]]]:
    """Boxes of the panes that lie in no frame, joined across their bars, and the numbers of their areas."""
    boxes: list[tuple[_Box, list[int]]] = []
    for k in panes:
        ys, xs = np.nonzero(parts.ids == k)
        a, b = plane.at(xs + 0.5, ys + 0.5)
        box = [*np.percentile(a, (2, 98)), *np.percentile(b, (2, 98))]
        rim = np.stack(plane.at(*polygon(parts.ids == k, parts.unit).T), 1).astype(f32)
        # A shadow on the wall is no rectangle.
        rectangle = cv2.contourArea(rim) > _FILLED * (box[1] - box[0]) * (box[3] - box[2])
        if rectangle and not any(_near(box, other, 0) for other in framed):
            boxes.append((box, [k]))
    return _joined(boxes, slack)


def _at_corners(parts: Parts, wall: AnyArray, plane: WallPlane, windows: list[_Box], light: Float) -> list[_Box]:
    """Boxes of windows at the corners of a wall: beside others, as tall, as wide and as grey, though no wall is around them."""
    found: list[_Box] = []
    if len(windows) < 2:
        return found
    beside = cv2.dilate(wall.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0

    def grey(box: _Box) -> float:
        x, y = plane.pixel((box[0] + box[1]) / 2, (box[2] + box[3]) / 2)
        height, width = light.shape
        return float(light[min(max(int(y), 0), height - 1), min(max(int(x), 0), width - 1)])

    for k in np.unique(parts.ids[beside & ~wall]):
        if k < 0 or not _PANE_LEAST < parts.areas[k] / parts.ids.size < _PANE_MOST:
            continue
        ys, xs = np.nonzero(parts.ids == k)
        a, b = plane.at(xs + 0.5, ys + 0.5)
        box = [float(v) for v in (*np.percentile(a, (2, 98)), *np.percentile(b, (2, 98)))]
        if any(_near(box, other, 0) for other in windows):
            continue
        tall, wide = box[3] - box[2], box[1] - box[0]
        alike = [
            q for q in windows
            if min(box[3], q[3]) - max(box[2], q[2]) > _LEVEL * max(tall, q[3] - q[2])
            and abs(wide / max(q[1] - q[0], 1e-9) - 1) < _AS_WIDE and abs(grey(box) - grey(q)) < _AS_GREY
        ]  # fmt: skip
        near = any(_near(box, q, 0.5 * wide) for q in alike)
        if len(alike) > 1 and near and parts.areas[k] > _FILLED * plane.seen(box):
            found.append(box)
    return found


def _opening(parts: Parts, wall: int, plane: WallPlane, box: _Box, door: bool, on_ground: list[int]) -> Opening:
    # The two ways run either direction along the wall: the left one is where it is seen left.
    ends = sorted((box[0], box[1]), key=lambda a: plane.pixel(a, (box[2] + box[3]) / 2)[0])
    around = ((ends[0], box[3]), (ends[1], box[3]), (ends[1], box[2]), (ends[0], box[2]))
    corners = np.array([plane.pixel(a, b) for a, b in around], f32)
    mask = np.zeros(parts.ids.shape, np.uint8)
    cv2.fillPoly(mask, [np.round(corners).astype(np.int32)], 1)
    names, counts = np.unique(parts.ids[mask > 0], return_counts=True)
    inside = tuple(
        int(k) for k, n in zip(names, counts, strict=True) if k >= 0 and k != wall and n > 0.6 * parts.areas[k]
    )
    return Opening("door" if door or any(k in on_ground for k in inside) else "window", wall, inside, corners)


def _is_end(opening: Opening, parts: Parts, wall: AnyArray, walls: list[int], light: Float) -> bool:
    """Whether what looks like an opening is the end of a wall: a sliver that the picture's edge cuts off, or a strip at
    the wall's own end as grey as a wall."""
    left, right = float(opening.corners[:, 0].min()), float(opening.corners[:, 0].max())
    tall = float(np.ptp(opening.corners[:, 1]))
    width = parts.ids.shape[1]
    if (left < _CUT or right > width - _CUT) and right - left < _SLIVER * tall:
        return True
    columns = np.flatnonzero(wall.any(0))
    slack = _CUT * max(parts.unit, 1.0)
    if left > columns[0] + slack and right < columns[-1] - slack:
        return False
    x, y = (int(v) for v in opening.corners.mean(0))
    x, y = min(max(x, 0), width - 1), min(max(y, 0), len(light) - 1)
    own = float(np.median(light[max(y - 1, 0) : y + 2, max(x - 1, 0) : x + 2]))
    return any(abs(own - parts.greys[k]) < _AS_WALL for k in walls)


def find_openings(
    parts: Parts, walls: dict[int, tuple[AnyArray, AnyArray]], view: Perspective, light: Float
) -> list[Opening]:
    """Windows and doors of walls, given as normal and level direction by area number, in lightness (h, w). About .15 s at 512 px."""
    panes = _panes(parts, walls, view)
    found: list[Opening] = []
    for wall in sorted(walls):
        mask = parts.ids == wall
        if not mask.any():
            continue
        normal, along = (np.asarray(v, float) for v in walls[wall])
        plane = WallPlane(normal, along, view)
        ys, xs = np.nonzero(mask)
        foot, top = (float(v) for v in np.percentile(plane.at(xs + 0.5, ys + 0.5)[1], (2, 98)))
        slack = _BAR * (top - foot)
        boxes = _framed(parts, mask, plane, light)
        own = [[k for k, (w, ground) in panes.items() if w == wall and ground == door] for door in (False, True)]
        for box, numbers in _unframed(parts, own[0], plane, boxes, slack):
            if parts.areas[numbers].sum() > _WINDOW_LEAST * parts.ids.size:
                boxes.append(box)
        doors = [box for box, _ in _unframed(parts, own[1], plane, boxes, slack)]
        doors += [box for box in boxes if box[2] - foot < _FOOT * (box[3] - box[2])]
        windows = [box for box in boxes if box not in doors]
        windows += _at_corners(parts, mask, plane, windows, light)
        _in_rows(windows)
        own_windows = [_opening(parts, wall, plane, box, False, own[1]) for box in windows]
        found += [o for o in own_windows if not _is_end(o, parts, mask, sorted(walls), light)]
        found += [_opening(parts, wall, plane, box, True, own[1]) for box in doors]
    # What faces otherwise than its wall is a wall around the corner.
    return [
        o for o in found
        if all(k not in walls or abs(float(walls[k][0] @ walls[o.face][0])) >= _SAME_WALL for k in o.parts)
    ]  # fmt: skip
