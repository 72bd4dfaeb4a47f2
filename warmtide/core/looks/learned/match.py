"""Nearest patches of a dictionary for every place of a picture, and the picture that they vote for.

Sources
-------
1. C. Barnes et al., "PatchMatch: a randomized correspondence algorithm for structural image editing", 2009.
2. A. Hertzmann et al., "Image analogies", 2001 (coherence).
3. V. Kwatra et al., "Texture optimization for example-based synthesis", 2005 (voting).
4. J. Jamriska et al., "LazyFluids", 2015 (uniform use of the examples).
"""

import numpy as np

from ...maths.arrays import Float, Int, f32
from ...maths.jit import kernel
from .features import PATCH

_RANDOM_TRIES = 4
_USE_CELL = 4


@kernel
def _distance(query, ref, worth, qy, qx, y, x, most):  # type: ignore[no-untyped-def]
    total = f32(0)
    for k in range(query.shape[2]):
        t = query[qy, qx, k] - ref[y, x, k]
        total += worth[k] * t * t
        if k == 7 and total > most:
            return total
    return total


@kernel
def _search(query, ref, worth, valid, field, cost, used, rounds, penalty, coherence, state, fresh):  # type: ignore[no-untyped-def]
    """Improve a field of matches (h, w, 2) in place: neighbours' matches, then random ones ever nearer."""
    rows, columns = field.shape[:2]
    height, width = valid.shape
    stride = f32(1) - coherence
    for i in range(rows):
        for j in range(columns):
            y, x = field[i, j, 0], field[i, j, 1]
            cost[i, j] = _distance(query, ref, worth, i, j, y, x, f32(1e30)) + penalty * used[y // 4, x // 4]
    for turn in range(rounds):
        forward = turn % 2 == 0
        step = 1 if forward else -1
        for ii in range(rows):
            i = ii if forward else rows - 1 - ii
            for jj in range(columns):
                j = jj if forward else columns - 1 - jj
                for c in range(2 + _RANDOM_TRIES):
                    bonus = f32(1)
                    if c < 2:
                        a, b = (i - step, j) if c == 0 else (i, j - step)
                        if a < 0 or b < 0 or a >= rows or b >= columns:
                            continue
                        y = field[a, b, 0] + (2 * step if c == 0 else 0)
                        x = field[a, b, 1] + (0 if c == 0 else 2 * step)
                        bonus = stride
                        if y < 0 or x < 0 or y >= height or x >= width:
                            continue
                    else:
                        state ^= state << np.uint64(13)
                        state ^= state >> np.uint64(7)
                        state ^= state << np.uint64(17)
                        up, across = (
                            np.int64((state >> np.uint64(33)) & np.uint64(0xFFFFF)),
                            np.int64((state >> np.uint64(10)) & np.uint64(0xFFFFF)),
                        )
                        if c == 2 or (fresh and c == 3):
                            y, x = up % height, across % width
                        else:
                            reach = max(max(height, width) >> (2 * c - 3), 2)
                            y = min(max(field[i, j, 0] + up % (2 * reach + 1) - reach, 0), height - 1)
                            x = min(max(field[i, j, 1] + across % (2 * reach + 1) - reach, 0), width - 1)
                    if not valid[y, x]:
                        continue
                    found = (
                        _distance(query, ref, worth, i, j, y, x, cost[i, j] * f32(1.5)) + penalty * used[y // 4, x // 4]
                    ) * bonus
                    if found < cost[i, j]:
                        cost[i, j] = found
                        field[i, j, 0], field[i, j, 1] = y, x
    return state


@kernel
def _vote(picture, field, target_mean, own_mean, shift, window, scale, out, weight):  # type: ignore[no-untyped-def]
    """Lay every match's patch into the picture through a window, its mean moved toward the target's."""
    rows, columns = field.shape[:2]
    height, width = out.shape[:2]
    side = window.shape[0]
    half = side // 2
    tall, wide = picture.shape[:2]
    for i in range(rows):
        for j in range(columns):
            cy, cx = 2 * i * scale, 2 * j * scale
            ry, rx = field[i, j, 0] * scale, field[i, j, 1] * scale
            gy, gx = min(2 * i, target_mean.shape[0] - 1), min(2 * j, target_mean.shape[1] - 1)
            m0 = shift[0] * (target_mean[gy, gx, 0] - own_mean[field[i, j, 0], field[i, j, 1], 0])
            m1 = shift[1] * (target_mean[gy, gx, 1] - own_mean[field[i, j, 0], field[i, j, 1], 1])
            m2 = shift[1] * (target_mean[gy, gx, 2] - own_mean[field[i, j, 0], field[i, j, 1], 2])
            for a in range(side):
                y, v = cy + a - half, ry + a - half
                if y < 0 or y >= height or v < 0 or v >= tall:
                    continue
                for b in range(side):
                    x, u = cx + b - half, rx + b - half
                    if x < 0 or x >= width or u < 0 or u >= wide:
                        continue
                    w = window[a, b]
                    out[y, x, 0] += w * (picture[v, u, 0] + m0)
                    out[y, x, 1] += w * (picture[v, u, 1] + m1)
                    out[y, x, 2] += w * (picture[v, u, 2] + m2)
                    weight[y, x] += w
    for y in range(height):
        for x in range(width):
            t = f32(1) / (weight[y, x] + f32(1e-9))
            for k in range(3):
                out[y, x, k] *= t


def first_field(shape: tuple[int, ...], valid: "np.ndarray", seed: int) -> Int:  # type: ignore[type-arg]
    """Random valid places (h, w, 2) of the dictionary, one for every second place of a picture."""
    rows, columns = (shape[0] + 1) // 2, (shape[1] + 1) // 2
    places = np.argwhere(valid)
    drawn = np.random.default_rng([seed, 81]).integers(0, len(places), (rows, columns))
    return np.ascontiguousarray(places[drawn], dtype=np.int32)


def search(
    query: Float, ref: Float, worth: Float, valid: "np.ndarray", field: Int, rounds: int, penalty: float, coherence: float,  # type: ignore[type-arg]
    seed: int, fresh: bool,
) -> Int:  # fmt: skip
    """Better matches than `field` holds, by `rounds` of propagation and random search.

    Parameters
    ----------
    query : (h/2, w/2, d) features of every second place. ref : (H, W, d) features of the dictionary. worth : (d,)
    how much each feature counts.
    valid : (H, W) places whose whole patch lies in one reference. field : (h/2, w/2, 2) int32, rows and columns
    of the dictionary. penalty : cost of a part of the dictionary that is used once more than its share.
    coherence : share by which a neighbour's continuation is preferred, 0..1. fresh : the field is a first guess.
    """
    found = field.copy()
    used = np.zeros((valid.shape[0] // _USE_CELL + 1, valid.shape[1] // _USE_CELL + 1), f32)
    np.add.at(used, (found[..., 0] // _USE_CELL, found[..., 1] // _USE_CELL), 1)
    share = found[..., 0].size / max(float(valid.sum()) / _USE_CELL**2, 1)
    used = np.clip(used / f32(share) - 1, 0, 20).astype(f32)
    cost = np.empty(found.shape[:2], f32)
    state = np.uint64(seed * 2654435761 + 88172645463325252)
    _search(query, ref, worth, valid, found, cost, used, rounds, f32(penalty), f32(coherence), state, fresh)
    return found


def vote(
    picture: Float, own_mean: Float, field: Int, target_mean: Float, shift: tuple[float, float], spread: float,
    shape: tuple[int, int], scale: int = 1,
) -> Float:  # fmt: skip
    """The picture (h, w, 3) that matched patches agree on.

    Parameters
    ----------
    picture : the dictionary's picture, `scale` times as large as what was matched. own_mean : its broad tone.
    target_mean : (h, w, 3) broad tone wanted. shift : how far a patch's lightness and colour move there, 0..1.
    spread : standard deviation of the window in pixels of what was matched; narrow is crisp.
    """
    side = PATCH * scale | 1
    x = np.arange(side, dtype=f32) - side // 2
    g = np.exp(-(x**2) / f32(2 * (spread * scale) ** 2))
    out, weight = np.zeros((*shape, 3), f32), np.zeros(shape, f32)
    shifts = np.array(shift, f32)
    _vote(picture, field, target_mean, own_mean, shifts, np.outer(g, g).astype(f32), scale, out, weight)
    return out
