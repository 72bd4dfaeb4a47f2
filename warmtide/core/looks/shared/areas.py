"""A picture parted into areas of few colours, the same at every size.

Sources
-------
1. B. Merriman, J. Bence, S. Osher, 1992 (threshold dynamics, see `palette`).
2. J. Canny, "A computational approach to edge detection", 1986 (thin edges by two thresholds).
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Float, Int, f32
from ...maths.filters import brought_out, share_around, soften
from ...model.sitting import Sitting
from ...understanding.areas import border_contrast, merged, parts, rises
from ...understanding.palette import CHANNELS, colour_labels, palette
from .brush import at
from .flatten import crisp, flatten, steepest
from .ground import stretch
from .pen import chains, placed

# Long side at which a picture is parted into areas.
_WORKING = 256


_MOST_ENLARGED = 2.0


# Steps from pixel to pixel at which an edge begins, and which some of it must reach; whole numbers for one of 1.
_WEAK, _STRONG, _PER_STEP = 0.03, 0.06, 8000


@dataclass(frozen=True)
class Areas:
    """A picture parted into areas, at a working size of its own.

    Attributes
    ----------
    flat : the picture flattened, (h, w, 3). colours : the palette, (k, 3). labels : the colour of every pixel.
    ids : the area of every pixel, numbered from 0. zoom : pixels of the take to one of these. scale : size of
    marks here.
    """

    flat: Float
    colours: Float
    labels: Int
    ids: Int
    zoom: float
    scale: float


def shapes(
    lab: Float, sitting: Sitting, count: int, outlines: float, area: float, alike: float, edges: bool = False
) -> Areas:
    """Part a picture into areas of few colours.

    Whatever the take's size the parting is done at one size, so that a draft, a take and the same take twice as
    large draw the same areas: which of two areas is joined with a third hangs on single pixels.

    Parameters
    ----------
    outlines, area : smoothness in pixels and least size in square pixels at mark size 1. alike : colour
    difference below which neighbouring areas join. edges : see `merged`.
    """
    zoom, s, firm = 1.0, sitting.scale, 0.0009
    if sitting.inset:
        # A face needs its lids and lips: more colours, smaller areas, less flattening.
        count, outlines, area, alike, firm = count + 4, 0.6 * outlines, 0.25 * area, 0.6 * alike, 0.0003
    else:
        zoom = max(max(lab.shape[:2]) / _WORKING, 1 / _MOST_ENLARGED)
        rows, columns = (max(math.ceil(n / zoom - 1e-6), 8) for n in lab.shape[:2])
        lab = cv2.resize(lab, (columns, rows), interpolation=cv2.INTER_AREA if zoom > 1 else cv2.INTER_CUBIC)
        s = min(rows, columns) / 400 * sitting.marks
    flat = crisp(flatten(soften(brought_out(lab, 18 * s), 1, 0.06, 2 * s), 4.5 * s, firm, 3), 1.3 * s, 3)
    flat[..., 0] = stretch(np.ascontiguousarray(flat[..., 0]), sitting, (1, 99), (0.04, 0.98), 0.7)
    colours = palette(flat, count)
    labels = colour_labels(flat, colours, outlines * s)
    ids, _ = parts(labels)
    ids = merged(ids, flat, alike, area * s * s, edges=edges)
    # A joined area takes the colour that most of it had.
    n = int(ids.max()) + 1
    votes = np.bincount(ids.ravel() * len(colours) + labels.ravel(), minlength=n * len(colours))
    return Areas(flat, colours, votes.reshape(n, -1).argmax(1).astype(np.int32)[ids], ids, zoom, s)


def few_labels(ids: Int) -> Int:
    """Labels for areas so that no two neighbours share one: a handful instead of hundreds."""
    n = int(ids.max()) + 1
    first = np.concatenate([ids[:, :-1].ravel(), ids[:-1].ravel()])
    second = np.concatenate([ids[:, 1:].ravel(), ids[1:].ravel()])
    border = first != second
    pairs = np.unique(first[border].astype(np.int64) * n + second[border])
    neighbours: list[set[int]] = [set() for _ in range(n)]
    for a, b in zip((pairs // n).tolist(), (pairs % n).tolist(), strict=True):
        neighbours[a].add(b)
        neighbours[b].add(a)
    numbers = [-1] * n
    for k in sorted(range(n), key=lambda k: -len(neighbours[k])):
        taken = {numbers[m] for m in neighbours[k]}
        numbers[k] = next(v for v in range(n + 1) if v not in taken)
    return np.array(numbers, np.int32)[ids]


def enlarged_labels(labels: Int, reach: float, size: tuple[int, int]) -> Int:
    """A map of few labels at `size` (width, height), its borders smoothed over `reach` of its own pixels, one at least."""
    reach = max(reach, 1.0)
    best = np.full((size[1], size[0]), -1, f32)
    out = np.zeros((size[1], size[0]), np.int32)
    for k in range(int(labels.max()) + 1):
        score = cv2.resize(share_around(labels == k, reach), size, interpolation=cv2.INTER_CUBIC)
        better = score > best
        best[better], out[better] = score[better], k
    return out


def outlines(lab: Float, sitting: Sitting, area: float, alike: float, least: float) -> tuple[list[Float], Float]:
    """Borders of the picture's broad areas as chains of at least `least` marks, and around them (h, w) how far apart
    their two sides are, 0 elsewhere; the rest as in `shapes`."""
    found = shapes(lab, sitting, 8, 2.2, area, alike, edges=True)
    contrast = border_contrast(found.ids, found.flat, edges=True)
    spread = cv2.dilate(contrast, np.ones((7, 7), np.uint8))
    around = cv2.resize(spread, (sitting.width, sitting.height), interpolation=cv2.INTER_LINEAR)
    return [placed(chain, found.zoom) for chain in chains(contrast > 0, least * found.scale)], around


def edges_within(found: Areas, least: float, rise: float) -> list[tuple[Float, float]]:
    """What parts two tones though both may belong to one area: a wheel in the shade, the rim of a bowl.

    Parameters
    ----------
    least : marks that an edge is long at least. rise : how far the picture rises over it at least.

    Returns
    -------
    Chains at the take's size, those along borders among them, and how far each rises.
    """
    gx, gy, _ = steepest(found.flat)
    across, down = (np.clip(g * _PER_STEP, -32767, 32767).astype(np.int16) for g in (gx, gy))
    thin = cv2.Canny(across, down, _WEAK * _PER_STEP, _STRONG * _PER_STEP, L2gradient=True) > 0
    height = rises(found.flat * CHANNELS)
    lines = [(c, float(np.median(at(height, c[:, 0], c[:, 1])))) for c in chains(thin, least * found.scale)]
    return [(placed(chain, found.zoom), risen) for chain, risen in lines if risen >= rise]
