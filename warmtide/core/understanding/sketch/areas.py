"""Areas of a sketch: what a drawn line encloses, though it has gaps.

Sources
-------
1. S.-H. Zhang et al., "Vectorizing cartoon animations", 2009 (a ball that gaps do not let through).
"""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, Mask, f32
from ...maths.blur import blur
from ...maths.outline import distance_in
from .strokes import Strokes

_BALLS = (9.0, 6.0, 4.0, 2.5)
_LEAST = 30
_BORDER_DRAWN, _SMALL_DRAWN, _OUTER_DRAWN = 0.45, 0.62, 0.25
_SMALL, _OBJECT = 0.004, 0.004


def trapped(walls: Mask, unit: float) -> Int:
    """Areas that balls of falling size can fill without passing a wall or a gap narrower than they are, from 1; 0 where none is."""
    labels = np.zeros(walls.shape, np.int32)
    count = 0
    for ball in _BALLS:
        free = ~walls & (labels == 0)
        depth = cv2.distanceTransform(free.astype(np.uint8), cv2.DIST_L2, 5)
        found, cores, stats, _ = cv2.connectedComponentsWithStats(
            (depth > ball * unit).astype(np.uint8), connectivity=8
        )
        reach = int(ball * unit) + 3
        for k in range(1, found):
            x, y, wide, tall, area = stats[k]
            if area < _LEAST * unit * unit:
                continue
            view = np.s_[max(y - reach, 0) : y + tall + reach, max(x - reach, 0) : x + wide + reach]
            body = cv2.distanceTransform((cores[view] != k).astype(np.uint8), cv2.DIST_L2, 5) <= ball * unit
            body &= free[view] & (labels[view] == 0)
            rim = (cv2.dilate(body.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0) & ~body
            beside = np.bincount(labels[view][rim], minlength=count + 1).astype(float)
            beside[0] = 0
            if beside.sum() > 0.33 * rim.sum():
                # A smaller ball's area that leans on a larger one over much of its border is a corner of it.
                labels[view][body] = int(beside.argmax())
            else:
                count += 1
                labels[view][body] = count
    return labels


def _to_their_lines(labels: Int) -> Int:
    """Areas that reach to the middle of their lines."""
    from scipy import ndimage

    nearest = ndimage.distance_transform_edt(labels == 0, return_distances=False, return_indices=True)
    return labels[tuple(nearest)]


def _root(parent: AnyArray, k: int) -> int:
    while parent[k] != k:
        k = int(parent[k])
    return k


def _joined(labels: Int, drawn: Mask) -> Int:
    """Neighbours whose common border is mostly not on a drawn line become one."""
    edge = set(np.unique(np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])).tolist())
    for _ in range(3):
        count = int(labels.max()) + 1
        pairs = []
        for a, b, on in (
            (labels[:, :-1], labels[:, 1:], drawn[:, :-1] | drawn[:, 1:]),
            (labels[:-1], labels[1:], drawn[:-1] | drawn[1:]),
        ):
            apart = a != b
            pairs.append(np.stack([np.minimum(a, b)[apart], np.maximum(a, b)[apart], on[apart]], 1))
        table = np.concatenate(pairs)
        if not len(table):
            break
        names, index = np.unique(table[:, 0].astype(np.int64) * count + table[:, 1], return_inverse=True)
        length = np.bincount(index)
        share = np.bincount(index, table[:, 2]) / length
        area = np.bincount(labels.ravel(), minlength=count)
        parent = np.arange(count)
        for q in np.argsort(share):
            i, j = int(names[q] // count), int(names[q] % count)
            small = min(area[i], area[j]) < _SMALL * labels.size
            most = _SMALL_DRAWN if small else _BORDER_DRAWN
            if (i in edge) != (j in edge):
                most = _OUTER_DRAWN
            if share[q] < most and length[q] > 3:
                i, j = _root(parent, i), _root(parent, j)
                parent[max(i, j)] = min(i, j)
        roots = np.array([_root(parent, k) for k in range(count)])
        edge = {int(roots[k]) for k in edge}
        labels = roots[labels].astype(np.int32)
    return labels


def areas_of(strokes: Strokes) -> Int:
    """Areas (h, w) of a sketch, 0 for the paper around; borders run along the lines. About .6 s at 512 px."""
    unit = strokes.unit
    labels = _to_their_lines(trapped(strokes.walls, unit))
    drawn = cv2.dilate((strokes.walls & (strokes.line > 0.22)).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    labels = _joined(labels, drawn)
    ring = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    outside = np.isin(labels, np.unique(ring))
    _, bodies, stats, _ = cv2.connectedComponentsWithStats((~outside).astype(np.uint8), connectivity=8)
    large = stats[:, cv2.CC_STAT_AREA] > _OBJECT * labels.size
    large[0] = False
    inside = large[bodies]
    # Smooth borders: every pixel goes to the area that is most around it.
    best = blur((~inside).astype(f32), 1.6 * unit)
    out = np.zeros_like(labels)
    number = 0
    for k in np.unique(labels[inside]):
        mine = (labels == k) & inside
        if mine.sum() < 50 * unit * unit:
            continue
        number += 1
        share = blur(mine.astype(f32), 1.6 * unit)
        out[share > best] = number
        best = np.maximum(best, share)
    return out


def border_of(areas: Int) -> Mask:
    """Pixels beside another area."""
    found = np.zeros(areas.shape, bool)
    found[:, 1:] |= areas[:, 1:] != areas[:, :-1]
    found[1:] |= areas[1:] != areas[:-1]
    return found


def to_border(areas: Int) -> Float:
    """Distance to the nearest border between areas."""
    return distance_in(~border_of(areas))
