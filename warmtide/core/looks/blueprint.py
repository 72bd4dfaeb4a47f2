"""Blueprint: a building's edges in white line on blue, shade hatched, the lines it is constructed from left faint."""

import cv2
import numpy as np

from ..arrays import AnyArray, Float, f32
from ..materials.texture import clouded
from ..renders.look import building, built_of
from ..renders.parts import SKY
from ..renders.perspective import edges_of
from ..scenes.noise import blur, step
from .base import Original, Sitting

_FINER, _HATCH, _OVER = 2, 7.0, 7.0
_BLUES = ((0.36, -0.025, -0.105), (0.33, -0.005, -0.115), (0.40, -0.045, -0.085))
_WHITE = np.array((0.93, -0.008, -0.012), f32)


def _line(
    cover: AnyArray, ends: AnyArray, longer: float, bright: float, wide: float, random: np.random.Generator
) -> None:
    """A ruled line, run a little over both its ends, on a finer cover, in place."""
    way = ends[2:] - ends[:2]
    long = max(float(np.hypot(*way)), 1e-3)
    a, b = (
        ends[:2] - way / long * longer * random.uniform(0.4, 1.3),
        ends[2:] + way / long * longer * random.uniform(0.4, 1.3),
    )
    layer = np.zeros_like(cover)
    points = [tuple(int(v * _FINER * 8) for v in p) for p in (a, b)]
    cv2.line(layer, points[0], points[1], float(bright), max(1, round(wide * _FINER)), cv2.LINE_AA, 3)
    np.maximum(cover, layer, out=cover)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a render (h, w, 3) OKLab as a blueprint. About .3 s at 512 px, .4 s more once for its planes."""
    original = sitting.original or Original(lab, None)
    built = built_of(original, sitting.cache)
    light = np.ascontiguousarray(original.lab[..., 0])
    height, width = light.shape
    unit = built.parts.unit
    random = sitting.random("draughtsman")
    cover = np.zeros((height * _FINER, width * _FINER), f32)
    edges = edges_of(light, built.parts, 0.02)
    heavy = float((sitting.guidance / 7) ** 0.3)
    if built.view is not None and built.sure:
        order = np.argsort(-edges.lengths)[:14]
        for k in order:
            # What a long edge was ruled from: on to where it vanishes.
            middle = edges.middles[k]
            column = built.view.first if abs(built.view.first - middle[0]) < abs(built.view.second - middle[0]) else built.view.second  # fmt: skip
            if not edges.upright[k] and abs(column) < 4 * width:
                _line(cover, np.array([*middle, column, built.view.horizon]), 0, 0.22, 0.8 * unit, random)
        _line(cover, np.array([0, built.view.horizon, width, built.view.horizon]), 0, 0.20, 0.6 * unit, random)
    for ends, long in zip(edges.ends, edges.lengths, strict=True):
        bright = 0.80 + 0.20 * min(long / (60 * unit), 1)
        _line(cover, ends, _OVER * unit * min(long / (70 * unit), 1), bright, 1.35 * unit * heavy, random)
    for opening in built.openings:
        for a, b in zip(opening.corners, np.roll(opening.corners, -1, 0), strict=True):
            _line(cover, np.array([*a, *b], float), 1.5 * unit, 1.0, 1.15 * unit * heavy, random)
    ys, xs = np.mgrid[0 : height * _FINER, 0 : width * _FINER].astype(f32) / _FINER
    tone = cv2.resize(blur(light, 1.2 * unit), (width * _FINER, height * _FINER), interpolation=cv2.INTER_LINEAR)
    thing = cv2.resize((built.owner != SKY).astype(f32), (width * _FINER, height * _FINER), interpolation=cv2.INTER_LINEAR) > 0.5  # fmt: skip
    inside = light[built.owner != SKY]
    dark, mid = np.percentile(inside, (18, 45)) if len(inside) else (0.3, 0.5)
    for angle, below in ((0.78, float(mid)), (-0.6, float(dark))):
        across = (xs * np.sin(angle) + ys * np.cos(angle)) / (_HATCH * unit)
        off = np.abs(across - np.round(across)) * _HATCH * unit
        ink = np.clip(0.42 * unit + 0.4 - off, 0, 1) * (1 - step(below - 0.02, below + 0.02, tone)) * thing
        cover = np.maximum(cover, 0.42 * ink)
    chalk = cv2.resize(cover, (width, height), interpolation=cv2.INTER_AREA)
    worn = clouded(height, width, 5 * unit, sitting.random("chalk"), 3)
    chalk = np.clip(chalk * (1.25 + 0.10 * worn), 0, 1)
    blue = np.array(_BLUES[int(random.integers(3))], f32)
    out = np.broadcast_to(blue, (height, width, 3)).copy()
    out[..., 0] += 0.012 * clouded(height, width, 120 * unit, sitting.random("washed"), 4) + 0.006 * worn
    for at, down in ((random.uniform(0.3, 0.4), False), (random.uniform(0.62, 0.7), False), (0.5, True)):
        # Folds: it has been carried in a pocket.
        grid = np.arange(height if down else width, dtype=f32)
        fold = np.exp(-(((grid - at * len(grid)) / (1.3 * unit)) ** 2)) - 0.7 * np.exp(
            -(((grid - at * len(grid) - 2.6 * unit) / (1.6 * unit)) ** 2)
        )
        out[..., 0] += 0.035 * (fold[:, None] if down else fold[None])
    change = (lab - original.lab).reshape(-1, 3).mean(0)
    out += np.array((0.3, 0.8, 0.8), f32) * np.clip(change, -0.1, 0.1)
    return np.asarray(out + (_WHITE - out) * chalk[..., None], f32)


LOOK = building(
    "blueprint",
    "Blueprint",
    "White lines on blue: edges ruled a little past their corners, shade hatched, vanishing lines left faint.",
    paint,
    0.3,
)
