"""Water: waves as slopes of a repeating texture, mirrored land and sky by Fresnel, glitter, foam, shallows.

Sources
-------
1. J. Tessendorf, "Simulating ocean water", 2001 (waves from a spectrum).
2. A. Schlick, "An inexpensive BRDF model for physically-based rendering", 1994 (Fresnel's term).
"""

import math
from dataclasses import dataclass

import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.jit import kernel
from ..maths.noise import fine_texture, soft_texture
from ..maths.sampling import bounded, tiled
from .view import Camera


@dataclass(frozen=True)
class Waves:
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


@kernel
def _water(  # type: ignore[no-untyped-def]
    focal, middle, horizon, eye, level, seen, labels, mirror, above, mirror_scale, far, cell, left, sun, colour,
    ambient, deep, shine, air, haze, wave_x, wave_z, size, steep, foam, choppy, soft, fine, out,
):  # fmt: skip
    rows, columns = seen.shape
    cells = wave_x.shape[0]
    e = eye - level
    for j in range(rows):
        for i in range(columns):
            if labels[j, i] != 1:
                continue
            z = seen[j, i]
            x = (i + 0.5 - middle) / focal * z
            foot = z * z / (focal * e)
            coarse = steep / (1 + foot / (size * 0.02))
            small = steep * 0.7 / (1 + foot / (size * 0.006))
            calm = 1.0
            if not choppy:
                calm = 0.25 + 0.75 * min(max(0.5 + 0.8 * tiled(soft, x / 18.0, z / 42.0), 0.0), 1.0)
            u = x / size * cells
            v = z / size * cells
            gx = (tiled(wave_x, u, v) * coarse + tiled(wave_x, u * 3.7 + 9, v * 3.7) * small) * calm
            gz = (tiled(wave_z, u, v) * coarse + tiled(wave_z, u * 3.7 + 9, v * 3.7) * small) * calm
            # Waves finer than a pixel's footprint make the water rough instead of wavy.
            rough = 1 - 1 / (1 + foot / (size * 0.02))
            d = math.sqrt(x * x + z * z + e * e)
            vx = x / d
            vy = -e / d
            vz = z / d
            norm = 1 / math.sqrt(1 + gx * gx + gz * gz)
            nx = -gx * norm
            ny = norm
            nz = -gz * norm
            facing = -(vx * nx + vy * ny + vz * nz)
            angle = min(max(facing, 0.02) + 0.40 * rough * steep, 1.0)
            fresnel = 0.02 + 0.98 * (1 - angle) ** 5 / (1 + 4.0 * rough * steep)
            rx = vx + 2 * facing * nx
            ry = abs(vy + 2 * facing * ny) + 0.004 + rough * steep * 0.10
            rz = max(vz + 2 * facing * nz, 0.05)
            mx = (middle + focal * rx / rz) * mirror_scale
            my = (horizon - focal * ry / rz + above) * mirror_scale
            hx = sun[0] - vx
            hy = sun[1] - vy
            hz = sun[2] - vz
            half = (nx * hx + ny * hy + nz * hz) / math.sqrt(hx * hx + hy * hy + hz * hz)
            glitter = 0.0
            if half > 0:
                spread = 0.0018 + rough * steep * steep * 0.55
                slope2 = (1 - half * half) / max(half * half, 1e-3)
                glitter = math.exp(-slope2 / spread) / (spread * 12.0) * 0.03
                glitter = max(glitter * (1 + 0.96 * tiled(fine, u * 2.3, v * 0.9)), 0.0)
            deepness = max(level - bounded(far, (x - left) / cell, z / cell), 0.0)
            crest = max(0.0, gz * -1.2 + 0.35) * 0.35
            white = 0.0
            if foam > 0:
                tips = tiled(soft, u * 0.9 + 60, v * 0.9) * 0.6 + tiled(fine, u * 3, v * 3) * 0.35
                tips += (gx * gx + gz * gz) * 0.72 / (steep * steep + 0.01)
                white = min(max((tips - (2.35 - foam)) * 1.2, 0.0), 1.0) * max(0.0, 1 - rough * 0.6)
                if deepness < 1.6:
                    # Lines of foam that follow the depth, broken along the shore, the last one thin and whole.
                    drift = 1.3 * tiled(soft, x * 0.35, z * 0.35) + 0.5 * tiled(soft, x * 1.7, z * 1.7)
                    crest_line = max(0.0, math.sin(deepness * 7.0 + drift)) ** 5
                    broken = min(max(0.35 + 0.6 * tiled(soft, x * 0.9 + 31, z * 0.9), 0.0), 1.0)
                    lace = min(max(0.75 + 0.35 * tiled(fine, x * 3.0, z * 3.0), 0.0), 1.0)
                    wash = crest_line * broken * lace * (1 - deepness / 1.6) + math.exp(-deepness * 22.0) * 0.8
                    white = max(white, min(1.0, wash))
            body = 0.55 + crest * 1.4 + 0.54 * math.exp(-deepness * 0.6)
            for k in range(3):
                own = deep[k] * body * (ambient[k] * 1.1 + colour[k] * 0.18 * max(sun[1], 0.08))
                light = own * (1 - fresnel) + bounded(mirror[:, :, k], mx, my) * fresnel
                light += shine * glitter * colour[k] * (0.02 + fresnel)
                light = light * (1 - white) + white * 0.75 * (ambient[k] * 0.8 + colour[k] * max(sun[1], 0.1) * 0.7)
                through = math.exp(-z * (haze + 1.2e-5 * (1 + k * 0.6)))
                out[j, i, k] = light * through + air[i, k] * (1 - through)


def flood(
    camera: Camera, eye: float, level: float, seen: Float, labels: Byte, mirror: Float, above: float, mirror_scale: float,
    far: Float, cell: float, left: float, sun: AnyArray, colour: AnyArray, ambient: AnyArray, deep: AnyArray,
    shine: float, air: AnyArray, haze: float, waves: Waves, out: Float,
) -> None:  # fmt: skip
    """Paint the water of a view into `out` (h, w, 3), linear.

    Parameters
    ----------
    shine : share of the sun's disc that reaches the water. mirror : what the water shows, (h, w, 3), at `mirror_scale` of the picture's size and `above` rows taller at its top.
    """
    _water(
        camera.focal, camera.middle, camera.horizon, eye, level, seen, labels, mirror, above, mirror_scale, far, cell,
        left, sun, colour, ambient, deep, shine, np.asarray(air, np.float64), haze, waves.x, waves.z, waves.size, waves.steep,
        waves.foam, waves.choppy, soft_texture(), fine_texture(), out,
    )  # fmt: skip
