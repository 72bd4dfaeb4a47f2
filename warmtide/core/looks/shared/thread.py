"""Embroidery threads: lit cylinders laid along paths.

Sources
-------
1. X. Chen et al., "Embroidery modeling and rendering", 2012 (thread as an arched cylinder with a twist).
"""

import math

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.jit import kernel
from .brush import Strokes, _footprint

_PER_TURN = 0.5 / math.pi


@kernel
def _wave(turns):  # type: ignore[no-untyped-def]
    """A sine of period 1, to a thousandth: two parabolas, each drawn toward its square."""
    t = turns - math.floor(turns + 0.5)
    y = 8 * t - 16 * t * abs(t)
    return y * (0.775 + 0.225 * abs(y))


@kernel
def _sew(canvas, height, paths, first, last, colours, radii, phases, twist):  # type: ignore[no-untyped-def]
    h, w, _ = canvas.shape
    owner = np.full((h, w), -1, np.int32)
    off, along, across = np.zeros((h, w), np.float32), np.zeros((h, w), np.float32), np.zeros((h, w), np.float32)
    box = np.zeros(4, np.int64)
    for i in range(len(radii)):
        radius = radii[i]
        length = _footprint(paths, i, first[i], last[i], radius, False, owner, off, along, across, box)
        ex = paths[i, last[i], 0] - paths[i, first[i], 0]
        ey = paths[i, last[i], 1] - paths[i, first[i], 1]
        whole = math.sqrt(ex * ex + ey * ey) + 1e-6
        ex, ey = ex / whole, ey / whole
        for y in range(box[2], box[3] + 1):
            for x in range(box[0], box[1] + 1):
                if owner[y, x] != i:
                    continue
                a = min(max(radius + f32(0.5) - math.sqrt(off[y, x]), 0.0), 1.0)
                if a <= 0:
                    continue
                q = min(max(across[y, x] / radius, -1.0), 1.0)
                f = along[y, x] / (length + 1e-6) * 2 - 1
                # The normal leans across the thread, and along it where the stitch dives into the cloth.
                nx, ny = ey * q + ex * f * 0.45, -ex * q + ey * f * 0.45
                nz = math.sqrt(max(1 - q * q, 0.05))
                lit = max(-0.5 * nx - 0.6 * ny + 0.62 * nz, 0.0)
                sheen = max(0.0, 1 - abs(f + 0.25) * 1.3) * max(0.0, 1 - abs(q + 0.25) * 1.2)
                ply = _wave((along[y, x] * twist + q * 1.6 + phases[i]) * _PER_TURN)
                tone = 0.74 + 0.36 * lit + 0.05 * ply * nz
                tone *= 0.80 + 0.20 * min(max((1 - abs(f)) * length * 0.25, 0.0), 1.0)
                light = colours[i, 0] * tone + 0.20 * sheen * sheen * (0.4 + colours[i, 0])
                canvas[y, x, 0] += a * (light - canvas[y, x, 0])
                canvas[y, x, 1] += a * (colours[i, 1] - canvas[y, x, 1])
                canvas[y, x, 2] += a * (colours[i, 2] - canvas[y, x, 2])
                height[y, x] += a * (nz - height[y, x])


def sew(
    canvas: Float, height: Float, strokes: Strokes, colours: Float, radii: AnyArray, phases: AnyArray, twist: float
) -> None:
    """Lay threads in order, in place. colours : (n, 3) OKLab; radii : (n,) pixels; twist : plies per pixel."""
    _sew(
        canvas, height, strokes.paths, strokes.first, strokes.last, colours.astype(f32), radii.astype(f32),
        phases.astype(f32), f32(twist),
    )  # fmt: skip


def weave(height: int, width: int, pitch: float, colour: Float) -> Float:
    """A plain twill cloth (h, w, 3) of one colour; `pitch` is the thread count in pixels."""
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    warp, weft = np.sin(2 * np.pi * xs / pitch), np.sin(2 * np.pi * ys / pitch)
    over = np.sin(2 * np.pi * (xs + ys) / (4 * pitch)) > 0
    cloth = np.empty((height, width, 3), f32)
    cloth[:] = colour
    cloth[..., 0] += 0.035 * np.where(over, np.abs(warp), np.abs(weft)) - 0.02
    return cloth
