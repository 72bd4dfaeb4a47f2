"""Subject kept: the composition of what the picture is about, read at its own size: the whole is too kind to it."""

import cv2
import numpy as np

from ..maths.arrays import Byte, Float
from .composition import composition_kept, figure_of
from .features import read_features
from .kind import ReadingKind
from .pair import Pair

# What the map gives less than this belongs to the surroundings; a subject smaller than this share of the picture is none.
_BELONGS, _LEAST = 0.3, 0.002
# Around the subject, in its own sizes.
_MARGIN = 0.06
_LEAST_SIDE = 24


def _box(plane: Float) -> tuple[slice, slice] | None:
    inside = plane > _BELONGS
    if float(inside.mean()) < _LEAST:
        return None
    rows, columns = np.flatnonzero(inside.any(1)), np.flatnonzero(inside.any(0))
    more = round(_MARGIN * max(rows[-1] - rows[0], columns[-1] - columns[0]))
    top, left = max(int(rows[0]) - more, 0), max(int(columns[0]) - more, 0)
    found = slice(top, int(rows[-1]) + more + 1), slice(left, int(columns[-1]) + more + 1)
    part = plane[found]
    return found if min(part.shape) >= _LEAST_SIDE else None


def subject_kept(source: Byte, take: Byte, about: Float) -> float | None:
    """How much of its subject a take has kept, 0..100, or None where the picture is about no one thing. 30 ms.

    Parameters
    ----------
    source, take : (h, w, 3) uint8 of one shape. about : (h, w) 0..1 at any size, what the source is about.
    """
    plane = cv2.resize(about, (source.shape[1], source.shape[0]), interpolation=cv2.INTER_LINEAR)
    box = _box(plane)
    if box is None:
        return None
    first = read_features(np.ascontiguousarray(source[box]))
    found = composition_kept(first, read_features(np.ascontiguousarray(take[box]), first.size))
    height, width = found.share.shape
    near = cv2.resize(plane[box], (width, height), interpolation=cv2.INTER_AREA)
    weight = found.weight * np.where(near > _BELONGS, near, 0)
    total = float(weight.sum())
    return figure_of(float((weight * found.share).sum()) / total) if total > 0 else None


def _of(pair: Pair) -> float | None:
    return subject_kept(pair.source.rgb, pair.take, pair.source.subject)


READING = ReadingKind(
    "subject",
    "Subject kept",
    "Whether the edges of what the picture is about are still there, and at their place.",
    of=_of,
    goes="the subject",
    place=2,
    within=True,
)
