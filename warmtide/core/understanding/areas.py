"""Areas of few colours: parted, joined where they are alike, and how far apart their sides are."""

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, Int, f32
from ..maths.jit import kernel
from .palette import CHANNELS

# An edge is at most so many pixels wide; what is wider is a slope.
_EDGE = 7


@kernel
def _root(parents, i):  # type: ignore[no-untyped-def]
    while parents[i] != i:
        parents[i] = parents[parents[i]]
        i = parents[i]
    return i


@kernel
def _components(labels, parents):  # type: ignore[no-untyped-def]
    """Join each pixel's place in `parents` with its neighbours' of one label; roots are first pixels of parts."""
    h, w = labels.shape
    for y in range(h):
        for x in range(w):
            at = y * w + x
            parents[at] = at
            if x > 0 and labels[y, x - 1] == labels[y, x]:
                parents[at] = _root(parents, at - 1)
            if y > 0 and labels[y - 1, x] == labels[y, x]:
                one, other = _root(parents, at), _root(parents, at - w)
                parents[max(one, other)] = min(one, other)
    for at in range(h * w):
        # Parents come before their children, so that each root is found already.
        parents[at] = parents[parents[at]]


def parts(labels: Int) -> tuple[Int, int]:
    """Connected parts of a label map, numbered from 0 by label and then from above, and how many."""
    parents = np.empty(labels.size, np.int32)
    _components(np.ascontiguousarray(labels), parents)
    first = np.flatnonzero(parents == np.arange(labels.size))
    first = first[np.argsort(labels.ravel()[first], kind="stable")]
    numbers = np.empty(labels.size, np.int32)
    numbers[first] = np.arange(len(first))
    return numbers[parents].reshape(labels.shape), len(first)


def _steps(image: Float) -> Float:
    """Size of the steps between neighbours, spread by a pixel."""
    total = np.zeros(image.shape[:2], f32)
    for k in range(3):
        plane = np.ascontiguousarray(image[..., k])
        total += cv2.Sobel(plane, cv2.CV_32F, 1, 0) ** 2 + cv2.Sobel(plane, cv2.CV_32F, 0, 1) ** 2
    return cv2.dilate(np.sqrt(total) / 8, np.ones((3, 3), np.uint8))


def rises(image: Float) -> Float:
    """How far the picture rises within an edge's width: as much over a soft edge as over a sharp one, little on a slope."""
    window = np.ones((_EDGE, _EDGE), np.uint8)
    total = np.zeros(image.shape[:2], f32)
    for k in range(3):
        total += cv2.morphologyEx(np.ascontiguousarray(image[..., k]), cv2.MORPH_GRADIENT, window) ** 2
    return np.sqrt(total)


@kernel
def _join(parents, one, other, size):  # type: ignore[no-untyped-def]
    """Join parts in pairs, the smaller to the larger; afterwards every part names its root."""
    for k in range(len(one)):
        a, b = _root(parents, one[k]), _root(parents, other[k])
        if a != b:
            if size[a] >= size[b]:
                parents[b] = a
            else:
                parents[a] = b
    for k in range(len(parents)):
        parents[k] = _root(parents, k)


def merged(ids: Int, lab: Float, alike: float, area: float, worth: Float | None = None, rounds: int = 8, edges: bool = False) -> Int:  # fmt: skip
    """Parts joined with their most similar neighbour while they are alike or too small.

    Parameters
    ----------
    alike : colour difference below which neighbours join; the step between them in `lab` caps it, so that a
    soft passage from one tone to another is no border. area : parts smaller than this many pixels join in any
    case. worth : (h, w) how many pixels each counts for, larger where small parts must stay. edges : a slope is no
    border at all, however far it goes from one side to the other: for looks that draw borders.

    Returns
    -------
    (h, w) int32, numbered from 0.
    """
    image = lab * CHANNELS
    n = int(ids.max()) + 1
    numbers = ids.ravel()
    size = np.bincount(numbers, minlength=n).astype(float)
    counted = size if worth is None else np.bincount(numbers, worth.ravel(), minlength=n)
    total = np.stack([np.bincount(numbers, image[..., k].ravel(), minlength=n) for k in range(3)], 1)
    i, j, length, step = _borders(ids, np.sqrt(rises(image)) if edges else _steps(image))
    # Pixels are counted once; from here on parts and their common borders are joined as a graph.
    now = np.arange(n)
    for _ in range(rounds):
        if not len(i):
            break
        mean = total / np.maximum(size, 1)[:, None]
        apart = _apart(mean, i, j, length, step, edges)
        tiny_i, tiny_j = counted[i] < area, counted[j] < area
        cost = np.where(tiny_i | tiny_j, apart * 0.3 - 1, apart) - 1e-3 * np.minimum(
            length / np.sqrt(np.minimum(size[i], size[j]) + 1), 4
        )
        best = np.full(len(size), np.inf)
        np.minimum.at(best, i, cost)
        np.minimum.at(best, j, cost)
        mutual = (cost <= best[i]) & (cost <= best[j]) & (cost < alike)
        joins = mutual | (tiny_i & (cost <= best[i])) | (tiny_j & (cost <= best[j]))
        if not joins.any():
            break
        parents = np.arange(len(size))
        _join(parents, i[joins], j[joins], size)
        roots = parents == np.arange(len(size))
        to = (np.cumsum(roots) - 1)[parents]
        now = to[now]
        size, counted = np.bincount(to, size), np.bincount(to, counted)
        total = np.stack([np.bincount(to, total[:, k]) for k in range(3)], 1)
        i, j, length, step = _joined_borders(to[i], to[j], length, step, len(size))
    return now.astype(np.int32)[ids]


def _apart(mean: AnyArray, i: AnyArray, j: AnyArray, length: AnyArray, step: AnyArray, edges: bool) -> AnyArray:
    """How far apart the parts on both sides of each border are: at most as far as the step between them.

    With `edges` the step is the squared mean of roots: a slope's border that runs along a mast for a while stays one.
    """
    most = (step / length) ** 2 if edges else 5.0 * step / length
    return np.minimum(np.sqrt(((mean[i] - mean[j]) ** 2).sum(1)), most)


def border_contrast(ids: Int, lab: Float, edges: bool = False) -> Float:
    """Along every border of parts, (h, w), how far apart `merged` takes the two to be; 0 within parts."""
    image, n = lab * CHANNELS, int(ids.max()) + 1
    out = np.zeros(ids.shape, f32)
    if n == 1:
        return out
    numbers = ids.ravel()
    size = np.maximum(np.bincount(numbers, minlength=n), 1)
    mean = np.stack([np.bincount(numbers, image[..., k].ravel(), minlength=n) / size for k in range(3)], 1)
    i, j, length, step = _borders(ids, np.sqrt(rises(image)) if edges else _steps(image))
    apart, pairs = _apart(mean, i, j, length, step, edges).astype(f32), i * n + j
    for one, other, view in ((ids[:, :-1], ids[:, 1:], out[:, :-1]), (ids[:-1], ids[1:], out[:-1])):
        border = one != other
        low, high = np.minimum(one, other)[border].astype(np.int64), np.maximum(one, other)[border]
        view[border] = np.maximum(view[border], apart[np.searchsorted(pairs, low * n + high)])
    return out


def _borders(ids: Int, edges: Float) -> tuple[AnyArray, AnyArray, AnyArray, AnyArray]:
    """Neighbouring parts (i < j), the length of their common border, and the sum of steps along it."""
    found = []
    for one, other, first, second in (
        (ids[:, :-1], ids[:, 1:], edges[:, :-1], edges[:, 1:]),
        (ids[:-1], ids[1:], edges[:-1], edges[1:]),
    ):
        border = one != other
        found.append((one[border], other[border], np.maximum(first[border], second[border])))
    a, b, step = (np.concatenate(columns) for columns in zip(*found, strict=True))
    return _joined_borders(a, b, np.ones(len(a)), step, int(ids.max()) + 1)


def _joined_borders(
    a: AnyArray, b: AnyArray, length: AnyArray, step: AnyArray, n: int
) -> tuple[AnyArray, AnyArray, AnyArray, AnyArray]:
    """Borders of the same two parts as one; those within a part are gone."""
    apart = a != b
    low, high = np.minimum(a, b)[apart].astype(np.int64), np.maximum(a, b)[apart]
    pairs, index = np.unique(low * n + high, return_inverse=True)
    return pairs // n, pairs % n, np.bincount(index, length[apart]), np.bincount(index, step[apart])
