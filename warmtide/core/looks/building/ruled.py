"""A building's edges ruled with a pen, and its shade hatched, as a draughtsman does.

All is drawn twice as fine as the picture.
"""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...understanding.building.parts import SKY
from ...understanding.building.perspective import edges_of
from ...understanding.building.planes import Built

FINER = 2
_OVER = 7.0
# Rows that stay in the processor's cache.
_STRIP = 16


def rule(
    cover: AnyArray, ends: AnyArray, longer: float, bright: float, wide: float, random: np.random.Generator
) -> None:
    """A ruled line, run a little over both its ends, on a finer cover, in place."""
    way = ends[2:] - ends[:2]
    long = max(float(np.hypot(*way)), 1e-3)
    a, b = (
        ends[:2] - way / long * longer * random.uniform(0.4, 1.3),
        ends[2:] + way / long * longer * random.uniform(0.4, 1.3),
    )
    thick = max(1, round(wide * FINER))
    # Only the window that the line crosses is drawn on.
    left, top = (int(max(v, 0)) for v in np.floor(np.minimum(a, b) * FINER) - thick - 2)
    right, low = (int(max(v, 0)) for v in np.ceil(np.maximum(a, b) * FINER) + thick + 3)
    window = cover[top:low, left:right]
    if not window.size:
        return
    layer = np.zeros_like(window)
    points = [(int(p[0] * FINER * 8) - left * 8, int(p[1] * FINER * 8) - top * 8) for p in (a, b)]
    cv2.line(layer, points[0], points[1], float(bright), thick, cv2.LINE_AA, 3)
    np.maximum(window, layer, out=window)


def ruled(built: Built, light: Float, random: np.random.Generator, heavy: float = 1.0, faint: float = 0.22) -> Float:
    """Lines (2 h, 2 w) 0..1 of a building: edges a little past their corners, openings, what they were constructed from.

    Parameters
    ----------
    heavy : factor on the width of lines. faint : how plain lines of construction are; they are left out of a building
    that is not understood.
    """
    height, width = light.shape
    unit = built.parts.unit
    cover = np.zeros((height * FINER, width * FINER), f32)
    edges = edges_of(light, built.parts, 0.02)
    if built.view is not None and built.sure and faint > 0:
        for k in np.argsort(-edges.lengths)[:14]:
            # What a long edge was ruled from: on to where it vanishes.
            middle = edges.middles[k]
            nearer = abs(built.view.first - middle[0]) < abs(built.view.second - middle[0])
            column = built.view.first if nearer else built.view.second
            if not edges.upright[k] and abs(column) < 4 * width:
                rule(cover, np.array([*middle, column, built.view.horizon]), 0, faint, 0.8 * unit, random)
        rule(cover, np.array([0, built.view.horizon, width, built.view.horizon]), 0, faint, 0.8 * unit, random)
    for ends, long in zip(edges.ends, edges.lengths, strict=True):
        bright = 0.80 + 0.20 * min(long / (60 * unit), 1)
        rule(cover, ends, _OVER * unit * min(long / (70 * unit), 1), bright, 1.35 * unit * heavy, random)
    for opening in built.openings:
        for a, b in zip(opening.corners, np.roll(opening.corners, -1, 0), strict=True):
            rule(cover, np.array([*a, *b], float), 1.5 * unit, 1.0, 1.15 * unit * heavy, random)
    return cover


def hatched(built: Built, light: Float, gap: float, strong: float) -> Float:
    """Parallel lines (2 h, 2 w) 0..1 over what is shaded, crossed where it is dark; `gap` units apart."""
    height, width = light.shape
    unit = built.parts.unit
    size = (width * FINER, height * FINER)
    tone = cv2.resize(blur(light, 1.2 * unit), size, interpolation=cv2.INTER_LINEAR)
    thing = cv2.resize((built.owner != SKY).astype(f32), size, interpolation=cv2.INTER_LINEAR) > 0.5
    inside = light[built.owner != SKY]
    dark, mid = np.percentile(inside, (18, 45)) if len(inside) else (0.3, 0.5)
    found = np.zeros((size[1], size[0]), f32)
    columns = np.arange(size[0], dtype=f32)[None] / FINER
    for top in range(0, size[1], _STRIP):
        view = np.s_[top : top + _STRIP]
        rows = np.arange(top, min(top + _STRIP, size[1]), dtype=f32)[:, None] / FINER
        for angle, below in ((0.78, float(mid)), (-0.6, float(dark))):
            across = (columns * f32(np.sin(angle)) + rows * f32(np.cos(angle))) / f32(gap * unit)
            off = np.abs(across - np.round(across)) * f32(gap * unit)
            ink = np.clip(f32(0.42 * unit + 0.4) - off, 0, 1) * (1 - smoothstep(below - 0.02, below + 0.02, tone[view]))
            found[view] = np.maximum(found[view], f32(strong) * ink * thing[view])
    return found
