"""An untextured product taken apart: what stands before the backdrop, its parts, and how they bulge.

A shadow and the turn of a body into shade are soft, a part's edge is sharp: areas that only soft borders part are one,
and so the shadow on the ground becomes ground again.

Sources
-------
1. S. Beucher, C. Lantuejoul, "Use of watersheds in contour detection", 1979.
2. J. Elder, S. Zucker, "Local scale control for edge detection and blur estimation", 1998 (how soft an edge is).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, Mask, f32
from ...maths.blur import blur
from ...maths.nearest import from_nearest
from ...maths.relief import broad, normals, swollen
from ...understanding.building.parts import borders
from .boxes import box_normals, flattened

# Slopes below this are no border; a border is sharp when blurring lessens its slope by this factor.
_CALM, _SEEN, _SHARP, _SHARPISH = 0.0035, 0.0035, 1.6, 1.3
# Gaps in an outline narrower than this close, px of a 512th.
_GAP = 2.5
_SHARP_SHARE = 0.4
_HOLE, _LEAST = 0.02, 0.0008
# Largest share of a thing that is a gap in it.
_GAPS = 0.4
# Share of a thing's height, from above, where no shadow on the ground reaches.
_SHADOWLESS = 0.55
_MARGIN = 0.12
# A part thinner than this share of the body's width is a handle, a leg or a spout; above and below it, lid and base.
_THIN, _THICK = 0.17, 0.22
# Shading across a flat face varies by less.
_FLAT = 0.012
BACKDROP = -1
_ROUNDS = 5


@dataclass(frozen=True)
class Goods:
    """A product.

    Attributes
    ----------
    parts : (h, w) number of the part, BACKDROP elsewhere. roles : by part: body, top, base, side or detail.
    normal : x right, y down, z toward the eye, (h, w) each. backdrop : (h, w) lightness of the ground behind, without
    the product and its shadow. shade : (h, w) what the product's shadow leaves of it, 0..1. foot : row it stands on. clear :
    share of its outline that a sharp edge shows, 0..1.
    """

    parts: Int
    roles: tuple[str, ...]
    normal: tuple[Float, Float, Float]
    backdrop: Float
    shade: Float
    foot: int
    unit: float
    clear: float

    @property
    def thing(self) -> Mask:
        return self.parts != BACKDROP


def _slope(light: Float, sigma: float) -> Float:
    soft = blur(light, sigma)
    return np.hypot(cv2.Sobel(soft, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(soft, cv2.CV_32F, 0, 1, scale=0.125))


def _grown(reached: Mask, sharp: AnyArray, size: int) -> Mask:
    """An area that was kept away from sharp edges, back up to them."""
    out = reached.astype(np.uint8)
    for _ in range(size // 2 + 1):
        out = cv2.dilate(out, np.ones((3, 3), np.uint8)) * (1 - sharp)
    return out > 0


def _outside(sharp: AnyArray, unit: float) -> Mask:
    """What can be reached from the picture's sides without passing a sharp edge; gaps in an outline are closed."""
    size = 2 * round(_GAP * unit) + 1
    wall = cv2.dilate(sharp, np.ones((size, size), np.uint8))
    free = np.pad(1 - wall, 1, constant_values=1)
    _, names = cv2.connectedComponents(free, connectivity=4)
    return _grown((names == names[0, 0])[1:-1, 1:-1], sharp, size)


def _linked(strong: Mask, weak: Mask) -> AnyArray:
    """Strong edges, and weak ones that hang on them, 0 or 1."""
    _, names = cv2.connectedComponents((strong | weak).astype(np.uint8), connectivity=8)
    kept = np.zeros(int(names.max()) + 1, np.uint8)
    kept[np.unique(names[strong])] = 1
    kept[0] = 0
    return kept[names]


def _merged(ids: Int, sharp: Float, solid: Mask, rounds: int = _ROUNDS) -> Int:
    """Areas whose common border is mostly soft become one; sharp : (h, w) 1 where an edge is."""
    for _ in range(rounds):
        names, length, share = borders(ids, sharp)
        parent = np.arange(int(ids.max()) + 1)
        for q in np.argsort(share):
            if share[q] > _SHARP_SHARE:
                break
            if length[q] < 3 or 0 in names[q]:
                continue
            a, b = (int(v) for v in names[q])
            while parent[a] != a:
                a = int(parent[a])
            while parent[b] != b:
                b = int(parent[b])
            parent[max(a, b)] = min(a, b)
        for k in range(len(parent)):
            parent[k] = parent[parent[k]]
        merged = parent[ids]
        if np.array_equal(merged, ids):
            break
        ids = merged.astype(np.int32)
    return np.where(solid, ids, 0).astype(np.int32)


def _behind(light: Float, bare: Mask) -> Float:
    """The backdrop carried on behind what stands before it and its shadow, row by row from the picture's sides."""
    out = np.empty_like(light)
    columns = np.arange(light.shape[1])
    sides = np.abs(columns / light.shape[1] - 0.5) > 0.5 - _MARGIN
    for y in range(light.shape[0]):
        known = np.flatnonzero(bare[y] & sides)
        out[y] = np.interp(columns, known, light[y, known]) if len(known) > 1 else np.nan
    rows = np.flatnonzero(np.isfinite(out[:, 0]))
    if len(rows) == 0:
        return np.full_like(light, float(np.median(light)))
    for x in range(light.shape[1]):
        out[:, x] = np.interp(np.arange(light.shape[0]), rows, out[rows, x])
    out = blur(out, 3)
    # What is not shadowed tells how the ground brightens toward the middle.
    lit = (bare & (light > out - _HOLE)).astype(f32)
    sigma = 0.06 * min(light.shape)
    weight = broad(lit, sigma)
    return (out + broad((light - out) * lit, sigma) / np.maximum(weight, 0.02) * (weight > 0.02)).astype(f32)


def _roles(parts: Int, count: int, upright: set[int]) -> tuple[str, ...]:
    """What each part is to the body, which is the largest, and all upright faces of a box."""
    areas = np.bincount(parts[parts >= 0], minlength=count)
    body = int(areas.argmax())
    ys, xs = np.nonzero(parts == body)
    left, right, top, low = (float(v) for v in (*np.percentile(xs, (2, 98)), *np.percentile(ys, (2, 98))))
    found = []
    for k in range(count):
        if k == body or (body in upright and k in upright):
            found.append("body")
            continue
        y, x = (float(v.mean()) for v in np.nonzero(parts == k))
        mask = np.pad((parts == k).astype(np.uint8), 1)
        thick = 2 * float(cv2.distanceTransform(mask, cv2.DIST_L2, 3).max())
        inside = left < x < right
        if y < top + 0.06 * (low - top) and inside:
            found.append("top")
        elif thick > _THICK * (right - left) and not inside:
            # The other face of a box.
            found.append("body")
        elif not inside or (y > low and thick < _THIN * (right - left)):
            found.append("side")
        else:
            found.append("base" if y > low - 0.06 * (low - top) else "detail")
    return tuple(found)


def _turned(mask: Mask, light: Float, normal: Float, unit: float) -> None:
    """Normals of a part that is a body of revolution, or of a flat face, written over those of a cushion."""
    rows = np.flatnonzero(mask.any(1))
    left = mask[rows].argmax(1).astype(float)
    right = mask.shape[1] - mask[rows][:, ::-1].argmax(1).astype(float)
    wide = right - left
    solid = mask[rows].sum(1) / np.maximum(wide, 1)
    axis = float(np.median((left + right) / 2))
    large = float(np.percentile(wide, 90))
    upright = np.abs((left + right) / 2 - axis) < 0.05 * large
    if len(rows) < 12 * unit or solid.mean() < 0.85 or upright.mean() < 0.75:
        return
    # A handle widens some rows on its side and hides the body's edge in others: the quieter side is the body's.
    reach = 2 * round(6 * unit) + 1
    from scipy.ndimage import median_filter

    sides = [median_filter(side.clip(1), reach, mode="constant") for side in (axis - left, right - axis)]
    half = min(sides, key=lambda side: float(np.abs(np.diff(side)).sum()))
    ys, xs = np.nonzero(mask)
    shading = light[rows[0] : rows[-1] + 1, int(np.median(left)) : int(np.median(right))].mean(0)
    if float(shading.std()) < _FLAT:
        normal[mask] = 0.75 * np.array([0, 0, 1], f32) + 0.25 * normal[mask]
    else:
        radius = cv2.GaussianBlur(half.astype(f32)[:, None], (0, 0), 2 * unit, borderType=cv2.BORDER_REPLICATE)[:, 0]
        # A step of one pixel in the outline would run as a streak across the body.
        slope = np.clip(np.gradient(blur(radius[:, None], 7 * unit)[:, 0]), -3, 3)
        i = np.searchsorted(rows, ys)
        across = np.clip((xs + 0.5 - axis) / np.maximum(radius[i], 1), -1, 1)
        normal[mask] = np.stack([across, -slope[i], np.sqrt(1 - across**2)], 1)
    normal[mask] /= np.linalg.norm(normal[mask], axis=1, keepdims=True)


def _seen_through(outer: Mask, sharp: AnyArray, off: Float, unit: float) -> Mask:
    """What is outside, and the gaps that show the backdrop: through a handle, between legs. off : lightness less the backdrop's."""
    size = 2 * round(_GAP * unit) + 1
    shut = cv2.dilate(sharp, np.ones((size, size), np.uint8))
    count, names, stats, _ = cv2.connectedComponentsWithStats((~outer & (shut == 0)).astype(np.uint8), connectivity=4)
    found = outer.copy()
    most = _GAPS * float(np.count_nonzero(~outer))
    for k in range(1, count):
        # The face of a box may be as bright as the backdrop; it is most of the thing.
        if not _LEAST * off.size <= stats[k, cv2.CC_STAT_AREA] < most:
            continue
        low, fifth, middle, high = np.percentile(off[names == k], (10, 20, 50, 90))
        # A gap that leaks into what is around it is the backdrop all the same, but for the leak.
        leaking = abs(middle) < 0.4 * _HOLE and high - fifth < 0.75 * _HOLE
        if leaking or (abs(middle) < 1.5 * _HOLE and high - low < 1.5 * _HOLE):
            found |= _grown((names == k) & (np.abs(off) < 1.5 * _HOLE), sharp, size)
    return found


def _solid(outer: Mask, off: Float, unit: float) -> Mask | None:
    """The thing without its shadow: a shadow darkens, and lies low. None where there is none."""
    rows = np.flatnonzero((~outer).any(1))
    if not len(rows):
        return None
    # What is brighter than the backdrop, or stands high and differs, is thing.
    high = np.arange(len(outer))[:, None] < rows[0] + _SHADOWLESS * np.ptp(rows)
    unlike = ((off > 2 * _HOLE) | (high & (off < -2 * _HOLE))).astype(np.uint8)
    thing = ~outer | (cv2.morphologyEx(unlike, cv2.MORPH_OPEN, np.ones((5, 5), np.uint8)) > 0)
    solid = cv2.morphologyEx(thing.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    size = 2 * round(2 * unit) + 1
    solid = cv2.morphologyEx(solid, cv2.MORPH_CLOSE, np.ones((size, size), np.uint8))
    # The rim of a shadow is sharp where it is short: dark threads that lie low are no thing.
    body = cv2.morphologyEx(solid, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (9, 9)))
    kept = (solid > 0) & ((cv2.dilate(body, np.ones((3, 3), np.uint8)) > 0) | high | (off > 0))
    _, names, stats, _ = cv2.connectedComponentsWithStats(cv2.dilate(kept.astype(np.uint8), np.ones((5, 5), np.uint8)))
    stats[0, cv2.CC_STAT_AREA] = 0
    kept &= names == int(stats[:, cv2.CC_STAT_AREA].argmax())
    smooth: Mask = blur(kept.astype(f32), 2.6 * unit) > 0.5
    return smooth if np.count_nonzero(smooth) > 8 * _LEAST * outer.size else None


def _parted(solid: Mask, fine: Float, crisp: Mask) -> Int:
    """Numbers of the parts of a thing, from 0, BACKDROP elsewhere; crumbs go to the part that is nearest."""
    # Loaded here: the server names looks but never draws.
    from skimage.segmentation import watershed

    calm = cv2.erode(((fine < 2 * _CALM) & solid).astype(np.uint8), np.ones((3, 3), np.uint8))
    _, marks = cv2.connectedComponents(calm, connectivity=4)
    ids: Int = watershed(fine, marks, mask=solid).astype(np.int32)
    ids = _merged(ids, cv2.dilate(crisp.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(f32), solid)
    things = np.bincount(ids.ravel()) > _LEAST * solid.size
    things[0] = False
    numbers: Int = np.full(len(things), BACKDROP, np.int32)
    numbers[things] = np.arange(int(things.sum()), dtype=np.int32)
    parts = numbers[ids]
    bare = parts == BACKDROP
    crumbs = solid & bare
    if crumbs.any() and things.any():
        parts = np.where(crumbs, from_nearest(parts, ~bare)[0], parts)
    return parts.astype(np.int32)


def take_goods_apart(light: Float) -> Goods | None:
    """A product (h, w) lightness 0..1 before a plain backdrop, or None where nothing stands there. About .3 s at 512 px."""
    light = np.ascontiguousarray(light, dtype=f32)
    unit = min(light.shape) / 512
    fine, coarse = _slope(light, max(0.8 * unit, 0.6)), _slope(light, max(3.2 * unit, 2.4))
    least = max(_SEEN, 3 * float(np.median(fine)))
    crisp = (fine > least) & (fine > _SHARP * coarse)
    sharp = _linked(crisp, (fine > 0.6 * least) & (fine > _SHARPISH * coarse))
    outer = _outside(sharp, unit)
    behind = _behind(light, outer)
    solid = _solid(_seen_through(outer, sharp, light - behind, unit), blur(light - behind, 0.8 * unit), unit)
    if solid is None:
        return None
    parts = _parted(solid, fine, crisp)
    n = int(parts.max()) + 1
    if n == 0:
        return None
    tall = np.zeros(light.shape, f32)
    for k in range(n):
        tall = np.where(parts == k, swollen(parts == k), tall).astype(f32)
    normal = np.stack(normals(blur(tall * f32(0.9), 0.9 * unit)), -1)
    boxes = box_normals(parts, light, n)
    for k in range(n):
        if k in boxes:
            flattened(normal, parts == k, boxes[k])
        else:
            _turned(parts == k, light, normal, unit)
    bare = parts == BACKDROP
    shade = np.where(bare, np.clip((light / np.maximum(behind, 0.05)) ** 3, 0.1, 1), 1).astype(f32)
    x, y, z = (np.ascontiguousarray(normal[..., c]) for c in range(3))
    foot = int(np.flatnonzero((~bare).any(1))[-1])
    rim = cv2.morphologyEx((~bare).astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)) > 0
    # Where the picture ends no edge can be seen.
    rim[:3], rim[-3:], rim[:, :3], rim[:, -3:] = False, False, False, False
    clear = float(cv2.dilate(sharp, np.ones((5, 5), np.uint8))[rim].mean()) if rim.any() else 0.0
    upright = {k for k, face in boxes.items() if face[1] == 0}
    return Goods(parts, _roles(parts, n, upright), (x, y, z), behind, shade, foot, unit, clear)
