"""Which stone of a laying every pixel belongs to."""

import numpy as np

from ...maths.arrays import Float, Int, f32
from ...maths.jit import kernel


@kernel
def _nearest(xs, ys, cosines, sines, areas, labels, cell, starts, members, columns, rows, step, reach, owner, edge):  # type: ignore[no-untyped-def]  # fmt: skip
    """The stone of every pixel: least distance in the square metric of its own frame, inside its own area.

    Every `step`-th pixel is asked, stones up to `reach` cells away are tried; `edge` takes the distance to the
    border with the next stone.
    """
    h, w = owner.shape
    for i in range(h):
        y = i * step
        row = int(y / cell)
        for j in range(w):
            x = j * step
            column = int(x / cell)
            best, second, found = 1e9, 1e9, -1
            first, last = max(column - reach, 0), min(column + reach + 1, columns)
            for n in range(2 * reach + 1):
                # From the pixel's own row of cells outward: what is farther than the second nearest is not asked.
                r = row + (n + 1) // 2 * (1 if n % 2 else -1)
                if r < 0 or r >= rows or 0.707 * max(r * cell - y, y - (r + 1) * cell) > second:
                    continue
                # The cells of a row lie behind one another.
                for m in range(starts[r * columns + first], starts[r * columns + last]):
                    k = members[m]
                    dx, dy = x - xs[k], y - ys[k]
                    u = abs(dx * cosines[k] + dy * sines[k])
                    v = abs(dy * cosines[k] - dx * sines[k])
                    far, near = max(u, v), min(u, v)
                    # What is farther than the second without its other side can't come before it.
                    if far >= second:
                        continue
                    d = far + 0.15 * near
                    if areas[k] != labels[i, j]:
                        d += 2.0 * cell
                    if d < best:
                        second = best
                        best, found = d, k
                    elif d < second:
                        second = d
            owner[i, j] = found
            edge[i, j] = second - best


def _buckets(xs: Float, ys: Float, cell: float, height: int, width: int) -> tuple[Int, Int, int, int]:
    """Stones sorted into square cells."""
    columns, rows = int(width / cell) + 1, int(height / cell) + 1
    index = np.clip((ys / cell).astype(int), 0, rows - 1) * columns + np.clip((xs / cell).astype(int), 0, columns - 1)
    order = np.argsort(index, kind="stable")
    starts = np.searchsorted(index[order], np.arange(rows * columns + 1))
    return starts.astype(np.int64), order.astype(np.int64), columns, rows


def owners(
    xs: Float, ys: Float, turned: Float, belongs: Int, areas: Int, stone: float, step: int, reach: int
) -> tuple[Int, Float]:
    """The stone of every `step`-th pixel, and the distance to the border with the next one."""
    starts, members, columns, rows = _buckets(xs, ys, stone, *areas.shape)
    asked = np.ascontiguousarray(areas[::step, ::step])
    owner, edge = np.empty(asked.shape, np.int32), np.empty(asked.shape, f32)
    _nearest(
        xs, ys, np.cos(turned).astype(f32), np.sin(turned).astype(f32), belongs, asked, stone, starts, members,
        columns, rows, step, reach, owner, edge,
    )  # fmt: skip
    return owner, edge
