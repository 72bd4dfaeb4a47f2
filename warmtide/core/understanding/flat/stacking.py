"""How the parts of flat art lie on each other."""

import numpy as np

from ...maths.arrays import AnyArray, Float, Int, f32

_MOST_LEVELS = 4


def _touching(parts: Int, count: int) -> AnyArray:
    """(n + 1, n + 1) Length of the border between parts; row and column 0 are the ground."""
    table = np.zeros((count + 1, count + 1))
    for a, b in ((parts[:, :-1], parts[:, 1:]), (parts[:-1], parts[1:])):
        apart = a != b
        np.add.at(table, (a[apart] + 1, b[apart] + 1), 1)
    return table + table.T


def levels_of(parts: Int, areas: AnyArray, within: Float, unit: float) -> Int:
    """A part lies on the ground when enough of its border does, and else on the highest part that it touches.

    Parameters
    ----------
    parts : (h, w) numbers, -1 on the ground. areas : (n,) points by part. within : distance to the own part's border.
    unit : points to a thousandth of the picture.

    Returns
    -------
    (n,) 1 for what lies on the ground, one more for each part below, at most 4.
    """
    count = len(areas)
    touching = _touching(parts, count)
    length = np.maximum(touching.sum(1), 1)
    outer = touching[:, 0] > 0.12 * length
    order = sorted(range(1, count + 1), key=lambda i: (not outer[i], -areas[i - 1]))
    level = np.zeros(count + 1, np.int32)
    done = np.zeros(count + 1, bool)
    for i in order:
        lower = [int(j) for j in np.nonzero(touching[i])[0] if j > 0 and done[j]]
        if outer[i] and not any(touching[i, j] > 0.12 * length[i] for j in lower):
            level[i] = 1
        else:
            level[i] = 1 + max((int(level[j]) for j in lower if touching[i, j] > 0.05 * length[i]), default=0)
        done[i] = True
    thick = np.zeros(count + 1, f32)
    np.maximum.at(thick, parts.ravel() + 1, within.ravel())
    for i in range(1, count + 1):
        # A line between two parts lies as low as the lower of them: it is a groove, not a wall.
        if thick[i] < 7 * unit:
            around = [int(level[j]) for j in np.nonzero(touching[i])[0] if j > 0]
            level[i] = max(1, min(around, default=1))
    return np.minimum(level[1:], _MOST_LEVELS)
