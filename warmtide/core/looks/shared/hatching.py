"""Pencil strokes whose pressure follows the tone beneath them."""

import math

import numpy as np

from ...maths.arrays import f32
from ...maths.jit import kernel
from .flow import bilinear


@kernel
def _hash(i, seed):  # type: ignore[no-untyped-def]
    n = (i * 374761393 + seed * 668265263) & 0x7FFFFFFF
    n = ((n ^ (n >> 13)) * 1274126177) & 0x7FFFFFFF
    return ((n ^ (n >> 16)) & 0xFFFF) / 65535.0


@kernel
def value_noise(x, seed):  # type: ignore[no-untyped-def]
    """Smooth noise 0..1 along a line."""
    i = math.floor(x)
    f = x - i
    f = f * f * (3 - 2 * f)
    i = int(i)
    return _hash(i, seed) * (1 - f) + _hash(i + 1, seed) * f


@kernel
def _bell(x):  # type: ignore[no-untyped-def]
    """Nearly exp(-x), and 0 from 4 on: the profile of a point that presses on paper."""
    q = max(f32(1) - x * f32(0.25), f32(0))
    q *= q
    return q * q


@kernel
def hatch(deposit, tone, xs, ys, angles, lengths, bends, widths, pressures, seeds, start, reach):  # type: ignore[no-untyped-def]
    """Lay strokes into `deposit` (h, w), in place.

    A stroke is centred on xs, ys; graphite begins where `tone` exceeds `start` and is full at start + reach.
    """
    h, w = deposit.shape
    across = np.empty(64, np.float32)
    for i in range(len(xs)):
        count = int(lengths[i] * 1.6) + 2
        ca, sa = math.cos(angles[i]), math.sin(angles[i])
        width = min(widths[i], f32(28))
        r = int(width + f32(1.5))
        # Where the bell has ended; a little more for what rounding takes.
        far = f32(1.4143) * width
        narrow = f32(1) / (f32(2) * (width * f32(0.5)) ** 2)
        amount = f32(0.42) / width
        for k in range(count):
            f = f32(k) / f32(count - 1) * f32(2) - f32(1)
            u = f * lengths[i] * f32(0.5)
            wobble = f32(0.5 * (value_noise(u * 0.12 + 31, seeds[i]) - 0.5))
            off = bends[i] * (f * f - f32(0.33)) * lengths[i] + wobble
            px = f32(xs[i] + ca * u - sa * off)
            py = f32(ys[i] + sa * u + ca * off)
            if px < f32(1) or py < f32(1) or px >= f32(w - 2) or py >= f32(h - 2):
                continue
            p = (bilinear(tone, px, py) - f32(start)) / f32(reach)
            if p <= f32(0):
                continue
            lift = min(f32(1), (f32(1) - abs(f)) * f32(4.5))
            press = f32(0.7 + 0.6 * value_noise(u * 0.2, seeds[i] + 5))
            p = min(p, f32(1)) * pressures[i] * lift * press * amount
            x0 = max(math.ceil(px - far), int(px) - r, 0)
            x1 = min(math.floor(px + far), int(px) + r + 1, w - 1)
            for x in range(x0, x1 + 1):
                dx = f32(x) - px
                across[x - x0] = _bell(dx * dx * narrow)
            y0, y1 = max(math.ceil(py - far), int(py) - r, 0), min(math.floor(py + far), int(py) + r + 1, h - 1)
            for y in range(y0, y1 + 1):
                dy = f32(y) - py
                g = p * _bell(dy * dy * narrow)
                for x in range(x0, x1 + 1):
                    deposit[y, x] += g * across[x - x0]
