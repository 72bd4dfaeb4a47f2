"""Scratches and specks of old prints: found where they are no part of the picture, and filled from around.

Sources
-------
1. A. Kokaram, "Detection and removal of line scratches in degraded motion picture sequences", 1996 (thin, straight, long).
2. H. Knutsson, C.-F. Westin, "Normalized and differential convolution", 1993 (filling from what is known).
"""

import math

import cv2
import numpy as np

from ...maths.arrays import Float, Mask, f32
from ...maths.blur import blur

_DIRECTIONS = 18
_LINE, _LONG, _FAINT, _STRONG = 41, 0.16, 2.6, 4.5
_SPECK, _SPECK_STRONG = 90, 4.0


def _standing_out(light: Float, unit: float) -> tuple[Float, Float, float]:
    """Surroundings, lightness less theirs, and the spread of that where nothing stands out."""
    size = max(round(4 * unit), 2) * 2 + 1
    around = cv2.medianBlur((np.clip(light, 0, 1) * 255).astype(np.uint8), size).astype(f32) / f32(255)
    rest = (light - around).astype(f32)
    return around, rest, max(float(np.median(np.abs(rest))) / 0.6745, 0.004)


def _lines(rest: Float, spread: float, unit: float) -> Mask:
    """Long straight thin things that are lighter, or darker, than both their sides all along."""
    length = max(int(_LINE * unit), 9) | 1
    middle = length // 2
    found = np.zeros(rest.shape, bool)
    for sign in (1, -1):
        plane = np.clip(sign * rest / f32(spread), 0, 8)
        best = np.zeros_like(plane)
        for k in range(_DIRECTIONS):
            dx, dy = middle * math.cos(math.pi * k / _DIRECTIONS), middle * math.sin(math.pi * k / _DIRECTIONS)
            kernel = np.zeros((length, length), f32)
            ends = ((round(middle - dx), round(middle - dy)), (round(middle + dx), round(middle + dy)))
            cv2.line(kernel, *ends, 1.0, 1)
            best = np.maximum(best, cv2.filter2D(plane, -1, kernel / kernel.sum(), borderType=cv2.BORDER_REFLECT))
        thin = (best > _FAINT) & (plane > 1.2)
        joined = cv2.morphologyEx(thin.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
        count, ids, stats, _ = cv2.connectedComponentsWithStats(joined, connectivity=8)
        for k in range(1, count):
            x, y, wide, tall, area = stats[k]
            span = math.hypot(wide, tall)
            if span < _LONG * min(rest.shape) or area > 3.5 * max(unit, 1) * span:
                continue
            view = np.s_[y : y + tall, x : x + wide]
            mine = ids[view] == k
            # What belongs to the picture is as strong as what it crosses lets it be; a scratch is strong throughout.
            if plane[view][mine].mean() > _STRONG:
                found[view] |= mine
    return found


def _specks(around: Float, rest: Float, spread: float, unit: float) -> Mask:
    """Small blots in calm places."""
    strong = (np.abs(rest) > _SPECK_STRONG * spread).astype(np.uint8)
    count, ids, stats, _ = cv2.connectedComponentsWithStats(strong, connectivity=8)
    # Whether a place is busy is asked without the specks themselves.
    mean = blur(around, 7 * unit)
    busy = np.sqrt(np.maximum(blur(around * around, 7 * unit) - mean * mean, 0))
    calm = np.bincount(ids.ravel(), busy.ravel(), count) / np.maximum(np.bincount(ids.ravel(), minlength=count), 1)
    area, wide, tall = stats[:, cv2.CC_STAT_AREA], stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT]
    round_ = np.maximum(wide, tall) < 2.6 * np.minimum(wide, tall) + 1
    kept = (area <= max(_SPECK * unit * unit, 3)) & round_ & (calm < 0.055)
    kept[0] = False
    return kept[ids]


def damage_of(light: Float, spared: Mask | None = None) -> Mask:
    """Where a print (h, w) lightness 0..1 is scratched or speckled. About .2 s at 512 px.

    spared : where no speck is taken for damage, as pupils in a face would be.
    """
    unit = min(light.shape) / 512
    around, rest, spread = _standing_out(light, unit)
    specks = _specks(around, rest, spread, unit)
    if spared is not None:
        specks &= ~spared
    found = _lines(rest, spread, unit) | specks
    grown = cv2.dilate(found.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    # A picture that seems damaged all over is only rough.
    return grown if grown.mean() < 0.12 else np.zeros_like(grown)


def mended(light: Float, damaged: Mask) -> Float:
    """A print with what is damaged filled from around, finest first. About 20 ms at 512 px."""
    if not damaged.any():
        return light
    known = (~damaged).astype(f32)
    out, left = np.where(damaged, 0, light).astype(f32), damaged.copy()
    for sigma in (1.0, 2.0, 4.0, 8.0, 16.0):
        weight = blur(known, sigma)
        value = blur(light * known, sigma) / np.maximum(weight, 1e-5)
        sure = left & (weight > 0.12)
        out[sure] = value[sure]
        left &= ~sure
    out[left] = float(np.median(light[~damaged])) if (~damaged).any() else 0.5
    # Without the print's own grain a filled scratch would show as a smooth line.
    grain = light - blur(light, 1.2)
    rolled = np.roll(np.where(damaged, 0, grain), (5, 7), (0, 1))
    return np.where(damaged, out + 0.8 * rolled, light).astype(f32)
