"""Flat art taken apart: few colours, parts with exact outlines, holes, and how parts lie on each other.

The outline of a part is where a pixel's colour is half way between the two colours that meet there. That is where
the artist drew it, whatever softens the edge, so parts are found at a finer grid than the picture's own.
"""

from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, Mask, f32, summed
from ...maths.colour import to_rgb
from ...maths.jit import kernel
from ...maths.nearest import from_nearest
from ...maths.outline import borders, crossings, distance_in, exact_distance, followed
from ...maths.relief import swollen
from ..palette import CHANNELS, palette
from .stacking import levels_of

_MOST_COLOURS = 14
# Squared difference within which two colours of a palette are mixed: theirs are exact.
_EXACT = 1e-4
# So few pixels of a colour are an edge, not a part.
_STRAY = 3
# Colours closer than this are one, tints of paper and jpeg noise among them.
_ALIKE = 0.03
_FINE_UP_TO = 640
_NEAR = 3
# A patch of ground colour inside the art is a hole when one colour makes up this much of what surrounds it.
_SURROUNDED = 0.88
# Thinner than this, in pixels of the picture, nothing can be told from its blurred edge.
_HAIR = 1.3
# So near its outline, in pixels, the silhouette is corrected by the art's own transparency, so often.
_BESIDE, _CORRECTED = 1.5, 3


@dataclass
class FlatArt:
    """Flat art in its parts, on a grid `factor` times as fine as the picture's.

    Attributes
    ----------
    parts : (h, w) number of the part, -1 on the ground. colour_of : (n,) index into `colours` by part.
    colours : (k, 3) OKLab. ground : (3,) OKLab of what lies around. areas : (n,) pixels by part.
    boxes : (n, 4) x, y, width, height by part. crossing : (h, w) how far an outline is from the middle of the grid
    point beside it, 0..1. factor : grid points to a pixel. small : share of the art's outline that belongs to things
    too thin for the picture's size. alpha : the picture's own transparency at its size, where it has one.
    """

    parts: Int
    colour_of: Int
    colours: Float
    ground: Float
    areas: Int
    boxes: Int
    crossing: Float
    factor: float
    small: float = 0.0
    alpha: Float | None = None

    @property
    def shape(self) -> tuple[int, int]:
        return int(self.parts.shape[0]), int(self.parts.shape[1])

    @property
    def unit(self) -> float:
        """A thousandth of the short side, in grid points, so that a material is the same at every size."""
        return min(self.shape) / 1024

    @property
    def count(self) -> int:
        return len(self.areas)

    @cached_property
    def solid(self) -> Mask:
        """What is art and not ground."""
        return self.parts >= 0

    @cached_property
    def cover(self) -> Float:
        """The silhouette, 0..1, as much of each grid point as it covers."""
        found = np.clip(self.deep - self.away + f32(0.5), 0, 1).astype(f32)
        if self.alpha is None:
            return found
        # Beside an outline it covers of each pixel what the art's own transparency says; a line of few pixels is all outline.
        near = self.deep + self.away < _BESIDE * self.factor
        size, pixels = found.shape[::-1], self.alpha.shape[::-1]
        for _ in range(_CORRECTED):
            lacking = self.alpha - cv2.resize(found, pixels, interpolation=cv2.INTER_AREA)
            found += np.where(near, cv2.resize(lacking, size, interpolation=cv2.INTER_NEAREST), f32(0))
            np.clip(found, 0, 1, out=found)
        return found

    @cached_property
    def border(self) -> Mask:
        """Grid points beside another part or the ground."""
        return borders(self.parts)

    @cached_property
    def _outline(self) -> Float:
        """Distance to the silhouette's outline, on both sides of it."""
        return exact_distance(borders(np.where(self.solid, 0, -1).astype(np.int32)), self.crossing)

    @cached_property
    def deep(self) -> Float:
        """Distance to the ground, inside the art."""
        return np.where(self.solid, self._outline, f32(0)).astype(f32)

    @cached_property
    def away(self) -> Float:
        """Distance to the art, on the ground."""
        return np.where(self.solid, f32(0), self._outline).astype(f32)

    @cached_property
    def within(self) -> Float:
        """Distance to the border of a point's own part; 0 on the ground."""
        return np.where(self.solid, exact_distance(self.border, self.crossing), f32(0)).astype(f32)

    @cached_property
    def swelling(self) -> Float:
        """Height of the whole silhouette blown up."""
        return followed(swollen(self.solid), self.deep, distance_in(self.solid))

    @cached_property
    def pillows(self) -> Float:
        """Height of every part blown up on its own."""
        return followed(swollen(self.solid & ~self.border), self.within, distance_in(~self.border) + 1)

    @cached_property
    def levels(self) -> Int:
        """(n,) How high a part lies: 1 on the ground, one more for each part that it lies on."""
        return levels_of(self.parts, self.areas, self.within, self.unit)

    def by_part(self, values: AnyArray, outside: float = 0.0) -> Float:
        """A map from one value (n,) or colour (n, 3) a part; `outside` on the ground."""
        own = np.asarray(values, f32)
        table = np.concatenate([np.full((1, *own.shape[1:]), outside, f32), own])
        return np.asarray(table[self.parts + 1])


def _slope(lab: Float) -> Float:
    """Steepest change over two pixels, in OKLab with chroma weighed as the eye does."""
    wide = np.pad(lab * CHANNELS, ((1, 1), (1, 1), (0, 0)), mode="edge")
    across = summed(np.abs(wide[1:-1, 2:] - wide[1:-1, :-2]))
    down = summed(np.abs(wide[2:, 1:-1] - wide[:-2, 1:-1]))
    return np.maximum(across, down).astype(f32)


def _few(colours: Float, counts: AnyArray) -> Float:
    """Colours that hardly differ joined into their mean."""
    found, weights = [c.astype(np.float64) for c in colours], [float(n) for n in counts]
    while len(found) > 1:
        table = np.array(found) * CHANNELS
        apart = np.sqrt(((table[:, None] - table[None]) ** 2).sum(-1)) + 9 * np.eye(len(found))
        i, j = divmod(int(apart.argmin()), len(found))
        if apart[i, j] > _ALIKE and len(found) <= _MOST_COLOURS:
            break
        i, j = min(i, j), max(i, j)
        whole = weights[i] + weights[j]
        found[i] = (found[i] * weights[i] + found[j] * weights[j]) / max(whole, 1e-9)
        weights[i] = whole
        del found[j], weights[j]
    return np.array(found, f32)


@kernel
def _claim(picture, colour, weights, here, number, nearest, labels):  # type: ignore[no-untyped-def]
    """Give a number to every pixel that is nearer to its colour than to all before; nine farther off where it isn't `here`."""
    for y in range(picture.shape[0]):
        row, best, own, stands = picture[y], nearest[y], labels[y], here[y]
        for x in range(len(best)):
            a = (row[x, 0] - colour[0]) * weights[0]
            b = (row[x, 1] - colour[1]) * weights[1]
            c = (row[x, 2] - colour[2]) * weights[2]
            apart = a * a + b * b + c * c + (f32(0) if stands[x] else f32(9))
            nearer = apart < best[x]
            best[x] = apart if nearer else best[x]
            own[x] = number if nearer else own[x]


def _nearest(lab: Float, colours: Float) -> tuple[Int, Float]:
    """Index of the nearest colour and how far it is."""
    best, index = np.full(lab.shape[:2], 9, f32), np.zeros(lab.shape[:2], np.int32)
    picture, anywhere = np.ascontiguousarray(lab, f32), np.ones(best.shape, np.uint8)
    for k, colour in enumerate(colours.astype(f32)):
        _claim(picture, colour, CHANNELS.astype(f32), anywhere, k, best, index)
    return index, np.sqrt(best)


def _colours_of(lab: Float, calm: Mask) -> Float:
    chosen = lab[calm] if calm.sum() >= 64 else lab.reshape(-1, 3)
    # A band of calm pixels is a picture like any other to the palette.
    wide = max(int(np.sqrt(len(chosen))), 1)
    colours = palette(
        np.ascontiguousarray(chosen[: wide * (len(chosen) // wide)].reshape(-1, wide, 3)),
        _MOST_COLOURS + 4,
        warmth=_EXACT,
    )
    counts = np.bincount(_nearest(chosen[None], colours)[0].ravel(), minlength=len(colours))
    kept = counts > min(_STRAY, counts.max() - 1)
    return _few(colours[kept], counts[kept])


def _labels(lab: Float, colours: Float, calm: Mask, factor: float) -> Int:
    """Index of the colour of every point of the fine grid.

    A point takes the nearest, in the space edges are blended in, of the colours that are surely there within a few
    pixels: a red edge on white is never pink, though the badge has pink elsewhere.
    """
    height, width = lab.shape[:2]
    size = (round(width * factor), round(height * factor))
    encoded, table = to_rgb(lab), to_rgb(colours[None])[0].astype(f32)
    index, off = _nearest(lab, colours)
    sure = calm | (off < 0.02)
    reach = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * _NEAR + 1,) * 2)
    fine = cv2.resize(encoded, size, interpolation=cv2.INTER_CUBIC)
    best = np.full((size[1], size[0]), 99, f32)
    labels = np.zeros((size[1], size[0]), np.int32)
    for k in range(len(colours)):
        there = cv2.dilate(((index == k) & sure).astype(np.uint8), reach)
        if not there.any():
            continue
        near = cv2.resize(there, size, interpolation=cv2.INTER_NEAREST)
        _claim(fine, table[k], np.ones(3, f32), near, k, best, labels)
    return _calmed(labels, len(colours), 0.35 * factor)


def _calmed(labels: Int, count: int, sigma: float) -> Int:
    """Every point takes the label that is most common around it."""
    best, out = np.full(labels.shape, -1, f32), np.zeros_like(labels)
    for k in range(count):
        mine = labels == k
        if mine.any():
            share = cv2.GaussianBlur(mine.astype(f32), (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
            out[share > best] = k
            best = np.maximum(best, share)
    return out


def _without_specks(labels: Int, count: int, least: float) -> Int:
    """Labels in which no connected patch is smaller than `least` points."""
    gone = np.zeros(labels.shape, bool)
    for k in range(count):
        _, found, stats, _ = cv2.connectedComponentsWithStats((labels == k).astype(np.uint8), connectivity=4)
        small = np.nonzero(stats[:, cv2.CC_STAT_AREA] < least)[0]
        if len(small := small[small > 0]):
            gone |= np.isin(found, small)
    if not gone.any() or gone.all():
        return labels
    return from_nearest(labels.astype(np.int32), ~gone)[0]


def _around(labels: Int) -> int:
    """The label that most of the picture's border has."""
    ring = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    return int(np.bincount(ring).argmax())


def _ground(labels: Int, around: int, count: int) -> Mask:
    """The ground around the art, and the holes through which it is seen."""
    patches, found, stats, _ = cv2.connectedComponentsWithStats((labels == around).astype(np.uint8), connectivity=4)
    edge = np.unique(np.concatenate([found[0], found[-1], found[:, 0], found[:, -1]]))
    outer = np.isin(found, edge[edge > 0])
    ground = outer.copy()
    most = 0.5 * float((~outer).sum())
    for k in range(1, patches):
        if k in edge or stats[k, cv2.CC_STAT_AREA] > most:
            continue
        x, y, wide, tall = stats[k, :4]
        view = np.s_[max(y - 3, 0) : y + tall + 3, max(x - 3, 0) : x + wide + 3]
        mine = found[view] == k
        rim = (cv2.dilate(mine.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0) & ~mine
        seen = np.bincount(labels[view][rim], minlength=count).astype(float)
        seen[around] = 0
        if seen.max() > _SURROUNDED * max(seen.sum(), 1):
            ground[view] |= mine
    return ground


def _numbered(labels: Int, solid: Mask, count: int) -> tuple[Int, list[int], list[int], list[AnyArray]]:
    """Connected parts of one colour, numbered from 0."""
    parts = np.full(labels.shape, -1, np.int32)
    colour_of: list[int] = []
    areas: list[int] = []
    boxes: list[AnyArray] = []
    for k in range(count):
        found, ids, stats, _ = cv2.connectedComponentsWithStats(
            ((labels == k) & solid).astype(np.uint8), connectivity=4
        )
        parts = np.where(ids > 0, ids + (len(areas) - 1), parts).astype(np.int32)
        colour_of += [k] * (found - 1)
        areas += [int(a) for a in stats[1:, cv2.CC_STAT_AREA]]
        boxes += [np.asarray(row) for row in stats[1:, :4]]
    return parts, colour_of, areas, boxes


def _thin_share(labels: Int, solid: Mask, factor: float) -> float:
    """How much of the art's outline belongs to things thinner than a hair."""
    reach = max(round(_HAIR * factor), 2)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
    opened = cv2.morphologyEx(solid.astype(np.uint8), cv2.MORPH_OPEN, kernel) > 0
    rim = borders(np.where(solid, labels, -1).astype(np.int32)) & solid
    return float((rim & ~opened).sum() / max(rim.sum(), 1))


def is_flat(lab: Float) -> bool:
    """Whether an OKLab picture (h, w, 3) is in few colours with calm between them. About 8 ms at 512 px."""
    calm = _slope(lab) < 0.02
    if calm.mean() < 0.6:
        return False
    colours = _colours_of(lab[::2, ::2], calm[::2, ::2])
    _, off = _nearest(lab[::2, ::2], colours)
    return bool((off[calm[::2, ::2]] < 0.03).mean() > 0.97)


def fineness(height: int, width: int) -> float:
    """Grid points to a pixel of a picture."""
    return 2.0 if min(height, width) <= _FINE_UP_TO else 1.5


def coloured_areas(lab: Float, count: int | None = None) -> tuple[Int, Float, float]:
    """A picture in few flat colours: the number of its colour for every point of the fine grid.

    Parameters
    ----------
    lab : (h, w, 3) OKLab. count : colours at most; None for those that it has.

    Returns
    -------
    labels (h * factor, w * factor), colours (k, 3) OKLab, factor.
    """
    factor = fineness(*lab.shape[:2])
    calm = _slope(lab) < 0.035
    colours = _colours_of(lab, calm) if count is None else palette(lab, count, warmth=_EXACT)
    labels = _labels(lab, colours, calm, factor)
    unit = min(labels.shape) / 1024
    return _without_specks(labels, len(colours), max(60 * unit * unit, 6)).astype(np.int32), colours, factor


def from_areas(lab: Float, labels: Int) -> FlatArt:
    """The parts of a picture that is no flat art, from labels of areas on the fine grid; nothing of it is ground.

    Parameters
    ----------
    lab : (h, w, 3) OKLab. labels : (h, w) on a grid `fineness` times as fine, no two touching areas alike.
    """
    unit = min(labels.shape) / 1024
    count = int(labels.max()) + 1
    labels = _without_specks(labels, count, max(300 * unit * unit, 12))
    parts, _, areas, boxes = _numbered(labels, np.ones(labels.shape, bool), count)
    n = len(areas)
    mine = cv2.resize(parts, (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_NEAREST).ravel()
    flat, many = lab.reshape(-1, 3), np.maximum(np.bincount(mine, minlength=n), 1)
    colours = np.stack([np.bincount(mine, flat[:, k], n) / many for k in range(3)], 1).astype(f32)
    return FlatArt(
        parts, np.arange(n, dtype=np.int32), colours, np.median(flat, axis=0).astype(f32), np.array(areas, np.int32),
        np.array(boxes, np.int32).reshape(-1, 4), np.full(parts.shape, 0.5, f32), fineness(*lab.shape[:2]),
    )  # fmt: skip


def take_apart(lab: Float, cover: Float | None = None) -> FlatArt:
    """Take flat art apart. .2 to .5 s at 512 px.

    Parameters
    ----------
    lab : (h, w, 3) OKLab, at least 8 x 8. cover : (h, w) 0..1, how solid the art is where it has transparency; its
    ground is then what is not solid.
    """
    factor = fineness(*lab.shape[:2])
    calm = _slope(lab) < 0.035
    if cover is not None:
        calm &= cover > 0.98
    colours = _colours_of(lab, calm)
    fine = _labels(lab, colours, calm, factor)
    count = len(colours)
    unit = min(fine.shape) / 1024
    fine = _without_specks(fine, count, max(60 * unit * unit, 6))
    solid: Mask
    if cover is not None:
        size = fine.shape[1], fine.shape[0]
        solid = cv2.resize(cover, size, interpolation=cv2.INTER_CUBIC) > 0.5
        ground = np.median(lab[cover < 0.02], axis=0) if (cover < 0.02).any() else colours[_around(fine)]
    else:
        around = _around(fine)
        solid, ground = ~_ground(fine, around, count), colours[around]
    if not solid.any():
        # A picture that is nothing but its ground is one sheet of it.
        solid = np.ones(fine.shape, bool)
    parts, colour_of, areas, boxes = _numbered(fine, solid, count)
    kinds = np.array(colour_of, np.int32)
    size = fine.shape[1], fine.shape[0]
    known = to_rgb(np.concatenate([np.asarray(ground, f32)[None], colours[kinds]])[None])[0]
    soft = None if cover is None else cv2.resize(cover, size, interpolation=cv2.INTER_CUBIC)
    crossing = crossings(parts, cv2.resize(to_rgb(lab), size, interpolation=cv2.INTER_CUBIC), known, soft)
    return FlatArt(
        parts, kinds, colours, np.asarray(ground, f32), np.array(areas, np.int32),
        np.array(boxes, np.int32).reshape(-1, 4), crossing, factor, _thin_share(fine, solid, factor), cover,
    )  # fmt: skip
