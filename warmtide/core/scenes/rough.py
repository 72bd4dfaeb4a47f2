"""Rough colour that was painted into a region: where it lies, and the picture without it."""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, Mask, f32
from ..maths.colour import to_lab
from ..maths.membrane import membrane

_LEAST_PIXELS = 40
# How far paint lies from what the region's surroundings would be there, and how strong its colour is at least.
_APART, _CHROMA = 0.11, 0.03
# Paint covers this share of its region: less is a speck, more is a region that was filled.
_SHARES = (0.03, 0.8)
# Rough paint is flat and broad: lightness within a blob differs by less than this, a blob is this share of the region at
# least, and such blobs are most of what differs. Else it is the picture's own detail.
_FLAT, _BROAD, _MOSTLY = 0.035, 0.015, 0.7
_RIM = 5


@dataclass(frozen=True)
class Mark:
    """Where one thing, or a row of them, stands: a box in pixels and how much of it is marked."""

    left: int
    top: int
    wide: int
    tall: int
    area: int


def _parts(mask: Mask) -> list[Mark]:
    _, _, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8))
    return [Mark(*(int(v) for v in row)) for row in stats[1:] if row[4] >= _LEAST_PIXELS]


def paint_in(source: Float, region: Byte) -> tuple[Mask, Float]:
    """Where rough colour lies in a region of a picture (h, w, 3), sRGB 0..1, and the picture as it is without it.

    Paint is what has a colour of its own that differs from the smooth surface between the region's rim.
    """
    inside = region > 127
    core = cv2.erode(inside.astype(np.uint8), np.ones((_RIM, _RIM), np.uint8)) > 0
    smooth = membrane(source, ~core)
    lab, behind = to_lab(source), to_lab(np.clip(smooth, 0, 1).astype(f32))
    apart = np.sqrt(((lab - behind) ** 2).sum(-1))
    strong = np.hypot(lab[..., 1] - behind[..., 1], lab[..., 2] - behind[..., 2]) > _CHROMA
    rough = inside & (apart > _APART) & strong
    rough = cv2.morphologyEx(rough.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8)) > 0
    rough = cv2.morphologyEx(rough.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)) > 0
    around = cv2.dilate(rough.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    # What lies between the strokes stays; only they and their soft edges go.
    without = membrane(source, ~(around & inside))
    return rough & inside, np.clip(without, 0, 1).astype(f32)


def _flat_part(rough: Mask, source: Float, region: Mask) -> Mask | None:
    """The blobs of rough colour that a hand painted; None where most of it is the picture's own detail."""
    count, parts, stats, _ = cv2.connectedComponentsWithStats(rough.astype(np.uint8))
    light = to_lab(source)[..., 0]
    # Within blobs only: their soft edges run into the ground. A trunk under a crown is two tones, so steps of few pixels count
    # little.
    step = np.abs(cv2.Laplacian(light, cv2.CV_32F, ksize=3))
    inner = cv2.erode(rough.astype(np.uint8), np.ones((_RIM, _RIM), np.uint8)) > 0
    painted = np.zeros_like(rough)
    for k in range(1, count):
        if stats[k][4] < _BROAD * region.sum():
            continue
        within = (parts == k) & inner
        if within.sum() >= _LEAST_PIXELS // 2 and float(step[within].mean()) < _FLAT:
            painted |= parts == k
    return painted if painted.sum() > _MOSTLY * rough.sum() and painted.any() else None


def marks_in(source: Float, region: Byte) -> tuple[list[Mark], Float]:
    """Marks of a region, and the picture (h, w, 3) that things are drawn into: what was painted roughly, which goes, or
    else the region's own parts."""
    inside = region > 127
    if inside.any():
        rough, without = paint_in(source, region)
        painted = _flat_part(rough, source, inside)
        if painted is not None and _SHARES[0] <= float(rough.sum()) / float(inside.sum()) <= _SHARES[1]:
            return _parts(painted), without
    return _parts(inside), source
