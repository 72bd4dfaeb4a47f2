"""Water: waves as slopes of a repeating texture, mirrored land and sky by Fresnel, glitter, foam, shallows.

Sources
-------
1. J. Tessendorf, "Simulating ocean water", 2001 (waves from a spectrum).
2. A. Schlick, "An inexpensive BRDF model for physically-based rendering", 1994 (Fresnel's term).
"""

import math
from typing import NamedTuple

import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.jit import kernel
from ..maths.sampling import bounded, tiled
from .given import Lit, eye_of, grain
from .view import WATER, Camera
from .walk import Heights


class Waves(NamedTuple):
    """Slopes of the water, unit variance, repeating every `size` metres; their steepness; foam 0..1."""

    x: Float
    z: Float
    size: float
    steep: float
    foam: float
    choppy: bool


def make_waves(random: np.random.Generator, size: float, steep: float, foam: float, cells: int = 256) -> Waves:
    """Waves from a wind that blows about along the view."""
    wind = random.uniform(-0.6, 0.6)
    fz, fx = np.fft.fftfreq(cells)[:, None] * cells, np.fft.fftfreq(cells)[None] * cells
    frequency = np.hypot(fx, fz)
    frequency[0, 0] = 1
    along = (fx * math.sin(wind) + fz * math.cos(wind)) / frequency
    spectrum = np.exp(-((5 / frequency) ** 2)) * frequency**-1.75 * (0.6 + 0.4 * along**4) * (frequency < cells * 0.42)
    spectrum[0, 0] = 0
    heights = np.fft.fft2(random.standard_normal((cells, cells))) * spectrum
    turn = 2j * np.pi / cells
    x, z = (np.fft.ifft2(np.fft.fft2(np.fft.ifft2(heights).real) * turn * f).real for f in (fx, fz))
    scale = math.sqrt(float((x**2).mean() + (z**2).mean()))
    return Waves((x / scale).astype(f32), (z / scale).astype(f32), size, steep, foam, steep > 0.09)


class Mirror(NamedTuple):
    """What the water shows, (h, w, 3), at `scale` of the picture's size and `above` rows taller at its top."""

    picture: Float
    above: float
    scale: float


class Sea(NamedTuple):
    """Water: its level in m, the colour of its depth, the share of the sun's disc that reaches it, haze per metre."""

    level: float
    deep: AnyArray
    shine: float
    haze: float


# Long: mirror, depth, glitter and foam hang on the same slope.
@kernel
def _water(eye, land, lit, waves, mirror, sea, grain, seen, labels, out):  # type: ignore[no-untyped-def]
    rows, columns = seen.shape
    cells = waves.x.shape[0]
    e = eye.y - sea.level
    for j in range(rows):
        for i in range(columns):
            if labels[j, i] != WATER:
                continue
            z = seen[j, i]
            x = (i + 0.5 - eye.middle) / eye.focal * z
            foot = z * z / (eye.focal * e)
            coarse = waves.steep / (1 + foot / (waves.size * 0.02))
            small = waves.steep * 0.7 / (1 + foot / (waves.size * 0.006))
            calm = 1.0
            if not waves.choppy:
                calm = 0.25 + 0.75 * min(max(0.5 + 0.8 * tiled(grain.soft, x / 18.0, z / 42.0), 0.0), 1.0)
            u = x / waves.size * cells
            v = z / waves.size * cells
            gx = (tiled(waves.x, u, v) * coarse + tiled(waves.x, u * 3.7 + 9, v * 3.7) * small) * calm
            gz = (tiled(waves.z, u, v) * coarse + tiled(waves.z, u * 3.7 + 9, v * 3.7) * small) * calm
            # Waves finer than a pixel's footprint make the water rough instead of wavy.
            rough = 1 - 1 / (1 + foot / (waves.size * 0.02))
            d = math.sqrt(x * x + z * z + e * e)
            vx = x / d
            vy = -e / d
            vz = z / d
            norm = 1 / math.sqrt(1 + gx * gx + gz * gz)
            nx = -gx * norm
            ny = norm
            nz = -gz * norm
            facing = -(vx * nx + vy * ny + vz * nz)
            angle = min(max(facing, 0.02) + 0.40 * rough * waves.steep, 1.0)
            fresnel = 0.02 + 0.98 * (1 - angle) ** 5 / (1 + 4.0 * rough * waves.steep)
            rx = vx + 2 * facing * nx
            ry = abs(vy + 2 * facing * ny) + 0.004 + rough * waves.steep * 0.10
            rz = max(vz + 2 * facing * nz, 0.05)
            mx = (eye.middle + eye.focal * rx / rz) * mirror.scale
            my = (eye.horizon - eye.focal * ry / rz + mirror.above) * mirror.scale
            hx = lit.sun[0] - vx
            hy = lit.sun[1] - vy
            hz = lit.sun[2] - vz
            half = (nx * hx + ny * hy + nz * hz) / math.sqrt(hx * hx + hy * hy + hz * hz)
            glitter = 0.0
            if half > 0:
                spread = 0.0018 + rough * waves.steep * waves.steep * 0.55
                slope2 = (1 - half * half) / max(half * half, 1e-3)
                glitter = math.exp(-slope2 / spread) / (spread * 12.0) * 0.03
                glitter = max(glitter * (1 + 0.96 * tiled(grain.fine, u * 2.3, v * 0.9)), 0.0)
            deepness = max(sea.level - bounded(land.far, (x - land.left) / land.cell, z / land.cell), 0.0)
            crest = max(0.0, gz * -1.2 + 0.35) * 0.35
            white = 0.0
            if waves.foam > 0:
                tips = tiled(grain.soft, u * 0.9 + 60, v * 0.9) * 0.6 + tiled(grain.fine, u * 3, v * 3) * 0.35
                tips += (gx * gx + gz * gz) * 0.72 / (waves.steep * waves.steep + 0.01)
                white = min(max((tips - (2.35 - waves.foam)) * 1.2, 0.0), 1.0) * max(0.0, 1 - rough * 0.6)
                if deepness < 1.6:
                    # Lines of foam that follow the depth, broken along the shore, the last one thin and whole.
                    drift = 1.3 * tiled(grain.soft, x * 0.35, z * 0.35) + 0.5 * tiled(grain.soft, x * 1.7, z * 1.7)
                    crest_line = max(0.0, math.sin(deepness * 7.0 + drift)) ** 5
                    broken = min(max(0.35 + 0.6 * tiled(grain.soft, x * 0.9 + 31, z * 0.9), 0.0), 1.0)
                    lace = min(max(0.75 + 0.35 * tiled(grain.fine, x * 3.0, z * 3.0), 0.0), 1.0)
                    wash = crest_line * broken * lace * (1 - deepness / 1.6) + math.exp(-deepness * 22.0) * 0.8
                    white = max(white, min(1.0, wash))
            body = 0.55 + crest * 1.4 + 0.54 * math.exp(-deepness * 0.6)
            for k in range(3):
                own = sea.deep[k] * body * (lit.ambient[k] * 1.1 + lit.colour[k] * 0.18 * max(lit.sun[1], 0.08))
                light = own * (1 - fresnel) + bounded(mirror.picture[:, :, k], mx, my) * fresnel
                light += sea.shine * glitter * lit.colour[k] * (0.02 + fresnel)
                light = light * (1 - white) + white * 0.75 * (
                    lit.ambient[k] * 0.8 + lit.colour[k] * max(lit.sun[1], 0.1) * 0.7
                )
                through = math.exp(-z * (sea.haze + 1.2e-5 * (1 + k * 0.6)))
                out[j, i, k] = light * through + lit.air[i, k] * (1 - through)


def flood(
    camera: Camera, eye: float, land: Heights, seen: Float, labels: Byte, mirror: Mirror, lit: Lit, sea: Sea, waves: Waves,
    out: Float,
) -> None:  # fmt: skip
    """Paint the water of a view into `out` (h, w, 3), linear; `eye` is the camera's height on the map."""
    _water(eye_of(camera, eye), land, lit, waves, mirror, sea, grain(), seen, labels, out)
