"""Brush strokes: paths along a flow, and loaded brushes dragged along them.

Sources
-------
1. P. Haeberli, "Paint by numbers: abstract image representations", 1990 (strokes that sample the picture).
2. A. Hertzmann, "Painterly rendering with curved brush strokes of multiple sizes", 1998.
3. J. Hays, I. Essa, "Image and video based painterly animation", 2004 (bristles lit as relief).
"""

import math
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from ...maths.arrays import AnyArray, Float, Int, Mask, f32
from ...maths.jit import kernel
from .hatching import value_noise

Array = TypeVar("Array", Float, Int, Mask)
# Marks nearer to each other than a pixel only hide each other: in small pictures there are fewer of them.
CLOSEST = 1.0


@dataclass(frozen=True)
class Brush:
    """How a loaded brush leaves paint.

    Attributes
    ----------
    opacity : 0..1. bristle : how much single hairs show, 0..1. dry : how early the paint runs out.
    square : flat brush with square ends; otherwise round with ragged ends. streak : lightness difference
    between hairs. relief : how thick the paint stands.
    """

    opacity: float
    bristle: float
    dry: float
    square: bool = False
    streak: float = 0.065
    relief: float = 1.0


@dataclass(frozen=True)
class Strokes:
    """Paths (n, 2 k + 1, 2) in pixels with the first and last point of each that is used."""

    paths: Float
    first: Int
    last: Int

    def chosen(self, which: Mask) -> "Strokes":
        return Strokes(np.ascontiguousarray(self.paths[which]), self.first[which], self.last[which])

    @property
    def steps(self) -> Int:
        return self.last - self.first


def scattered(
    height: int, width: int, spacing: float, random: np.random.Generator, jitter: float = 0.5
) -> tuple[Float, Float]:
    """Places about `spacing` pixels apart, in random order, covering the picture; no closer than marks can be told apart."""
    spacing = max(spacing, CLOSEST)
    columns, rows = np.arange(0, width + spacing, spacing), np.arange(0, height + spacing, spacing)
    xs, ys = np.meshgrid(columns, rows)
    xs = xs + random.uniform(-jitter, jitter, xs.shape) * spacing
    ys = ys + random.uniform(-jitter, jitter, ys.shape) * spacing
    order = random.permutation(xs.size)
    return (
        np.clip(xs.ravel()[order], 0, width - 1).astype(f32),
        np.clip(ys.ravel()[order], 0, height - 1).astype(f32),
    )


def at(image: Array, xs: Float, ys: Float) -> Array:
    """Values of the nearest pixels."""
    height, width = image.shape[:2]
    columns, rows = np.clip(xs.astype(int), 0, width - 1), np.clip(ys.astype(int), 0, height - 1)
    return image[rows, columns]  # type: ignore[return-value]


@kernel
def _trace(ways, colours, xs, ys, margin, steps, stride, most, paths, first, last):  # type: ignore[no-untyped-def]
    h, w, _ = ways.shape
    for i in range(len(xs)):
        paths[i, steps, 0], paths[i, steps, 1] = xs[i], ys[i]
        first[i] = last[i] = steps
        row, column = min(max(int(ys[i]), 0), h - 1), min(max(int(xs[i]), 0), w - 1)
        for side in range(2):
            sign = f32(-1) if side == 0 else f32(1)
            x, y = xs[i], ys[i]
            dx, dy = ways[row, column, 0] * sign, ways[row, column, 1] * sign
            for k in range(1, steps + 1):
                x += f32(dx * stride)
                y += f32(dy * stride)
                if x < -margin or y < -margin or x > w + margin or y > h + margin:
                    break
                r, c = min(max(int(y), 0), h - 1), min(max(int(x), 0), w - 1)
                apart = (
                    abs(colours[r, c, 0] - colours[row, column, 0])
                    + abs(colours[r, c, 1] - colours[row, column, 1]) * f32(1.5)
                    + abs(colours[r, c, 2] - colours[row, column, 2]) * f32(1.5)
                )
                if apart > most:
                    break
                index = steps - k if side == 0 else steps + k
                paths[i, index, 0], paths[i, index, 1] = x, y
                if side == 0:
                    first[i] = index
                else:
                    last[i] = index
                ex, ey = ways[r, c, 0], ways[r, c, 1]
                if ex * dx + ey * dy < 0:
                    ex, ey = -ex, -ey
                dx, dy = 0.5 * (dx + ex), 0.5 * (dy + ey)
                length = math.sqrt(dx * dx + dy * dy) + 1e-6
                dx, dy = dx / length, dy / length


def traced(
    angles: Float, colours: Float, xs: Float, ys: Float, steps: int, stride: float, most: float, margin: float = 4.0
) -> Strokes:
    """Curved paths both ways from each place along the angles, ending where the colour leaves by `most`."""
    paths = np.zeros((len(xs), 2 * steps + 1, 2), f32)
    first, last = np.zeros(len(xs), np.int32), np.zeros(len(xs), np.int32)
    # Once a pixel instead of at every step of every stroke.
    ways = np.stack([np.cos(angles), np.sin(angles)], -1)
    _trace(ways, colours, xs, ys, f32(margin), steps, f32(stride), f32(most), paths, first, last)
    return Strokes(paths, first, last)


@kernel
def _footprint(paths, i, first, last, radius, square, owner, off, along, across, box):  # type: ignore[no-untyped-def]
    """Mark the pixels under one stroke with their place along and across it; returns its length."""
    h, w = owner.shape
    box[0], box[1], box[2], box[3] = w, -1, h, -1
    done = f32(0)
    # Nothing farther from the path than this is under the brush; a little more for what rounding takes.
    margin = radius + f32(0.51)
    reach = (radius + f32(0.5)) ** 2
    for k in range(first, max(last, first + 1)):
        ax, ay = paths[i, k, 0], paths[i, k, 1]
        if last == first:
            bx, by = ax + f32(0.01), ay
        else:
            bx, by = paths[i, k + 1, 0], paths[i, k + 1, 1]
        ex, ey = bx - ax, by - ay
        length = math.sqrt(ex * ex + ey * ey) + f32(1e-6)
        ex, ey = ex / length, ey / length
        begin = f32(-0.7) * radius if square and k == first else f32(0)
        end = length + f32(0.95) * radius if square and k >= last - 1 else length
        sx, sy, tx, ty = ax + begin * ex, ay + begin * ey, ax + end * ex, ay + end * ey
        x0, x1 = max(math.ceil(min(sx, tx) - margin), 0), min(math.floor(max(sx, tx) + margin), w - 1)
        y0, y1 = max(math.ceil(min(sy, ty) - margin), 0), min(math.floor(max(sy, ty) + margin), h - 1)
        box[0], box[1], box[2], box[3] = min(box[0], x0), max(box[1], x1), min(box[2], y0), max(box[3], y1)
        for y in range(y0, y1 + 1):
            qy = f32(y) - ay
            for x in range(x0, x1 + 1):
                qx = f32(x) - ax
                v = qx * ey - qy * ex
                if v * v > reach:
                    continue
                t = qx * ex + qy * ey
                inside = min(max(t, begin), end)
                beyond = t - inside
                if square and beyond != 0 and beyond * beyond + v * v > radius * radius:
                    continue
                distance = beyond * beyond + v * v
                if not square and distance > reach:
                    continue
                rank = abs(beyond) + abs(v) * f32(0.001) if square else distance
                if owner[y, x] != i or rank < off[y, x]:
                    owner[y, x] = i
                    off[y, x] = rank
                    outer = (k == first and t < 0) or (k >= last - 1 and t > length)
                    along[y, x] = done + (t if outer else min(max(t, f32(0)), length))
                    across[y, x] = v
        done += length
    return done


@kernel
def _lay(canvas, relief, tooth, paths, first, last, colours, radii, seeds, opacity, bristle, dry, square, streak, thick):  # type: ignore[no-untyped-def]  # fmt: skip
    h, w, _ = canvas.shape
    owner = np.full((h, w), -1, np.int32)
    off, along, across = np.zeros((h, w), np.float32), np.zeros((h, w), np.float32), np.zeros((h, w), np.float32)
    box = np.zeros(4, np.int64)
    for i in range(len(radii)):
        radius, seed = radii[i], seeds[i]
        length = _footprint(paths, i, first[i], last[i], radius, square, owner, off, along, across, box)
        hairs = max(radius * f32(0.9), f32(2.5))
        thickest = thick * min(radius, f32(9)) ** f32(0.6)
        load = f32(0.75 + 0.5 * value_noise(0.37 * (seed & 1023), seed))
        for y in range(box[2], box[3] + 1):
            for x in range(box[0], box[1] + 1):
                if owner[y, x] != i:
                    continue
                u, v = along[y, x], across[y, x]
                q = v / radius
                hair = f32(
                    0.6 * value_noise(q * hairs + 50 + 0.04 * u, seed)
                    + 0.4 * value_noise(q * hairs * 2.3 + 90, seed + 7)
                )
                run = u / (length + f32(1e-3))
                if square:
                    rag = f32(value_noise(q * 2.2 + 11, seed + 5) - 0.5) * radius * f32(0.5)
                    ends = min(max(u + radius * f32(0.30) + rag, f32(0)), f32(1))
                    tail = length + radius * f32(0.45) + (hair - f32(0.5)) * radius * f32(0.9) - u
                    ends *= min(max(tail / (f32(1) + f32(0.25) * radius), f32(0)), f32(1))
                    side = min(max((radius - abs(v) + (rag * f32(0.2))) / f32(0.9), f32(0)), f32(1))
                    paint = load + f32(0.5) - dry * max(run - f32(0.35), f32(0)) * (f32(0.7) + f32(0.9) * load)
                    grain = tooth[y, x] * (f32(0.25) + max(run - f32(0.3), f32(0)) * f32(1.4) * dry)
                    wet = min(max((paint + f32(0.7) * (hair - f32(0.5)) - f32(0.35) * grain - f32(0.25)) * f32(2.6), f32(0)), f32(1))  # fmt: skip
                else:
                    u += radius * f32(1.2) * (hair - f32(0.5))
                    ends = min(max((u + radius * f32(0.7)) / (radius * f32(0.5)), f32(0)), f32(1))
                    ends *= min(max((length + radius * f32(0.7) - u) / (radius * f32(0.5)), f32(0)), f32(1))
                    distance = math.sqrt(off[y, x])
                    side = min(max((radius * (f32(1) - f32(0.18) * hair) - distance) / f32(1.1), f32(0)), f32(1))
                    paint = hair * f32(1.3) + f32(0.35) - f32(1.2) * max(run - f32(0.45), f32(0)) * dry
                    wet = min(max(paint - f32(0.15) * bristle, f32(0)) * f32(2.2), f32(1))
                a = ends * side * wet * opacity
                if a <= f32(0.004):
                    continue
                m = (hair - f32(0.5)) * bristle
                canvas[y, x, 0] += a * (colours[i, 0] + streak * m - canvas[y, x, 0])
                canvas[y, x, 1] += a * (colours[i, 1] * (f32(1) + f32(0.15) * m) - canvas[y, x, 1])
                canvas[y, x, 2] += a * (colours[i, 2] * (f32(1) + f32(0.15) * m) - canvas[y, x, 2])
                stands = load * (f32(0.35) + f32(0.8) * hair * bristle + f32(0.55) * q * q * q * q)
                relief[y, x] += a * (f32(0.25) * relief[y, x] + stands * thickest - relief[y, x])


def lay(
    canvas: Float,
    relief: Float,
    strokes: Strokes,
    colours: Float,
    radii: AnyArray,
    seeds: AnyArray,
    brush: Brush,
    tooth: Float,
) -> None:
    """Drag a brush along every path, in order, in place.

    Parameters
    ----------
    canvas : (h, w, 3) OKLab. relief : (h, w) thickness of the paint. colours : (n, 3). radii : (n,) pixels.
    tooth : (h, w) grain of the ground, unit variance; dry paint misses its valleys.
    """
    _lay(
        canvas, relief, tooth, strokes.paths, strokes.first, strokes.last, colours.astype(f32), radii.astype(f32),
        seeds.astype(np.int64), f32(brush.opacity), f32(brush.bristle), f32(brush.dry), brush.square,
        f32(brush.streak), f32(brush.relief),
    )  # fmt: skip
