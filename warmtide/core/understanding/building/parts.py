"""Faces of an untextured render: areas of one even grey, sky and ground among them.

Sources
-------
1. S. Beucher, C. Lantuejoul, "Use of watersheds in contour detection", 1979.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, Int, f32
from ...maths.blur import blur

# Least share of an edge of the picture that what lies beyond it holds.
_LEAST_SHARE = 0.04
# Slopes and differences of grey below which a border doesn't show, in a render without grain and in a grainy one.
_CALM, _WEAK, _ALIKE = (0.0050, 0.0055), (0.0050, 0.010), (0.040, 0.030)
_GRAIN = (0.0008, 0.0030)
# How much a straight edge counts, however faint it is.
_DRAWN = 0.02
_LEAST = 14
# How much faint edges are strengthened before they are looked for.
_STRETCH = 5.0
# An edge is drawn this much longer at both ends; a faint join as far as the next edge, if that is near. Px of a 512th.
_LONGER, _REACH = 5.0, 30
# A faint edge is followed by at most so many steps of so many pixels.
_STEPS, _STEP = 24, 8.0
# Least step of lightness that makes a faint edge.
_FAINT = 0.006
# Share of the columns in which sky and ground meet.
_MEETING = 0.05
SKY, GROUND = -1, -2


@dataclass(frozen=True)
class Parts:
    """Areas of a render.

    Attributes
    ----------
    ids : (h, w) number of the area from 0; SKY and GROUND for what is no thing. greys : (n,) mean lightness.
    areas : (n,) pixels. unit : pixels to a 512th of the short side. edges : (h, w) 1 where an edge is seen, faint ones too. plain, traced : ends (n, 4) px of its `straight_edges`.
    """

    ids: Int
    greys: AnyArray
    areas: AnyArray
    unit: float
    edges: Byte
    plain: AnyArray
    traced: AnyArray

    @property
    def count(self) -> int:
        return len(self.areas)

    @property
    def sky(self) -> AnyArray:
        return self.ids == SKY

    @property
    def ground(self) -> AnyArray:
        return self.ids == GROUND


def _slope(light: Float, unit: float) -> Float:
    soft = blur(light, max(0.8 * unit, 0.6))
    return np.hypot(cv2.Sobel(soft, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(soft, cv2.CV_32F, 0, 1, scale=0.125))


def _segments(light: Float) -> AnyArray:
    """Ends (n, 4) of the straight edges of lightness (h, w) 0..1."""
    found = cv2.createLineSegmentDetector(1).detect(np.clip(light * 255, 0, 255).astype(np.uint8))[0]
    return np.zeros((0, 4)) if found is None else found.reshape(-1, 4).astype(float)


def straight_edges(light: Float, unit: float) -> tuple[AnyArray, AnyArray]:
    """Ends (n, 4) px of the straight edges of lightness (h, w) 0..1: plain ones, and faint ones as far as they go on."""
    plain = _segments(light)
    near = cv2.dilate(drawn(light.shape, plain), np.ones((5, 5), np.uint8))
    soft = blur(light, max(0.7 * unit, 0.5))
    traced = []
    for ends in _segments(0.5 + _STRETCH * (soft - blur(light, 10 * unit))):
        if np.hypot(*(ends[2:] - ends[:2])) < 24 * unit or along(near, ends).mean() > 100:
            continue
        if abs(_step(soft, ends[:2], ends[2:], unit)) > _FAINT:
            traced.append(_followed(soft, ends, unit))
    return plain, np.array(traced).reshape(-1, 4)


def drawn(shape: tuple[int, ...], lines: AnyArray, longer: AnyArray | float = 0.0) -> Byte:
    """Lines (n, 4) drawn, 0..255, each longer by so much (n, 2) before its first and after its last end, px."""
    out = np.zeros(shape, np.uint8)
    for ends, more in zip(lines, np.broadcast_to(longer, (len(lines), 2)), strict=True):
        way = (ends[2:] - ends[:2]) / max(float(np.hypot(*(ends[2:] - ends[:2]))), 1e-6)
        a, b = ends[:2] - way * more[0], ends[2:] + way * more[1]
        at = [(round((x - 0.5) * 8), round((y - 0.5) * 8)) for x, y in (a, b)]
        cv2.line(out, at[0], at[1], 255, 1, cv2.LINE_AA, 3)
    return out


def _straight(
    plain: AnyArray, traced: AnyArray, joins: AnyArray, shape: tuple[int, ...], unit: float
) -> tuple[Float, Float]:
    """Straight edges, faint ones too, without and with joins that are known, made longer so that they meet; 0..1."""
    long = np.hypot(*(plain[:, 2:] - plain[:, :2]).T) >= 16 * unit
    out = drawn(shape, plain[long], _LONGER * unit)
    edges = np.maximum(out, drawn(shape, traced, _reach(out, traced, unit)))
    with_joins = np.maximum(edges, drawn(shape, joins, _reach(edges, joins, unit)))
    return (edges / 255).astype(f32), (with_joins / 255).astype(f32)


def along(field: AnyArray, ends: AnyArray, aside: AnyArray | None = None) -> AnyArray:
    """A field at nine points of a line that is shifted aside."""
    at = ends[:2] + (ends[2:] - ends[:2]) * np.linspace(0, 1, 9)[:, None] + (0 if aside is None else aside)
    at = at.astype(f32)
    return cv2.remap(field, at[:, :1].copy(), at[:, 1:].copy(), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)


def _step(light: Float, a: AnyArray, b: AnyArray, unit: float) -> float:
    """How much lightness steps from one side of a line to the other, beyond what it climbs on both sides anyway."""
    way = (b - a) / max(float(np.hypot(*(b - a))), 1e-6)
    side = np.array([-way[1], way[0]]) * unit
    left, near_left, near_right, right = (
        float(along(light, np.concatenate([a, b]), side * off).mean()) for off in (-7.5, -2.5, 2.5, 7.5)
    )
    beside = right - near_right, near_left - left
    # Beside a strong edge everything steps.
    return 0.0 if max(map(abs, beside)) > abs(near_right - near_left) else near_right - near_left - sum(beside) / 2


def _followed(light: Float, ends: AnyArray, unit: float) -> AnyArray:
    """A faint edge made longer at both ends as far as its two sides differ."""
    way = (ends[2:] - ends[:2]) / max(float(np.hypot(*(ends[2:] - ends[:2]))), 1e-6)
    own = _step(light, ends[:2], ends[2:], unit)
    longer = ends.copy()
    for end, forth in ((0, -way), (2, way)):
        for _ in range(_STEPS):
            at = longer[end : end + 2].copy()
            beyond = at + forth * _STEP * unit
            inside = 0 <= beyond[0] < light.shape[1] and 0 <= beyond[1] < light.shape[0]
            on = _step(light, at, beyond, unit) * (1 if end else -1)
            if not inside or not 0.4 < on / (own or 1.0) < 2.5 or abs(on) < _FAINT / 2:
                break
            longer[end : end + 2] = beyond
    return longer


def _reach(drawn: Byte, lines: AnyArray, unit: float) -> AnyArray:
    """How much longer (n, 2) px each line must be at both ends to meet what is drawn."""
    found = [(_to_next(drawn, e[2:], e[:2], unit), _to_next(drawn, e[:2], e[2:], unit)) for e in lines]
    return np.array(found).reshape(-1, 2) * unit


def _to_next(drawn: Byte, start: AnyArray, end: AnyArray, unit: float) -> float:
    """How much longer a line from one point to another must be to meet what is drawn, or a little if nothing is near."""
    way = (end - start) / max(float(np.hypot(*(end - start))), 1e-6)
    for far in range(2, _REACH):
        x, y = (round(float(v)) for v in end + way * far * unit - 0.5)
        if not (0 <= x < drawn.shape[1] and 0 <= y < drawn.shape[0]) or drawn[y, x] > 100:
            return far + 1.0
    return 9.0


def borders(ids: Int, slope: Float) -> tuple[AnyArray, AnyArray, AnyArray]:
    """Pairs of touching areas (m, 2), length and mean slope of each border."""
    rows, values = [], []
    for a, b, x, y in (
        (ids[:, :-1], ids[:, 1:], slope[:, :-1], slope[:, 1:]),
        (ids[:-1], ids[1:], slope[:-1], slope[1:]),
    ):
        apart = a != b
        rows.append(np.stack([np.minimum(a, b)[apart], np.maximum(a, b)[apart]], 1))
        values.append(np.maximum(x, y)[apart])
    pairs, steep = np.concatenate(rows), np.concatenate(values)
    if not len(pairs):
        return np.zeros((0, 2), int), np.zeros(0), np.zeros(0)
    names, index = np.unique(pairs, axis=0, return_inverse=True)
    length = np.bincount(index.ravel())
    return names, length, np.bincount(index.ravel(), steep) / length


def _merged(
    ids: Int, light: Float, slope: Float, unit: float, weak: float, alike: float, kept: AnyArray | None = None
) -> Int:
    """Areas without a border that shows become one, but for those that are kept (n,)."""
    for _ in range(4):
        count = int(ids.max()) + 1
        area = np.bincount(ids.ravel(), minlength=count)
        mean = np.bincount(ids.ravel(), light.ravel(), count) / np.maximum(area, 1)
        names, _, steep = borders(ids, slope)
        parent = np.arange(count)

        def root(k: int, parent: AnyArray = parent) -> int:
            while parent[k] != k:
                parent[k] = parent[parent[k]]
                k = int(parent[k])
            return k

        joined = False
        for q in np.argsort(steep):
            i, j = (int(v) for v in names[q])
            # What is hardly parted, or parted by a line and otherwise the same, is one.
            faint = steep[q] < weak and abs(mean[i] - mean[j]) < alike
            tiny = min(area[i], area[j]) < _LEAST * unit * unit
            if (faint or tiny) and not (kept is not None and (kept[i] or kept[j])):
                a, b = root(i), root(j)
                if a != b:
                    parent[max(a, b)] = min(a, b)
                    joined = True
        roots = np.array([root(k) for k in range(count)])[ids]
        names, numbers = np.unique(roots, return_inverse=True)
        ids = np.asarray(numbers, np.int32).reshape(ids.shape)
        kept = None if kept is None else kept[names]
        if not joined:
            break
    return ids.astype(np.int32)


def _reaching(edge: Int, mean: AnyArray, allowed: AnyArray, alike: float) -> AnyArray:
    """Which areas lie beyond an edge of the picture: the one that holds most of it, and those of nearly its grey."""
    share = np.bincount(edge.ravel(), minlength=len(mean)) / edge.size * allowed
    main = int(share.argmax())
    if share[main] < _LEAST_SHARE:
        return np.zeros(len(mean), bool)
    return np.asarray((share > 0.04) & (np.abs(mean - mean[main]) < alike))


def _outer(ids: Int, light: Float) -> tuple[AnyArray, AnyArray]:
    """Which areas (n,) are sky, which ground."""
    area = np.bincount(ids.ravel())
    mean = np.bincount(ids.ravel(), light.ravel()) / np.maximum(area, 1)
    large = area > 0.02 * ids.size
    half = len(ids) // 2

    def beyond(edge: Int, rows: Int, allowed: AnyArray, alike: float) -> AnyArray:
        # A building may leave the picture above or below; sky and ground reach a side as well, unless nothing does.
        aside = np.isin(np.arange(len(area)), np.concatenate([rows[:, 0], rows[:, -1]]))
        found = _reaching(edge, mean, allowed & aside, alike)
        return found if found.any() else _reaching(edge, mean, allowed & large, alike)

    sky = beyond(ids[:2], ids[:half], area > 0, 0.04)
    return sky, beyond(ids[-2:], ids[half:], ~sky, 0.05)


def meeting_row(ids: Int) -> float | None:
    """Row in which sky and ground meet along a level line, or None."""
    meet = (ids[:-1] == SKY) & (ids[1:] == GROUND)
    if np.count_nonzero(meet.any(0)) < _MEETING * ids.shape[1]:
        return None
    return float(np.median(np.nonzero(meet)[0])) + 1


def parts_of(light: Float, joins: AnyArray | None = None, before: Parts | None = None) -> Parts:
    """Part a render (h, w) lightness 0..1 into its faces. About .2 s at 512 px.

    Parameters
    ----------
    joins : ends (n, 4) px of lines that part, or None. before : the same render parted without them, if it was.
    """
    # Loaded here: the server names looks but never draws.
    from skimage.segmentation import watershed

    light = np.ascontiguousarray(light, dtype=f32)
    height, width = light.shape
    unit = min(height, width) / 512
    plain, traced = straight_edges(light, unit) if before is None else (before.plain, before.traced)
    edges, lines = _straight(plain, traced, np.zeros((0, 4)) if joins is None else joins, light.shape, unit)
    slope = _slope(light, unit)
    seen = np.maximum(slope, _DRAWN / 255 * drawn(light.shape, np.concatenate([plain, traced])))
    shown, slope = np.maximum(slope, _DRAWN * edges), np.maximum(slope, _DRAWN * lines)
    # How much of a slope is grain: the commonest one.
    grain = float(np.clip((np.median(slope) - _GRAIN[0]) / (_GRAIN[1] - _GRAIN[0]), 0, 1))
    calm, weak, alike = (low + (high - low) * grain for low, high in (_CALM, _WEAK, _ALIKE))
    _, marks, stats, _ = cv2.connectedComponentsWithStats((slope < calm).astype(np.uint8), connectivity=4)
    small = stats[:, cv2.CC_STAT_AREA] < _LEAST * unit * unit
    marks = np.where(small[marks], 0, marks)
    ids: Int = watershed(slope, marks).astype(np.int32) if marks.max() > 0 else np.zeros(light.shape, np.int32)
    ids = np.unique(ids, return_inverse=True)[1].reshape(ids.shape).astype(np.int32)
    ids = _merged(ids, light, slope, unit, weak, alike)
    if joins is not None:
        # Joins part a building from sky and ground; two halves of one wall they leave together.
        sky, ground = _outer(ids, light)
        ids = _merged(ids, light, shown, unit, weak, alike, sky | ground)
    count = int(ids.max()) + 1
    area = np.bincount(ids.ravel(), minlength=count)
    sky, ground = _outer(ids, light)
    if ground.any():
        # A shadow is ground too: dark, and with ground around it.
        names, length, _ = borders(ids, slope)
        around, on_ground = np.zeros(count), np.zeros(count)
        for (i, j), long in zip(names, length, strict=True):
            around[i] += long
            around[j] += long
            on_ground[i] += long * ground[j]
            on_ground[j] += long * ground[i]
        greys = np.bincount(ids.ravel(), light.ravel(), count) / np.maximum(area, 1)
        level = float((greys[ground] * area[ground]).sum() / area[ground].sum())
        ground = ground | (~sky & (on_ground > 0.42 * around) & (greys < level - 0.05))
    numbers: Int = np.full(count, -9, np.int32)
    numbers[sky], numbers[ground] = SKY, GROUND
    things = numbers == -9
    numbers[things] = np.arange(np.count_nonzero(things), dtype=np.int32)
    out = numbers[ids].astype(np.int32)
    n = int(things.sum())
    greys = np.bincount(ids.ravel(), light.ravel(), count)[things] / np.maximum(area[things], 1)
    clear = (seen > 1.4 * weak).astype(np.uint8)
    areas = area[things] if n else np.zeros(0, int)
    return Parts(out, greys if n else np.zeros(0), areas, unit, clear, plain, traced)
