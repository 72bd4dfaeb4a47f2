"""Flat colours as areas that meet without gaps: every line between two is one curve, and both have it."""

from collections import defaultdict
from collections.abc import Callable

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Int, f32
from ...maths.colour import bytes_to_lab, lab_to_bytes, to_rgb
from ...understanding.flat.art import coloured_areas
from .between import moved_between
from .curves import Curve, smooth_curve
from .drawing import Drawing, Group, Shape
from .network import AROUND, Border, borders_of

MOST_COLOURS = 32
# How far a curve may run from its line, in points of the fine grid, and how often that is calmed first.
_WITHIN, _CALM = 0.6, 4


Moved = Callable[[Border], AnyArray]


def middles_of(border: Border) -> AnyArray:
    """The middles (n, 2) of a line's cracks."""
    return np.asarray((border.corners[1:] + border.corners[:-1]) / 2)


def _on_rim(border: Border) -> bool:
    return AROUND in (border.left, border.right)


def _curve(border: Border, middles: AnyArray) -> Curve:
    if _on_rim(border):
        # The picture's own edge is straight, its corners are corners.
        corners = border.corners.astype(float)
        turns = [0, *(np.flatnonzero((np.diff(corners, 2, axis=0) != 0).any(1)) + 1), len(corners) - 1]
        ends = corners[turns]
        pieces = np.stack([ends[:-1], ends[:-1] * 2 / 3 + ends[1:] / 3, ends[:-1] / 3 + ends[1:] * 2 / 3, ends[1:]], 1)
        return Curve(pieces, np.ones(len(pieces), bool))
    corners = border.corners.astype(float)
    points = middles if border.closed else np.vstack([corners[:1], middles, corners[-1:]])
    return smooth_curve(points, border.closed, _WITHIN, _CALM)


def _rings(sides: list[tuple[Border, Curve]], area: int) -> list[tuple[Curve, ...]]:
    """Closed rings of the lines around an area."""
    rings: list[tuple[Curve, ...]] = []
    leaving: dict[tuple[int, int], list[tuple[tuple[int, int], Curve]]] = defaultdict(list)
    for border, curve in sides:
        if border.closed:
            rings.append((curve,))
            continue
        begin, end = (
            (int(border.corners[0, 0]), int(border.corners[0, 1])),
            (int(border.corners[-1, 0]), int(border.corners[-1, 1])),
        )
        if border.left == area:
            leaving[begin].append((end, curve))
        else:
            leaving[end].append((begin, curve.turned()))
    while leaving:
        begin = next(iter(leaving))
        ring, at = [], begin
        while True:
            ways = leaving[at]
            to, curve = ways.pop()
            if not ways:
                del leaving[at]
            ring.append(curve)
            at = to
            if at == begin or at not in leaving:
                break
        rings.append(tuple(ring))
    return rings


def lines_of(labels: Int, scale: float, moved: Moved = middles_of) -> list[tuple[Border, Curve]]:
    """Every line between areas of labels (h, w) as a curve, `scale` picture pixels a point.

    moved : gives the points of a line between two areas, one a crack.
    """
    found = []
    for border in borders_of(labels):
        curve = _curve(border, border.corners if _on_rim(border) else moved(border))
        found.append((border, Curve(curve.pieces * scale, curve.straight)))
    return found


def shapes_of(lines: list[tuple[Border, Curve]]) -> dict[int, Shape]:
    """Every area that lines run around as one shape; those of -1 are left out."""
    around: dict[int, list[tuple[Border, Curve]]] = defaultdict(list)
    for border, curve in lines:
        for side in (border.left, border.right):
            if side >= 0:
                around[side].append((border, curve))
    return {area: Shape(tuple(_rings(sides, area))) for area, sides in around.items()}


def _joints(lines: list[tuple[Border, Curve]], rank_of: list[int], groups: list[Group]) -> tuple[Group, ...]:
    """Lines under the areas where two meet, each in the colour of the one that lies lower: a program that draws both with soft edges
    would let what is behind them shine through.

    rank_of : place of an area's group among `groups`.
    """
    own: dict[int, list[tuple[Curve, ...]]] = defaultdict(list)
    for border, curve in lines:
        if border.left >= 0 and border.right >= 0:
            own[min(rank_of[border.left], rank_of[border.right])].append((curve,))
    return tuple(
        Group(f"joints-{rank + 1}", groups[rank].colour, (Shape(tuple(rings), 1.0),))
        for rank, rings in sorted(own.items())
    )


def _connected(labels: Int, count: int) -> tuple[Int, list[int]]:
    """Connected patches of one label numbered, and the label of each."""
    parts = np.full(labels.shape, -1, np.int32)
    label_of: list[int] = []
    for k in range(count):
        found, ids = cv2.connectedComponents((labels == k).astype(np.uint8), connectivity=4)
        parts = np.where(ids > 0, ids + (len(label_of) - 1), parts).astype(np.int32)
        label_of += [k] * (found - 1)
    return parts, label_of


def traced_areas(rgb: Byte, colours: int | None = None, title: str = "") -> Drawing:
    """Flat art, or any picture in few colours, as areas.

    Parameters
    ----------
    rgb : (h, w, 3) uint8 sRGB. colours : how many at most, 2 to 32; None for as many as it has.

    Returns
    -------
    One group a colour, the one that covers most first; every connected patch is a shape. About 1 s at 1024 px.
    """
    lab = bytes_to_lab(rgb)
    labels, found, factor = coloured_areas(lab, colours)
    parts, label_of = _connected(labels, len(found))
    encoded, table = to_rgb(lab).astype(f32), to_rgb(found[None])[0].astype(f32)[label_of]
    lines = lines_of(parts, 1 / factor, lambda border: moved_between(border, encoded, table, factor))
    shapes = shapes_of(lines)
    seen = lab_to_bytes(found[None].astype(np.float32))[0]
    size = np.bincount(labels.ravel(), minlength=len(found))
    groups: list[Group] = []
    rank = np.zeros(len(found), int)
    for k in np.argsort(-size):
        rank[k] = len(groups)
        own = tuple(shapes[part] for part, label in enumerate(label_of) if label == k)
        if own:
            name = "#{:02x}{:02x}{:02x}".format(*seen[k])
            groups.append(Group(f"colour-{len(groups) + 1}", name, own))
    joints = _joints(lines, [int(rank[label]) for label in label_of], groups)
    return Drawing(rgb.shape[1], rgb.shape[0], tuple(groups), title, joints)
