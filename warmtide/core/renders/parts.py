"""Faces of an untextured render: areas of one even grey, sky and ground among them.

Sources
-------
1. S. Beucher, C. Lantuejoul, "Use of watersheds in contour detection", 1979.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from skimage.segmentation import watershed

from ..arrays import AnyArray, Float, Int, f32
from ..scenes.noise import blur

# Slopes and differences of grey below which a border doesn't show, in a render without grain and in a grainy one.
_CALM, _WEAK, _ALIKE = (0.0050, 0.0055), (0.0050, 0.010), (0.040, 0.030)
_GRAIN = (0.0008, 0.0030)
# How much a straight edge counts, however faint it is.
_DRAWN = 0.02
_LEAST = 14
SKY, GROUND = -1, -2


@dataclass(frozen=True)
class Parts:
    """Areas of a render.

    Attributes
    ----------
    ids : (h, w) number of the area from 0; SKY and GROUND for what is no thing. greys : (n,) mean lightness.
    areas : (n,) pixels. unit : pixels to a 512th of the short side.
    """

    ids: Int
    greys: AnyArray
    areas: AnyArray
    unit: float

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


def _straight(light: Float, unit: float) -> Float:
    """Straight edges, faint ones too, made a little longer so that they meet; 0..1."""
    found = cv2.createLineSegmentDetector(1).detect(np.clip(light * 255, 0, 255).astype(np.uint8))[0]
    out = np.zeros(light.shape, np.uint8)
    for x0, y0, x1, y1 in [] if found is None else found.reshape(-1, 4):
        long = float(np.hypot(x1 - x0, y1 - y0))
        if long < 16 * unit:
            continue
        dx, dy = (x1 - x0) / long * 5 * unit, (y1 - y0) / long * 5 * unit
        ends = [(round((x - 0.5) * 8), round((y - 0.5) * 8)) for x, y in ((x0 - dx, y0 - dy), (x1 + dx, y1 + dy))]
        cv2.line(out, ends[0], ends[1], 255, 1, cv2.LINE_AA, 3)
    return (out / 255).astype(f32)


def _borders(ids: Int, slope: Float) -> tuple[AnyArray, AnyArray, AnyArray]:
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


def _merged(ids: Int, light: Float, slope: Float, unit: float, weak: float, alike: float) -> Int:
    """Areas without a border that shows become one."""
    for _ in range(4):
        count = int(ids.max()) + 1
        area = np.bincount(ids.ravel(), minlength=count)
        mean = np.bincount(ids.ravel(), light.ravel(), count) / np.maximum(area, 1)
        names, _, steep = _borders(ids, slope)
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
            if faint or tiny:
                a, b = root(i), root(j)
                if a != b:
                    parent[max(a, b)] = min(a, b)
                    joined = True
        roots = np.array([root(k) for k in range(count)])[ids]
        ids = np.asarray(np.unique(roots, return_inverse=True)[1], np.int32).reshape(ids.shape)
        if not joined:
            break
    return ids.astype(np.int32)


def _reaching(edge: Int, mean: AnyArray, allowed: AnyArray, alike: float) -> AnyArray:
    """Which areas lie beyond an edge of the picture: the one that holds most of it, and those of nearly its grey."""
    share = np.bincount(edge.ravel(), minlength=len(mean)) / edge.size * allowed
    main = int(share.argmax())
    if share[main] < 0.15:
        return np.zeros(len(mean), bool)
    return np.asarray((share > 0.04) & (np.abs(mean - mean[main]) < alike))


def parts_of(light: Float) -> Parts:
    """Part a render (h, w) lightness 0..1 into its faces. About .2 s at 512 px."""
    light = np.ascontiguousarray(light, dtype=f32)
    height, width = light.shape
    unit = min(height, width) / 512
    slope = np.maximum(_slope(light, unit), _DRAWN * _straight(light, unit))
    # How much of a slope is grain: the commonest one.
    grain = float(np.clip((np.median(slope) - _GRAIN[0]) / (_GRAIN[1] - _GRAIN[0]), 0, 1))
    calm, weak, alike = (low + (high - low) * grain for low, high in (_CALM, _WEAK, _ALIKE))
    _, marks, stats, _ = cv2.connectedComponentsWithStats((slope < calm).astype(np.uint8), connectivity=4)
    small = stats[:, cv2.CC_STAT_AREA] < _LEAST * unit * unit
    marks = np.where(small[marks], 0, marks)
    ids: Int = watershed(slope, marks).astype(np.int32) if marks.max() > 0 else np.zeros(light.shape, np.int32)
    ids = _merged(
        np.unique(ids, return_inverse=True)[1].reshape(ids.shape).astype(np.int32), light, slope, unit, weak, alike
    )
    count = int(ids.max()) + 1
    area = np.bincount(ids.ravel(), minlength=count)
    mean = np.bincount(ids.ravel(), light.ravel(), count) / np.maximum(area, 1)
    sky = _reaching(ids[:2], mean, area > 0.02 * ids.size, 0.04)
    ground = _reaching(ids[-2:], mean, (area > 0.02 * ids.size) & ~sky, 0.05)
    if ground.any():
        # A shadow is ground too: dark, and with ground around it.
        names, length, _ = _borders(ids, slope)
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
    return Parts(out, greys, area[things], unit) if n else Parts(out, np.zeros(0), np.zeros(0, int), unit)
