"""Hairs: short bent strokes of one colour that also stand up from what they lie on."""

import math

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.jit import kernel


@kernel
def _draw(xs, ys, angles, lengths, widths, bends, colours, shown, lifts, parts, clip, image, height):  # type: ignore[no-untyped-def]
    h, w = height.shape
    for i in range(len(xs)):
        x, y, a = xs[i], ys[i], angles[i]
        count = int(lengths[i])
        own = parts[min(max(int(y), 0), h - 1), min(max(int(x), 0), w - 1)]
        for k in range(count):
            t = f32(k) / f32(count)
            wide = widths[i] * (f32(1) - f32(0.6) * t)
            share = shown[i] * min(f32(1), f32(4) * t + f32(0.3)) * min(f32(1), (f32(1) - t) * f32(3) + f32(0.1))
            lift = lifts[i] * (f32(1) - (f32(2) * t - f32(1)) ** 2)
            c, s = math.cos(a), math.sin(a)
            top, low = max(int(y - wide - f32(1)), 0), min(int(y + wide + f32(1)), h - 1)
            left, right = max(int(x - wide - f32(1)), 0), min(int(x + wide + f32(1)), w - 1)
            for row in range(top, low + 1):
                for column in range(left, right + 1):
                    if clip and parts[row, column] != own:
                        continue
                    dx, dy = f32(column) - x, f32(row) - y
                    side = dy * c - dx * s
                    if abs(dx * c + dy * s) > f32(0.75):
                        continue
                    cover = min(max(wide * f32(0.5) + f32(0.5) - abs(side), f32(0)), f32(1)) * share
                    if cover <= 0:
                        continue
                    lit = f32(1) + f32(0.35) * side / (wide + f32(0.3)) * (f32(1) if c < 0 else f32(-1))
                    for n in range(3):
                        image[row, column, n] += (colours[i, n] * lit - image[row, column, n]) * cover
                    if lift * cover > height[row, column]:
                        height[row, column] = lift * cover
            x += c
            y += s
            a += bends[i] * (f32(1) + f32(0.8) * math.sin(f32(0.5) * f32(k) + f32(i)))


def hairs(
    image: Float, height: Float, parts: AnyArray, clip: bool, places: tuple[AnyArray, AnyArray], angles: AnyArray,
    lengths: AnyArray, widths: AnyArray, bends: AnyArray, colours: AnyArray, shown: AnyArray, lifts: AnyArray,
) -> None:  # fmt: skip
    """Draw hairs on an image (h, w, 3) and raise a height (h, w), both in place. About 2 us a hair of 12 points.

    Parameters
    ----------
    parts : (h, w). clip : a hair stays in the part where it begins. places : x and y of where each begins. angles,
    bends : radians, and radians a point. lengths, widths : points. shown : 0..1. lifts : height in the middle.
    """

    def plain(values: AnyArray) -> AnyArray:
        return np.ascontiguousarray(values, dtype=f32)

    _draw(
        plain(places[0]), plain(places[1]), plain(angles), plain(lengths), plain(widths), plain(bends), plain(colours),
        plain(shown), plain(lifts), parts, clip, image, height,
    )  # fmt: skip
