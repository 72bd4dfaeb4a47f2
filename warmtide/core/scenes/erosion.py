"""Water and light over a height map: droplets that carve valleys, shadows that the land casts on itself.

Sources
-------
1. H. T. Beyer, "Implementation of a method for hydraulic erosion", 2015 (droplets with inertia and sediment).
"""

import math

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.jit import kernel
from ..maths.sampling import bounded, chance


@kernel
def _droplets(heights, count, seed, life, capacity, wear, settle):  # type: ignore[no-untyped-def]
    rows, columns = heights.shape
    for q in range(count):
        x = chance(q, 1, seed) * (columns - 3) + 1
        y = chance(q, 2, seed) * (rows - 3) + 1
        vx = 0.0
        vy = 0.0
        speed = 1.0
        water = 1.0
        load = 0.0
        for _ in range(life):
            i = int(x)
            j = int(y)
            a = x - i
            b = y - j
            h00 = heights[j, i]
            h10 = heights[j, i + 1]
            h01 = heights[j + 1, i]
            h11 = heights[j + 1, i + 1]
            gx = (h10 - h00) * (1 - b) + (h11 - h01) * b
            gy = (h01 - h00) * (1 - a) + (h11 - h10) * a
            vx = vx * 0.3 - gx * 0.7
            vy = vy * 0.3 - gy * 0.7
            norm = math.sqrt(vx * vx + vy * vy)
            if norm < 1e-6:
                break
            vx /= norm
            vy /= norm
            here = h00 * (1 - a) * (1 - b) + h10 * a * (1 - b) + h01 * (1 - a) * b + h11 * a * b
            x2 = x + vx
            y2 = y + vy
            if x2 < 1 or y2 < 1 or x2 > columns - 3 or y2 > rows - 3:
                break
            fall = bounded(heights, x2, y2) - here
            most = max(-fall, 0.01) * speed * water * capacity
            if load > most or fall > 0:
                change = min(fall, load) if fall > 0 else (load - most) * settle
            else:
                change = -min((most - load) * wear, -fall)
            load -= change
            heights[j, i] += change * (1 - a) * (1 - b)
            heights[j, i + 1] += change * a * (1 - b)
            heights[j + 1, i] += change * (1 - a) * b
            heights[j + 1, i + 1] += change * a * b
            speed = math.sqrt(max(speed * speed - fall * 0.5, 0.05))
            water *= 0.98
            x = x2
            y = y2


def eroded(heights: Float, cell: float, seed: int, droplets: int = 30_000) -> Float:
    """Carve valleys and fans; heights and cell in metres. About 60 ms."""
    own = np.ascontiguousarray(heights / cell, dtype=f32)
    _droplets(own, droplets, seed, 30, 1.6, 0.25, 0.3)
    return (own * cell).astype(f32)


@kernel
def _sweep(heights, cell, ux, uz, rise, out):  # type: ignore[no-untyped-def]
    rows, columns = heights.shape
    for j in range(rows):
        for i in range(columns):
            light = 1.0
            stride = 1.0
            d = 0.0
            for _ in range(46):
                d += stride
                x = i + ux * d
                y = j + uz * d
                if x < 0 or y < 0 or x > columns - 2 or y > rows - 2:
                    break
                clear = (heights[j, i] + rise * d) - bounded(heights, x, y)
                # Farther edges cast softer shadows, as the sun is a disc.
                light = min(light, 0.5 + clear / (d * cell * 0.05 + 2.0))
                if light < 0:
                    light = 0.0
                    break
                stride *= 1.05
            out[j, i] = min(light, 1.0)


def sunlit(heights: Float, cell: float, sun: AnyArray) -> Float:
    """Share of the sun that reaches each point of a height map, 0..1; worked out at half size."""
    half = cv2.resize(heights, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    level = math.hypot(float(sun[0]), float(sun[2])) + 1e-6
    out = np.ones_like(half)
    _sweep(half, cell * 2, sun[0] / level, sun[2] / level, sun[1] / level * cell * 2, out)
    large = cv2.resize(out, (heights.shape[1], heights.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.clip(large, 0, 1).astype(f32)
