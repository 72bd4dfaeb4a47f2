"""The artist's own strokes: paper, its shadow and smudges taken away, and lines that are surely meant.

Sources
-------
1. J. Serra, "Image analysis and mathematical morphology", 1982 (the paper as an upper envelope).
2. J. Canny, "A computational approach to edge detection", 1986 (two thresholds along a line).
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Float, Mask, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep

_DIRECTIONS = 16
_LINE, _STRONG, _WEAK, _GAP = 15, 0.40, 0.15, 16


@dataclass(frozen=True)
class Strokes:
    """What is drawn.

    Attributes
    ----------
    ink : (h, w) 0..1, how dark the artist's strokes are, strong ones 1. line : (h, w) how surely a line runs there,
    1 where it is as strong as the strongest. walls : (h, w) lines that part one area from another. unit : pixels to
    a 640th of the short side.
    """

    ink: Float
    line: Float
    walls: Mask
    unit: float


def _bare(light: Float, unit: float) -> Float:
    """Darkness over the paper, 0..1: paper is what is brightest around."""
    height, width = light.shape
    small = cv2.resize(blur(light, 2 * unit), (max(width // 4, 4), max(height // 4, 4)), interpolation=cv2.INTER_AREA)
    reach = max(int(11 * unit), 3) | 1
    paper = blur(cv2.dilate(small, np.ones((reach, reach), np.uint8)), max(2 * unit, 1))
    paper = cv2.resize(paper, (width, height), interpolation=cv2.INTER_LINEAR)
    return np.clip(1 - light / np.maximum(paper, 0.1), 0, 1).astype(f32)


def _along(ink: Float, unit: float) -> Float:
    """The strongest mean along a short line through every pixel, less what lies beside it: broken strokes join."""
    length = max(int(_LINE * unit), 5) | 1
    middle = length // 2
    thin, wide = blur(ink, 0.9 * unit), blur(ink, 3.2 * unit)
    best = np.zeros_like(ink)
    for k in range(_DIRECTIONS):
        dx, dy = middle * math.cos(math.pi * k / _DIRECTIONS), middle * math.sin(math.pi * k / _DIRECTIONS)
        kernel = np.zeros((length, length), f32)
        ends = ((round(middle - dx), round(middle - dy)), (round(middle + dx), round(middle + dy)))
        cv2.line(kernel, *ends, 1.0, 1, cv2.LINE_AA)
        kernel /= kernel.sum()
        best = np.maximum(best, cv2.filter2D(thin - f32(0.55) * wide, -1, kernel, borderType=cv2.BORDER_REFLECT))
    return blur(best, 1.3 * unit)


def strokes_of(lab: Float) -> Strokes:
    """Find the strokes of a sketch (h, w, 3) OKLab. About .3 s at 512 px."""
    light = np.ascontiguousarray(lab[..., 0])
    unit = min(light.shape) / 640
    dark = _bare(light, unit)
    # Smudges are broad and soft, strokes are not; what is filled in on purpose is broad, and much darker.
    fine = np.clip(dark - 0.9 * blur(dark, 14 * unit), 0, 1)
    filled = smoothstep(0.45, 0.65, blur(dark, 2 * unit)) * dark
    most = max(float(np.percentile(fine, 99.3)), 0.05)
    ink = np.clip(np.maximum(fine / f32(most), filled), 0, 1).astype(f32)
    line = _along(np.clip(fine / f32(most), 0, 1).astype(f32), unit)
    top = max(float(np.percentile(line, 99.3)), 1e-3)
    line = np.clip(line / f32(top), 0, 1).astype(f32)
    # A weak run joins strong ones over a gap; a long weak line is construction and parts nothing.
    far = cv2.distanceTransform((line <= _STRONG).astype(np.uint8), cv2.DIST_L2, 5)
    weak = ((line > _WEAK) & (far < _GAP * unit)).astype(np.uint8)
    count, ids, stats, _ = cv2.connectedComponentsWithStats(weak, connectivity=8)
    size = stats[:, cv2.CC_STAT_AREA]
    strong = np.bincount(ids.ravel(), (line > _STRONG).ravel(), count)
    kept = (size > 60 * unit * unit) & (strong > 0.30 * size)
    kept[0] = False
    return Strokes(ink, line, kept[ids], unit)
