"""How much of each pixel on an edge belongs to the subject, and the subject's own colour there.

Around a hard mask lies a belt. In it each pixel is explained as a mix of two colours, one seen on the subject's side and one
on the ground's; where strands run on beyond it the belt is widened.

Sources
-------
1. E. Gastal, M. Oliveira, "Shared sampling for real-time alpha matting", 2010 (rays and pairs of colours).
2. K. He, J. Sun, X. Tang, "Guided image filtering", 2013.
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, Mask, f32
from ...maths.edge_aware import guided_by_colour
from ...maths.jit import kernel
from .masks import disc, grown, shrunk

_RAYS = 10
_REACH = 56
# Width of the belt in pixels of a 512 px picture.
BELT = 4
_ROUNDS, _STEP = 4, 6
# Deviations by which ground and subject must differ for strands to be looked for.
_APART = 1.8
_LEAST_NEW = 60


@dataclass(frozen=True, eq=False)
class Edges:
    """`alpha` (h, w) 0..1, `colours` (h, w, 3) 0..1 of the subject where the picture is mixed, `belt` (h, w) where it is."""

    alpha: Float
    colours: Float
    belt: Mask


# Long: rays and the pairs of what they find share their colours.
@kernel
def _pairs(picture, sides, rows, columns, reach, alpha, trust, colours):  # type: ignore[no-untyped-def]
    """For each pixel of the belt the three best pairs of colours that rays find; `sides` 1 subject, 0 ground, .5 belt."""
    height, width = sides.shape
    near, far = np.empty((10, 3), np.float32), np.empty((10, 3), np.float32)
    near_at, far_at = np.empty(10, np.float32), np.empty(10, np.float32)
    best, share, which = np.empty(3, np.float32), np.empty(3, np.float32), np.empty(3, np.int64)
    for q in range(rows.shape[0]):
        y0, x0 = rows[q], columns[q]
        n, m = 0, 0
        phase = ((y0 % 3) * 3 + x0 % 3) / 9.0
        for k in range(10):
            turn = 6.2831853 * (k + phase) / 10
            dy, dx = math.sin(turn), math.cos(turn)
            has_near, has_far, d = False, False, 1.0
            while d < reach and not (has_near and has_far):
                y, x = int(y0 + dy * d + 0.5), int(x0 + dx * d + 0.5)
                if y < 0 or x < 0 or y >= height or x >= width:
                    break
                if sides[y, x] > 0.9 and not has_near:
                    for c in range(3):
                        near[n, c] = picture[y, x, c]
                    near_at[n] = d
                    n += 1
                    has_near = True
                elif sides[y, x] < 0.1 and not has_far:
                    for c in range(3):
                        far[m, c] = picture[y, x, c]
                    far_at[m] = d
                    m += 1
                    has_far = True
                d += 1.0
        if n == 0 or m == 0:
            alpha[q] = 0.0 if n == 0 else 1.0
            trust[q] = 0.0
            for c in range(3):
                colours[q, c] = picture[y0, x0, c]
            continue
        nearest, nearest_far = near_at[0], far_at[0]
        for i in range(1, n):
            nearest = min(nearest, near_at[i])
        for j in range(1, m):
            nearest_far = min(nearest_far, far_at[j])
        for r in range(3):
            best[r], share[r], which[r] = 1e9, 0.0, 0
        for i in range(n):
            for j in range(m):
                apart, along = 0.0, 0.0
                for c in range(3):
                    e = near[i, c] - far[j, c]
                    apart += e * e
                    along += e * (picture[y0, x0, c] - far[j, c])
                a = min(1.0, max(0.0, along / (apart + 1e-5)))
                rest = 0.0
                for c in range(3):
                    e = picture[y0, x0, c] - a * near[i, c] - (1 - a) * far[j, c]
                    rest += e * e
                cost = (
                    math.sqrt(rest)
                    + 0.006 * (near_at[i] / nearest + far_at[j] / nearest_far)
                    + 0.012 / (math.sqrt(apart) + 0.05)
                )
                r = 2
                if cost < best[2]:
                    while r > 0 and cost < best[r - 1]:
                        best[r], share[r], which[r] = best[r - 1], share[r - 1], which[r - 1]
                        r -= 1
                    best[r], share[r], which[r] = cost, a, i
        total, mixed = 1e-12, 0.0
        for c in range(3):
            colours[q, c] = 0.0
        for r in range(3):
            if best[r] < 1e8:
                w = math.exp(-best[r] / 0.03)
                total += w
                mixed += w * share[r]
                for c in range(3):
                    colours[q, c] += w * near[which[r], c]
        alpha[q] = mixed / total
        trust[q] = math.exp(-best[0] / 0.08)
        for c in range(3):
            colours[q, c] /= total


def _explained(picture: Float, sides: Float) -> tuple[Float, Float]:
    """Alpha and colours of a belt (`sides` .5), calmed by a filter that trusts pixels that are explained well."""
    belt = sides == 0.5
    rows, columns = np.nonzero(belt)
    alpha, colours = sides.copy(), picture.copy()
    if not len(rows):
        return alpha, colours
    found, trust = np.empty(len(rows), f32), np.empty(len(rows), f32)
    own = np.empty((len(rows), 3), f32)
    _pairs(picture, sides, rows, columns, float(_REACH), found, trust, own)
    alpha[belt], colours[belt] = found, own
    weight = np.ones_like(sides)
    weight[belt] = f32(0.05) + trust
    box = (slice(max(0, rows.min() - 12), rows.max() + 13), slice(max(0, columns.min() - 12), columns.max() + 13))
    calm = alpha.copy()
    calm[box] = np.clip(guided_by_colour(picture[box], alpha[box], 3, 2e-4, weight[box]), 0, 1)
    return np.where(belt, 0.3 * alpha + 0.7 * calm, sides).astype(f32), colours


def _apart(picture: Float, mask: Mask) -> Float:
    """Deviations of the ground's own texture by which it differs from the subject nearby: a busy ground is no hair."""
    height, width = mask.shape
    size = (max(8, width // 4), max(8, height // 4))
    small = cv2.resize(picture, size, interpolation=cv2.INTER_NEAREST)
    inside, outside = (
        cv2.resize(side.astype(f32), size, interpolation=cv2.INTER_NEAREST)
        for side in (shrunk(mask, 16), ~grown(mask, 34))
    )

    def mean(plane: Float, weight: Float) -> Float:
        spread = cv2.blur(weight, (25, 25)) + f32(1e-6)
        if plane.ndim == 3:
            return np.asarray(cv2.blur(plane * weight[..., None], (25, 25)) / spread[..., None])
        return np.asarray(cv2.blur(plane * weight, (25, 25)) / spread)

    ground = mean(small, outside)
    way = mean(small, inside) - ground
    length = np.linalg.norm(way, axis=2, keepdims=True)
    unit = way / (length + f32(1e-6))
    along = ((small - ground) * unit).sum(2)
    deviation = np.sqrt(mean(along * along, outside) + f32(4e-4))
    found = length[..., 0] / deviation
    found[cv2.blur(outside, (25, 25)) < 0.02] = 0
    return cv2.resize(found.astype(f32), (width, height))


def edges_of(
    rgb: Byte,
    mask: Mask,
    belt: int = BELT,
    hair: Mask | None = None,
    strokes: AnyArray | None = None,
    widen: bool = True,
) -> Edges:
    """Soft edges of a hard mask. 100 to 400 ms at 512 px.

    Parameters
    ----------
    rgb : (h, w, 3). mask : (h, w). belt : its half width. hair : where strands may run on beyond the mask; None for
    everywhere that they do. strokes : (h, w) 1 surely in, -1 surely out. widen : whether to look for strands at all.
    """
    picture = rgb.astype(f32) / f32(255)
    sides = np.full(mask.shape, 0.5, f32)
    sides[shrunk(mask, max(2, belt // 2 + 1))] = 1
    sides[~grown(mask, belt)] = 0
    if strokes is not None:
        sides[strokes > 0], sides[strokes < 0] = 1, 0
    alpha, colours = _explained(picture, sides)
    if widen:
        differ = _apart(picture, mask) > _APART
        for _ in range(_ROUNDS):
            live = _strands(alpha, sides, differ)
            new = live & (sides == 0)
            if hair is not None:
                new &= hair
            if strokes is not None:
                new &= ~grown(strokes < 0, 8)
            if int(new.sum()) < _LEAST_NEW:
                break
            sides[new] = 0.5
            sides[live & (sides == 1) & ~shrunk(sides == 1, 2)] = 0.5
            alpha, colours = _explained(picture, sides)
    return Edges(alpha, colours, sides == 0.5)


def _strands(alpha: Float, sides: Float, differ: Mask) -> Mask:
    """Around where mixed, textured alpha reaches the belt's outer rim."""
    rim = (sides == 0.5) & grown(sides == 0, 2) & differ
    weight = rim.astype(f32)
    spread = cv2.blur(weight, (9, 9)) + f32(1e-6)
    mean = cv2.blur(alpha * weight, (9, 9)) / spread
    deviation = np.sqrt(np.maximum(cv2.blur(alpha * alpha * weight, (9, 9)) / spread - mean * mean, 0))
    live = rim & (mean > 0.06) & (mean < 0.6) & (deviation > 0.13)
    return grown(cv2.morphologyEx(live.astype(np.uint8), cv2.MORPH_CLOSE, disc(4)) > 0, _STEP)
