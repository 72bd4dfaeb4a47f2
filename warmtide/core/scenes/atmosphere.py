"""Colour of a clear sky by single scattering, and of sunlight that comes through it.

Sources
-------
1. T. Nishita et al., "Display of the Earth taking into account atmospheric scattering", 1993.
2. S. Hillaire, "A scalable and production ready sky and atmosphere rendering technique", 2020 (ozone, second order).
"""

import math

import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.jit import kernel

# Scattering and absorption per metre at sea level, red to blue.
RAYLEIGH = np.array([5.8e-6, 13.5e-6, 33.1e-6])
_OZONE = np.array([0.65e-6, 1.88e-6, 0.085e-6])
_MIE = 3.6e-6
_SUN = 20.0
_EARTH, _TOP = 6360e3, 6430e3


# Long: one integral.
@kernel
def _scatter(directions, sun, rayleigh, ozone, mie, out):  # type: ignore[no-untyped-def]
    earth = 6360e3
    top = 6430e3
    along = 20
    to_sun = 8
    start = earth + 150.0
    for q in range(directions.shape[0]):
        dx = directions[q, 0]
        dy = max(directions[q, 1], -0.005) + 0.006
        dz = directions[q, 2]
        cosine = dx * sun[0] + dy * sun[1] + dz * sun[2]
        phase_r = 0.0597 * (1 + cosine * cosine)
        g = 0.77
        phase_m = 0.1194 * ((1 - g * g) * (1 + cosine * cosine)) / ((2 + g * g) * (1 + g * g - 2 * g * cosine) ** 1.5)
        b = start * dy
        length = -b + math.sqrt(max(b * b - start * start + top * top, 0.0))
        depth_r = 0.0
        depth_m = 0.0
        depth_o = 0.0
        before = 0.0
        for s in range(along):
            after = length * ((s + 1.0) / along) ** 2
            part = after - before
            t = 0.5 * (after + before)
            before = after
            px = dx * t
            py = start + dy * t
            pz = dz * t
            r = math.sqrt(px * px + py * py + pz * pz)
            h = max(r - earth, 0.0)
            here_r = math.exp(-h / 8000.0) * part
            here_m = math.exp(-h / 1200.0) * part
            depth_r += here_r
            depth_m += here_m
            depth_o += max(0.0, 1 - abs(h - 25e3) / 15e3) * part
            bb = px * sun[0] + py * sun[1] + pz * sun[2]
            way = -bb + math.sqrt(max(bb * bb - (r * r - top * top), 0.0))
            sun_r = 0.0
            sun_m = 0.0
            sun_o = 0.0
            shadowed = False
            was = 0.0
            for m in range(to_sun):
                now = way * ((m + 1.0) / to_sun) ** 1.6
                du = now - was
                u = 0.5 * (now + was)
                was = now
                qx = px + sun[0] * u
                qy = py + sun[1] * u
                qz = pz + sun[2] * u
                hh = math.sqrt(qx * qx + qy * qy + qz * qz) - earth
                if hh < -2000:
                    shadowed = True
                    break
                hh = max(hh, 0.0)
                sun_r += math.exp(-hh / 8000.0) * du
                sun_m += math.exp(-hh / 1200.0) * du
                sun_o += max(0.0, 1 - abs(hh - 25e3) / 15e3) * du
            if shadowed:
                continue
            for c in range(3):
                tau = rayleigh[c] * (depth_r + sun_r) + mie * 1.1 * (depth_m + sun_m) + ozone[c] * (depth_o + sun_o)
                # The second term stands for light scattered more than once, which dims more slowly.
                again = math.exp(-tau * 0.3) * 0.0275
                out[q, c] += (rayleigh[c] * here_r * phase_r + mie * here_m * phase_m) * math.exp(-tau)
                out[q, c] += (rayleigh[c] * here_r + mie * here_m * 0.6) * again


def scattered(directions: AnyArray, sun: AnyArray, haze: float = 1.0) -> Float:
    """Radiance of a clear sky along unit directions (..., 3), linear RGB. About 15 ms for 2300 directions."""
    flat = np.ascontiguousarray(directions.reshape(-1, 3), dtype=np.float64)
    out = np.zeros_like(flat)
    _scatter(flat, np.asarray(sun, np.float64), RAYLEIGH, _OZONE, _MIE * haze, out)
    return (out * _SUN).reshape(directions.shape).astype(f32)


def sunlight(elevation: float, haze: float = 1.0) -> AnyArray:
    """Colour of direct sunlight at an elevation in radians, as it arrives on the ground."""
    rise = max(math.sin(elevation), -0.02)
    start = _EARTH + 150
    way = np.linspace(0, 400e3, 600)
    height = np.maximum(np.sqrt(start * start + 2 * start * rise * way + way**2) - _EARTH, 0)
    part = 400e3 / 600
    air, dust = np.exp(-height / 8000).sum() * part, np.exp(-height / 1200).sum() * part
    ozone = np.maximum(0, 1 - np.abs(height - 25e3) / 15e3).sum() * part
    return np.asarray(_SUN * np.exp(-(RAYLEIGH * air + _MIE * haze * 0.66 * dust + _OZONE * ozone)))


def dome_light(sun: AnyArray, haze: float = 1.0) -> AnyArray:
    """What the whole sky gives to a level ground, linear RGB."""
    ways = [
        (math.cos(a) * math.cos(e), math.sin(e), math.sin(a) * math.cos(e))
        for e in (0.25, 0.6, 1.1)
        for a in np.arange(0, 6.2, 0.8)
    ]
    return np.asarray(scattered(np.array(ways), sun, haze).mean(0, dtype=np.float64) * 1.6)
