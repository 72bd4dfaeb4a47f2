"""Larger along edges: crisp, without rims, and true to the picture that it came from.

Each step makes a picture two or three times as large: Lanczos; smoothed along edges and lines, never across them, which
takes their stairs; corrected so that its mean over every old pixel is that pixel again; and held between the darkest
and the lightest of the old pixels around, so that nothing rings. All of it is local: strips give what the whole gives, but for a rounding (1 of 255) here and there.

Sources
-------
1. M. Irani, S. Peleg, "Improving resolution by image registration", 1991 (back projection).
2. J. Bigun, G. Granlund, "Optimal orientation detection of linear symmetry", 1987 (the structure tensor).
3. J. Weickert, "Coherence-enhancing diffusion filtering", 1999 (smoothing where the tensor is sure of its way).
"""

from collections.abc import Callable

import cv2
import numpy as np

from ...maths.arrays import Byte, Float, f32
from ...maths.jit import kernel
from .kind import Job, Way, silent

# Rows of the old picture that are worked on at once, and those around them that what is done there reaches.
_STRIP, _MARGIN = 160, 20
CORRECTIONS = 3
# The tensor: its blur in new pixels, and the contrast (8 bit, squared) below which no way is sure.
_TENSOR_BLUR = 1.2
_CALM = 20.0
# Sureness from which, and how fast, pixels are smoothed along their edge; weights of the first and second pixel on.
_SURE_FROM, _SURE_RISE = 0.25, 1.3
_TAPS = (f32(0.677), f32(0.21))


@kernel
def _at(plane, y, x, k):  # type: ignore[no-untyped-def]
    """A plane (h, w, c) between pixels, bilinear, its border repeated."""
    h, w, _ = plane.shape
    y = min(max(y, f32(0)), f32(h - 1))
    x = min(max(x, f32(0)), f32(w - 1))
    top, left = int(y), int(x)
    below, right = min(top + 1, h - 1), min(left + 1, w - 1)
    dy, dx = y - f32(top), x - f32(left)
    upper = plane[top, left, k] + dx * (plane[top, right, k] - plane[top, left, k])
    lower = plane[below, left, k] + dx * (plane[below, right, k] - plane[below, left, k])
    return upper + dy * (lower - upper)


@kernel
def _smooth_along(plane, across, mixed, down, out):  # type: ignore[no-untyped-def]
    """Pixels of (h, w, c) smoothed along the edge that runs through them; across, mixed, down : the tensor's entries (h, w)."""
    h, w, channels = plane.shape
    total = f32(1) + f32(2) * (_TAPS[0] + _TAPS[1])
    for y in range(h):
        for x in range(w):
            apart = across[y, x] - down[y, x]
            both = f32(2) * mixed[y, x]
            length = np.sqrt(apart * apart + both * both)
            sure = length / (across[y, x] + down[y, x] + f32(_CALM)) * f32(_SURE_RISE) - f32(_SURE_FROM)
            sure = min(max(sure, f32(0)), f32(1))
            if sure <= f32(0):
                for k in range(channels):
                    out[y, x, k] = plane[y, x, k]
                continue
            # Of the two ways of writing the direction, the one that is not near nothing.
            if apart >= f32(0):
                dx, dy = -both, apart + length
            else:
                dx, dy = apart - length, both
            scale = f32(1) / np.sqrt(dx * dx + dy * dy)
            dx, dy = dx * scale, dy * scale
            for k in range(channels):
                value = plane[y, x, k]
                for n in range(2):
                    step = f32(n + 1)
                    ahead = _at(plane, f32(y) + step * dy, f32(x) + step * dx, k)
                    behind = _at(plane, f32(y) - step * dy, f32(x) - step * dx, k)
                    value += _TAPS[n] * (ahead + behind)
                out[y, x, k] = plane[y, x, k] + sure * (value / total - plane[y, x, k])


def _along(plane: Float) -> Float:
    """A strip (h, w, c) with its edges smoothed along themselves."""
    light = np.ascontiguousarray(plane.mean(2), dtype=f32)
    dx = cv2.Scharr(light, cv2.CV_32F, 1, 0, scale=1 / 32)
    dy = cv2.Scharr(light, cv2.CV_32F, 0, 1, scale=1 / 32)
    across, mixed, down = (cv2.GaussianBlur(part, (0, 0), _TENSOR_BLUR) for part in (dx * dx, dx * dy, dy * dy))
    out = np.empty_like(plane)
    _smooth_along(plane, across, mixed, down, out)
    return out


def _grown(strip: Byte, times: int, corrections: int) -> Byte:
    """A strip (h, w, c) uint8 `times` as large a side."""
    height, width = strip.shape[:2]
    size, small = (width * times, height * times), (width, height)
    old = strip.astype(f32)
    made = _along(cv2.resize(old, size, interpolation=cv2.INTER_LANCZOS4))
    for _ in range(corrections):
        lost = old - cv2.resize(made, small, interpolation=cv2.INTER_AREA)
        made += cv2.resize(lost, size, interpolation=cv2.INTER_LANCZOS4)
    around = np.ones((3, 3), np.uint8)
    least = cv2.resize(cv2.erode(old, around), size, interpolation=cv2.INTER_LINEAR)
    most = cv2.resize(cv2.dilate(old, around), size, interpolation=cv2.INTER_LINEAR)
    np.clip(made, least, most, out=made)
    return np.asarray(np.clip(made + f32(0.5), 0, 255), np.uint8)


def stepped(
    picture: Byte, times: int, said: Callable[[float], None], strip: int = _STRIP, corrections: int = CORRECTIONS
) -> Byte:
    """A picture (h, w, 3) uint8 two or three times as large a side, strip by strip; `said` gets the share done, 0..1."""
    height, width = picture.shape[:2]
    out = np.empty((height * times, width * times, 3), np.uint8)
    for top in range(0, height, strip):
        bottom = min(top + strip, height)
        first, last = max(top - _MARGIN, 0), min(bottom + _MARGIN, height)
        made = _grown(picture[first:last], times, corrections)
        out[top * times : bottom * times] = made[(top - first) * times : (bottom - first) * times]
        said(bottom / height)
    return out


def steps_to(factor: float) -> list[int]:
    """Whole steps (2 or 3) whose product is at least a factor."""
    left, steps = factor, []
    while left > 1:
        steps.append(3 if 2 < left <= 3 else 2)
        left /= steps[-1]
    return steps


def enlarged_along_edges(job: Job, corrections: int = CORRECTIONS) -> Byte:
    """A picture made larger along its edges.

    Parameters
    ----------
    job : a picture (h, w, 3) uint8 sRGB and the size wanted, at least its own. corrections : how often the means of the old pixels are
        restored; 0 leaves edges smoother than they were, where the picture has stairs of its own.

    Returns
    -------
    (job.height, job.width, 3) uint8 sRGB. What the steps make too large is made smaller by area. About .35 s a megapixel of
    what comes out on one core; besides input and output it holds strips of 160 old rows.
    """
    picture = np.ascontiguousarray(job.picture)
    steps = steps_to(max(job.height / picture.shape[0], job.width / picture.shape[1]))
    shares = [4.0**k for k in range(len(steps))]
    before = 0.0
    for times, share in zip(steps, shares, strict=True):
        begun = before

        def said(done: float, begun: float = begun, share: float = share) -> None:
            job.progress(int(100 * (begun + done * share) / sum(shares)), 100)

        picture = stepped(picture, times, said, corrections=corrections)
        before += share
    if picture.shape[:2] != (job.height, job.width):
        picture = np.asarray(cv2.resize(picture, (job.width, job.height), interpolation=cv2.INTER_AREA), np.uint8)
    job.progress(100, 100)
    return picture


def carried(
    picture: Byte,
    height: int,
    width: int,
    progress: Callable[[int, int], None] = silent,
    corrections: int = CORRECTIONS,
) -> Byte:
    """A picture (h, w, 3) uint8 at a larger size, along its edges; `corrections` as there."""
    return enlarged_along_edges(Job(picture, height, width, progress), corrections)


WAYS = (
    Way("edges", "Along edges", "crisp edges without rims; adds nothing", enlarged_along_edges, seconds=0.5, place=10),
)
