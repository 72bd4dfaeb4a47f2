"""Lookups that every kernel of the scenes shares: hashes, and textures read between their texels."""

import math

import numpy as np

from .jit import kernel


@kernel
def chance(i, j, seed):  # type: ignore[no-untyped-def]
    """A number 0..1 that looks random, from three whole numbers."""
    n = (i * 374761393 + j * 668265263 + seed * 1274126177) & 0x7FFFFFFF
    n = ((n ^ (n >> 13)) * 1274126177) & 0x7FFFFFFF
    return ((n ^ (n >> 16)) & 0xFFFF) / 65535.0


@kernel
def mixed(n):  # type: ignore[no-untyped-def]
    """Bits of a 64 bit number thoroughly mixed (G. Steele et al., "Fast splittable pseudorandom number generators", 2014)."""
    n = (n ^ (n >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    n = (n ^ (n >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return n ^ (n >> np.uint64(31))


@kernel
def scatter(key, out):  # type: ignore[no-untyped-def]
    """Fill out (h, w) with the sum of four even numbers, of mean 0 and variance 1: near enough to normal noise."""
    for j in range(out.shape[0]):
        row = mixed(key + np.uint64(j) * np.uint64(0x9E3779B97F4A7C15))
        for i in range(out.shape[1]):
            bits = mixed(row + np.uint64(i) * np.uint64(0xD1B54A32D192ED03))
            total = np.int64(bits & np.uint64(0xFFFF)) + np.int64((bits >> np.uint64(16)) & np.uint64(0xFFFF))
            total += np.int64((bits >> np.uint64(32)) & np.uint64(0xFFFF)) + np.int64(bits >> np.uint64(48))
            out[j, i] = np.float32((total / 65536.0 - 2.0) * 1.7320508)


@kernel
def ramp(low, high, x):  # type: ignore[no-untyped-def]
    """Smooth step from 0 at `low` to 1 at `high`."""
    t = min(max((x - low) / (high - low), 0.0), 1.0)
    return t * t * (3.0 - 2.0 * t)


@kernel
def tiled(texture, x, y):  # type: ignore[no-untyped-def]
    """A texture that repeats, at (x, y) texels, bilinear."""
    height, width = texture.shape
    i = math.floor(x)
    j = math.floor(y)
    a = x - i
    b = y - j
    i = int(i) % width
    j = int(j) % height
    i2 = (i + 1) % width
    j2 = (j + 1) % height
    return (texture[j, i] * (1 - a) + texture[j, i2] * a) * (1 - b) + (
        texture[j2, i] * (1 - a) + texture[j2, i2] * a
    ) * b


@kernel
def bounded(texture, x, y):  # type: ignore[no-untyped-def]
    """A texture at (x, y) texels, bilinear; its border goes on outside."""
    height, width = texture.shape
    x = min(max(x, 0.0), width - 1.001)
    y = min(max(y, 0.0), height - 1.001)
    i = int(x)
    j = int(y)
    a = x - i
    b = y - j
    return (texture[j, i] * (1 - a) + texture[j, i + 1] * a) * (1 - b) + (
        texture[j + 1, i] * (1 - a) + texture[j + 1, i + 1] * a
    ) * b


@kernel
def solid(volume, x, y, z):  # type: ignore[no-untyped-def]
    """A volume that repeats every unit, trilinear."""
    n = volume.shape[0]
    x = (x - math.floor(x)) * n
    y = (y - math.floor(y)) * n
    z = (z - math.floor(z)) * n
    i = int(x) % n
    j = int(y) % n
    k = int(z) % n
    a = x - int(x)
    b = y - int(y)
    c = z - int(z)
    i2 = (i + 1) % n
    j2 = (j + 1) % n
    k2 = (k + 1) % n
    near = (volume[k, j, i] * (1 - a) + volume[k, j, i2] * a) * (1 - b) + (
        volume[k, j2, i] * (1 - a) + volume[k, j2, i2] * a
    ) * b
    far = (volume[k2, j, i] * (1 - a) + volume[k2, j, i2] * a) * (1 - b) + (
        volume[k2, j2, i] * (1 - a) + volume[k2, j2, i2] * a
    ) * b
    return near * (1 - c) + far * c


@kernel
def cells(points, size, count, out):  # type: ignore[no-untyped-def]
    """Cellular noise in a repeating volume: 1 at the points of a `count`^3 grid, falling with distance.

    points : (count, count, count, 3) where each cell's point lies in it, 0..1. out : (size, size, size).
    """
    out[:] = 0
    reach = int(size / count * 0.96) + 1
    for cz in range(count):
        for cy in range(count):
            for cx in range(count):
                p = points[cz, cy, cx]
                x = (cx + p[0]) / count * size
                y = (cy + p[1]) / count * size
                z = (cz + p[2]) / count * size
                # Only what lies within a cell of a point can get anything from it.
                for k in range(int(z) - reach, int(z) + reach + 1):
                    dz = (k + 0.5 - z) / size * count
                    for j in range(int(y) - reach, int(y) + reach + 1):
                        dy = (j + 0.5 - y) / size * count
                        flat = dz * dz + dy * dy
                        if flat > 0.908:
                            continue
                        for i in range(int(x) - reach, int(x) + reach + 1):
                            dx = (i + 0.5 - x) / size * count
                            value = 1.0 - math.sqrt(flat + dx * dx) * 1.05
                            if value > out[k % size, j % size, i % size]:
                                out[k % size, j % size, i % size] = np.float32(value)
