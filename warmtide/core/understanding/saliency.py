"""What stands out of a picture: barrier distance to its border, difference from the border's colours, focus, the middle.

Sources
-------
1. J. Zhang et al., "Minimum barrier salient object detection at 80 FPS", 2015.
2. W. Zhu et al., "Saliency optimization from robust background detection", 2014 (what the border is made of is ground).
3. S. Pertuz et al., "Analysis of focus measure operators", 2013.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, Mask, f32
from ..maths.blur import blur
from ..maths.colour import bytes_to_lab
from ..maths.jit import kernel
from ..maths.sizes import smaller

_SIDE, _FOCUS_SIDE = 128, 256
_PASSES = 4
_CHANNELS = (1.0, 1.6, 1.6)
# Width of the border, in short sides, whose colours are the ground's; variance that any border has.
_BORDER, _BORDER_LEAST = 0.07, 6e-4
# Barrier and colour distance that stand out wholly.
_BARRIER_FULL, _COLOUR_FULL = 0.5, 5.0
_CENTRE_SPREAD, _CENTRE_SHARE = 0.33, 0.55


@dataclass(frozen=True, eq=False)
class Salient:
    """`plane` (h, w) 0..1 at a small size, `threshold` where the thing begins, `quality` 0..1 that there is one."""

    plane: Float
    threshold: float
    quality: float


@kernel
def _barrier(plane, distance, high, low, passes):  # type: ignore[no-untyped-def]
    """The least range of values on any way to the border; scans from corner to corner and back."""
    rows, columns = plane.shape
    for turn in range(passes):
        forward = turn % 2 == 0
        step = 1 if forward else -1
        for i in range(1, rows - 1):
            y = i if forward else rows - 1 - i
            for j in range(1, columns - 1):
                x = j if forward else columns - 1 - j
                for side in range(2):
                    py = y - step if side == 0 else y
                    px = x - step if side == 1 else x
                    top = max(high[py, px], plane[y, x])
                    bottom = min(low[py, px], plane[y, x])
                    if top - bottom < distance[y, x]:
                        distance[y, x] = top - bottom
                        high[y, x] = top
                        low[y, x] = bottom


def _barrier_distance(plane: Float) -> Float:
    distance = np.full(plane.shape, 1e9, f32)
    distance[0] = distance[-1] = 0
    distance[:, 0] = distance[:, -1] = 0
    _barrier(plane, distance, plane.copy(), plane.copy(), _PASSES)
    return distance


def _unlike_border(lab: Float) -> Float:
    """Deviations from the colours of each side of the border; the least like side counts least, since a thing may stand
    on one."""
    height, width = lab.shape[:2]
    deep = max(2, round(_BORDER * min(height, width)))
    flat = lab.reshape(-1, 3)
    found = []
    for side in (lab[:deep], lab[-deep:], lab[:, :deep], lab[:, -deep:]):
        colours = side.reshape(-1, 3)
        inverse = np.linalg.inv(np.cov(colours.T) + np.eye(3) * _BORDER_LEAST)
        off = flat - colours.mean(0)
        found.append(np.sqrt(np.maximum(((off @ inverse) * off).sum(1), 0)).reshape(height, width))
    least = np.sort(np.stack(found), axis=0)
    return (0.5 * least[0] + 0.3 * least[1] + 0.2 * least[2]).astype(f32)


def _focus(rgb: Byte) -> tuple[Float, float]:
    """Sharpness (h, w) 0..1, and how much of a depth of field there is."""
    light = np.ascontiguousarray(bytes_to_lab(rgb)[..., 0])
    first, second, third = blur(light, 0.7), blur(light, 1.6), blur(light, 4.5)
    fine, coarse = np.sqrt(blur((first - second) ** 2, 5)), np.sqrt(blur((second - third) ** 2, 5))
    weight = np.minimum(1, coarse / f32(0.03))
    ratio = blur(fine / (coarse + f32(0.012)) * weight, 6) / (blur(weight, 6) + f32(0.15))
    low, high = (float(v) for v in np.percentile(ratio, (15, 97)))
    field = _ramp(high - low, 0.30, 0.45) * _ramp(0.35 - low / max(high, 1e-6), 0, 0.2)
    return np.clip((ratio - low) / max(0.05, high - low), 0, 1).astype(f32), field


def _ramp(value: float, low: float, high: float) -> float:
    return float(np.clip((value - low) / (high - low), 0, 1))


def salient(rgb: Byte) -> Salient:
    """What stands out of a picture (h, w, 3). 15 ms at any size."""
    lab = blur(bytes_to_lab(smaller(rgb, _SIDE)), 1.0)
    height, width = lab.shape[:2]
    barrier = np.zeros((height, width), f32)
    for channel, gain in enumerate(_CHANNELS):
        barrier += f32(gain) * _barrier_distance(np.ascontiguousarray(lab[..., channel]))
    sharp, field = _focus(smaller(rgb, _FOCUS_SIDE))
    sharp = cv2.resize(sharp, (width, height), interpolation=cv2.INTER_AREA)
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    centre = np.exp(-((xs / width - 0.5) ** 2 + (ys / height - 0.5) ** 2) / (2 * _CENTRE_SPREAD**2))
    out = np.sqrt(np.minimum(1, barrier / _BARRIER_FULL) * np.minimum(1, _unlike_border(lab) / _COLOUR_FULL))
    out = out * (1 - 0.6 * field + 0.9 * field * sharp) * (1 - _CENTRE_SHARE + _CENTRE_SHARE * centre)
    calm = blur(out.astype(f32), 2.2)
    most = float(np.percentile(calm, 99.5))
    plane = np.clip(calm / max(most, 1e-6), 0, 1).astype(f32)
    threshold = float(cv2.threshold((plane * 255).astype(np.uint8), 0, 255, cv2.THRESH_OTSU)[0]) / 255
    return Salient(plane, threshold, _quality(plane, threshold, lab, most))


def _quality(plane: Float, threshold: float, lab: Float, most: float) -> float:
    """How surely one thing stands out: it is one piece, apart from its surroundings, no strip across the picture."""
    height, width = plane.shape
    ring_of = cv2.getStructuringElement
    thing = cv2.morphologyEx((plane > threshold).astype(np.uint8), cv2.MORPH_CLOSE, ring_of(cv2.MORPH_ELLIPSE, (7, 7)))
    count, _, sizes, _ = cv2.connectedComponentsWithStats(thing)
    if count < 2:
        return 0.0
    largest = 1 + int(np.argmax(sizes[1:, 4]))
    share = float(sizes[largest, 4] / max(int(thing.sum()), 1))
    inside: Mask = cv2.erode(thing, ring_of(cv2.MORPH_ELLIPSE, (3, 3))) > 0
    wide, near = (cv2.dilate(thing, ring_of(cv2.MORPH_ELLIPSE, (r, r))) > 0 for r in (19, 5))
    around = wide & ~near
    if not around.any() or not inside.any():
        return 0.0
    edge = float(np.linalg.norm(np.median(lab[inside], 0) - np.median(lab[around], 0)))
    is_thing = thing > 0
    spread = float(plane[is_thing].std() + plane[~is_thing].std()) + 1e-6
    apart = float(plane[is_thing].mean() - plane[~is_thing].mean()) / spread
    sides = sizes[largest, 2] / width, sizes[largest, 3] / height
    strip = _ramp(max(sides), 0.78, 0.90) * _ramp(0.62 - min(sides), 0, 0.12)
    return (
        _ramp(apart, 1.62, 1.92) * _ramp(edge, 0.02, 0.045) * _ramp(most, 0.27, 0.40) * _ramp(share, 0.4, 0.7)
        * _ramp(float(thing.mean()), 0.006, 0.015) * (1 - strip)
    )  # fmt: skip


def on_smooth_ground(rgb: Byte) -> tuple[Mask, float]:
    """What stands on a ground without a step (renders, studio pictures): all that does not hang together with the border.

    Returns
    -------
    (h, w) mask and 0..1 that there is such a ground. 8 ms at 256 px.
    """
    lab = blur(bytes_to_lab(rgb), 1.0)
    slopes = [cv2.Scharr(lab, cv2.CV_32F, *way) ** 2 for way in ((1, 0), (0, 1))]
    slope = np.sqrt((slopes[0] + slopes[1]).sum(2)) / 32
    border = np.concatenate([slope[2], slope[-3], slope[:, 2], slope[:, -3]])
    calm = float(np.clip(4 * np.median(border), 0.003, 0.008))
    three = np.ones((3, 3), np.uint8)
    open_ = cv2.erode((slope < calm).astype(np.uint8), three, borderValue=1)
    _, parts = cv2.connectedComponents(np.pad(open_, 1, constant_values=1), connectivity=4)
    ground = cv2.dilate((parts[1:-1, 1:-1] == parts[0, 0]).astype(np.uint8) & open_, three) > 0
    rim = float(np.concatenate([ground[0], ground[-1], ground[:, 0], ground[:, -1]]).mean())
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5))
    thing = cv2.morphologyEx((~ground).astype(np.uint8), cv2.MORPH_OPEN, disc)
    # A step is as wide as the blur: stripped, and lines with it.
    thing = cv2.morphologyEx(cv2.erode(thing, disc, borderValue=1), cv2.MORPH_OPEN, disc)
    if not thing.any():
        return thing > 0, 0.0
    _, _, sizes, _ = cv2.connectedComponentsWithStats(thing)
    share = float(sizes[1:, 4].max()) / max(int((~ground).sum()), 1)
    trust = _ramp(rim, 0.75, 0.9) * _ramp(float(ground.mean()), 0.15, 0.3) * _ramp(share, 0.35, 0.6)
    return cv2.dilate(thing, disc) > 0, trust * _ramp(float(thing.mean()), 0.004, 0.01)
