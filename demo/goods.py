"""Draw `kettle.png`: the enamel kettle of the lantern walk's tea stall, untextured; a small sphere tracer, grey, soft light.

Metres in tens of centimetres; x right, y up, z away from the eye. What is drawn is also told: which part is seen, and
how it faces.

Sources
-------
1. J. Hart, "Sphere tracing: a geometric method for the antialiased ray tracing of implicit surfaces", 1996.
"""

import math
import sys
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numba import njit, prange

from warmtide.core.maths.arrays import Byte, Float, Int
from warmtide.core.pictures.image import png

BALL, CONE, RING, ROD, BLOCK = 0, 1, 2, 3, 4
_SUN = np.array([-0.55, 0.72, -0.42]) / np.linalg.norm([-0.55, 0.72, -0.42])

# Shapes: kind, part from 1, centre, then three sizes (ball: radii; cone: low radius, high radius, half height; ring: radius,
# thickness, 0; rod: to x, y, thickness; block: half sizes), then rounding.
Shape = tuple[float, ...]
GOODS: dict[str, tuple[Shape, ...]] = {
    "kettle": (
        (CONE, 1, 0, 1.05, 0, 1.15, 0.80, 0.95, 0.10), (BALL, 2, 0, 2.05, 0, 0.80, 0.30, 0.80, 0), (BALL, 3, 0, 2.45, 0, 0.16, 0.16, 0.16, 0),
        (ROD, 4, 0.95, 0.85, 0, 1.75, 2.05, 0.16, 0), (RING, 5, -1.25, 1.25, 0, 0.62, 0.10, 0, 0),
    ),
    "mug": ((CONE, 1, 0, 1.0, 0, 0.85, 0.95, 1.0, 0.05), (RING, 2, 1.15, 1.05, 0, 0.50, 0.13, 0, 0)),
    "vase": ((BALL, 1, 0, 1.0, 0, 1.0, 1.0, 1.0, 0), (CONE, 1, 0, 2.1, 0, 0.42, 0.34, 0.6, 0.03), (RING, 2, 0, 0.12, 0, 0, 0, 0, 0), (CONE, 3, 0, 2.72, 0, 0.38, 0.52, 0.07, 0.03)),
    "lantern": (
        (CONE, 1, 0, 0.25, 0, 0.95, 0.95, 0.22, 0.05), (CONE, 2, 0, 1.25, 0, 0.70, 0.70, 0.75, 0.03), (CONE, 3, 0, 2.3, 0, 1.0, 0.35, 0.28, 0.03),
        (RING, 4, 0, 2.95, 0, 0.34, 0.06, 0, 0),
    ),
    "speaker": ((BLOCK, 1, 0, 1.4, 0, 0.95, 1.35, 0.8, 0.06), (CONE, 2, 0, 0.95, -0.86, 0.0, 0.0, 0.0, 0), (BALL, 2, 0, 0.95, -0.80, 0.55, 0.55, 0.12, 0), (BALL, 3, 0, 2.1, -0.80, 0.30, 0.30, 0.10, 0)),
    "stool": ((CONE, 1, 0, 2.1, 0, 1.15, 1.2, 0.14, 0.06), (ROD, 2, -0.85, 0.1, 0, -0.6, 2.0, 0.13, 0), (ROD, 2, 0.85, 0.1, 0, 0.6, 2.0, 0.13, 0), (ROD, 3, -0.72, 0.9, 0, 0.72, 0.9, 0.08, 0)),
}  # fmt: skip


@dataclass
class Good:
    """A render (h, w, 3), parts (h, w) from 1 (0 is ground and backdrop), and normals (h, w, 3) x right, y up, z away."""

    picture: Byte
    parts: Int
    normals: Float


@njit(cache=True)
def _one(s, x, y, z):  # type: ignore[no-untyped-def]
    kind = int(s[0])
    px, py, pz = x - s[2], y - s[3], z - s[4]
    if kind == 0:
        k0 = math.sqrt((px / s[5]) ** 2 + (py / s[6]) ** 2 + (pz / s[7]) ** 2)
        k1 = math.sqrt((px / s[5] ** 2) ** 2 + (py / s[6] ** 2) ** 2 + (pz / s[7] ** 2) ** 2)
        return k0 * (k0 - 1) / max(k1, 1e-9)
    if kind == 1:
        if s[7] <= 0:
            return 1e3
        r = math.sqrt(px * px + pz * pz)
        t = min(max((py + s[7]) / (2 * s[7]), 0.0), 1.0)
        side = (r - (s[5] + (s[6] - s[5]) * t)) * math.cos(math.atan((s[5] - s[6]) / (2 * s[7])))
        cap = abs(py) - s[7]
        a, b = max(side + s[8], 0.0), max(cap + s[8], 0.0)
        return min(max(side, cap) + s[8], 0.0) + math.sqrt(a * a + b * b) - s[8]
    if kind == 2:
        if s[5] <= 0:
            return 1e3
        q = math.sqrt(px * px + py * py) - s[5]
        return math.sqrt(q * q + pz * pz) - s[6]
    if kind == 3:
        bx, by = s[5] - s[2], s[6] - s[3]
        t = min(max((px * bx + py * by) / (bx * bx + by * by), 0.0), 1.0)
        return math.sqrt((px - bx * t) ** 2 + (py - by * t) ** 2 + pz * pz) - s[7]
    qx, qy, qz = abs(px) - s[5] + s[8], abs(py) - s[6] + s[8], abs(pz) - s[7] + s[8]
    out = math.sqrt(max(qx, 0.0) ** 2 + max(qy, 0.0) ** 2 + max(qz, 0.0) ** 2)
    return out + min(max(qx, max(qy, qz)), 0.0) - s[8]


@njit(cache=True)
def _apart(shapes, x, y, z):  # type: ignore[no-untyped-def]
    least, part = y, 0.0
    for i in range(shapes.shape[0]):
        d = _one(shapes[i], x, y, z)
        if d < least:
            least, part = d, shapes[i, 1]
    return least, part


@njit(cache=True)
def _shadow(shapes, x, y, z, dx, dy, dz, reach, soft):  # type: ignore[no-untyped-def]
    seen, t = 1.0, 0.04
    while t < reach:
        d, _ = _apart(shapes, x + dx * t, y + dy * t, z + dz * t)
        seen = min(seen, 0.5 + 0.5 * d / (soft * t))
        if seen <= 0:
            return 0.0
        t += max(d * 0.7, 0.02)
    return seen * seen * (3 - 2 * seen)


@njit(cache=True, parallel=True)
def _trace(shapes, sun, height, width, turn, grey, parts, normals):  # type: ignore[no-untyped-def]
    ct, st = math.cos(turn), math.sin(turn)
    for j in prange(height):
        for i in range(width):
            dx, dy, dz = (i + 0.5 - width / 2) / height * 0.5, (height * 0.22 - j - 0.5) / height * 0.5, 1.0
            n = math.sqrt(dx * dx + dy * dy + dz * dz)
            dx, dy, dz = dx / n, dy / n, dz / n
            t, part, hit = 0.0, 0.0, False
            x, y, z = 0.0, 2.6, -9.0
            for _ in range(160):
                x, y, z = dx * t, 2.6 + dy * t, -9.0 + dz * t
                # The thing is turned about its own axis.
                d, part = _apart(shapes, x * ct + z * st, y, -x * st + z * ct)
                if d < 0.0015:
                    hit = True
                    break
                t += d * 0.85
                if t > 40:
                    break
            backdrop = 0.66
            if not hit:
                grey[j, i] = backdrop
                continue
            lx, lz = x * ct + z * st, -x * st + z * ct
            e = 0.002
            here, _ = _apart(shapes, lx, y, lz)
            a, _ = _apart(shapes, lx + e, y, lz)
            b, _ = _apart(shapes, lx, y + e, lz)
            c, _ = _apart(shapes, lx, y, lz + e)
            nx, ny, nz = a - here, b - here, c - here
            n = math.sqrt(nx * nx + ny * ny + nz * nz)
            nx, ny, nz = nx / n, ny / n, nz / n
            sx, sz = sun[0] * ct + sun[2] * st, -sun[0] * st + sun[2] * ct
            toward = max(nx * sx + ny * sun[1] + nz * sz, 0.0)
            lit = (
                _shadow(shapes, lx + nx * 0.01, y + ny * 0.01, lz + nz * 0.01, sx, sun[1], sz, 8.0, 0.09)
                if toward > 0
                else 0.0
            )
            shut = 1.0
            for k in range(1, 5):
                step = 0.12 * k
                d, _ = _apart(shapes, lx + nx * step, y + ny * step, lz + nz * step)
                shut -= (step - d) * 0.5 / (1 << k) * 2
            shut = min(max(shut, 0.25), 1.0)
            light = 0.74 * (0.95 * toward * lit + (0.30 + 0.16 * ny) * shut)
            if part == 0:
                # The ground runs up into the backdrop.
                fade = min(max((t - 9.0) / 9.0, 0.0), 1.0)
                light = light + (backdrop - light) * fade * fade * (3 - 2 * fade)
            grey[j, i] = light
            parts[j, i] = int(part)
            normals[j, i, 0], normals[j, i, 1], normals[j, i, 2] = nx * ct - nz * st, ny, nx * st + nz * ct


def draw(name: str, height: int = 480, width: int = 640, turn: float = 0.35) -> Good:
    """Draw one of `GOODS`, turned by an angle."""
    shapes = np.array([[*s, *[0.0] * (9 - len(s))] for s in GOODS[name]], np.float64)
    finer = 2
    h, w = height * finer, width * finer
    grey, parts, normals = np.zeros((h, w)), np.zeros((h, w), np.int32), np.zeros((h, w, 3))
    _trace(shapes, _SUN, h, w, turn, grey, parts, normals)
    mean = grey.reshape(height, finer, width, finer).mean((1, 3))
    encoded = np.clip(mean, 0, 1) ** (1 / 2.2)
    picture = np.repeat((encoded * 255 + 0.5).astype(np.uint8)[..., None], 3, 2)
    return Good(picture, parts[::finer, ::finer], normals[::finer, ::finer].astype(np.float32))


if __name__ == "__main__":
    Path(sys.argv[1]).write_bytes(png(draw("kettle", 768, 1024).picture))
