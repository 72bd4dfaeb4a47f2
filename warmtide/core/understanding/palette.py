"""Few colours for a picture, and regions with smooth outlines in them.

Sources
-------
1. K. Rose, "Deterministic annealing for clustering", 1998 (shares of centres at a temperature).
2. B. Merriman, J. Bence, S. Osher, "Diffusion generated motion by mean curvature", 1992 (threshold dynamics).
"""

import math

import numpy as np

from ..maths.arrays import AnyArray, Float, Int, f32
from ..maths.filters import share_around
from ..maths.jit import kernel

CHANNELS = np.array([1, 1.8, 1.8], f32)
_BIN = 0.03
# Counts to this power: a small accent must get a colour of its own.
_ACCENT = 0.55
# Cells of colour from black to white, and of both chroma channels; the place of 0, 0, 0 among them.
_GRID, _ORIGIN = (42, 44, 44), (3, 21, 21)
# Pixels looked at, at most; those that a cell must hold more than.
_SAMPLES, _FEW = 12_000, 0.5
# Centres nearer to each other than this are one colour.
_SAME = 0.006
# Reach of the density of colours, squared distance at which two centres share a colour, and rounds.
_NEAR, _WARMTH, _ROUNDS, _COLD = 0.04, 0.004, 18, 2


@kernel
def _count(pixels, weights, size, origin, low, per, found):  # type: ignore[no-untyped-def]
    """Number, weight and sums of colour in every cell (x, y, z, 5) from the cell `low` on; a pixel counts in the eight
    around it."""
    at, apart = np.empty(3, np.int64), np.empty(3, np.float64)
    for i in range(len(pixels)):
        for k in range(3):
            place = min(max(pixels[i, k] * per + origin[k], 0.0), size[k] - 1.001)
            at[k] = int(place)
            apart[k] = place - at[k]
            at[k] -= low[k]
        for corner in range(8):
            x, y, z = corner >> 2, corner >> 1 & 1, corner & 1
            share = apart[0] if x else 1 - apart[0]
            share *= apart[1] if y else 1 - apart[1]
            share *= apart[2] if z else 1 - apart[2]
            cell = found[at[0] + x, at[1] + y, at[2] + z]
            cell[0] += share
            cell[1] += share * weights[i]
            cell[2] += share * pixels[i, 0]
            cell[3] += share * pixels[i, 1]
            cell[4] += share * pixels[i, 2]


def _cells(pixels: Float, weights: Float) -> tuple[AnyArray, AnyArray]:
    """Mean colour and weight of every cell of colour that holds a few pixels.

    Counts are shared between neighbouring cells, so that a slightly other picture, as a draft is, has slightly other
    counts, never others altogether.
    """
    size, origin = np.array(_GRID), np.array(_ORIGIN)
    # Most of all colours are in no picture: only the cells between the least and the most are counted.
    ends = [np.clip(v / _BIN + origin, 0, size - 1.001).astype(int) for v in (pixels.min(0), pixels.max(0))]
    low, high = np.maximum(ends[0] - 1, 0), np.minimum(ends[1] + 3, size)
    grid = np.zeros((*(high - low), 5))
    _count(pixels, weights, size, origin, low, 1 / _BIN, grid)
    found = grid.reshape(-1, 5)
    some = found[:, 0] > _FEW
    if not some.any():
        some = found[:, 0] > 0
    found = found[some]
    number, mass = found[:, 0], found[:, 1]
    return np.ascontiguousarray(found[:, 2:] / number[:, None]), mass * np.clip((number - _FEW) / 4, 0.02, 1)


def _squared(one: AnyArray, other: AnyArray) -> AnyArray:
    """Squared distances (n, m) of colours (n, 3) and (m, 3)."""
    return (one**2).sum(1)[:, None] + (other**2).sum(1)[None] - 2 * one @ other.T


@kernel
def _chosen(bins, density, reach, centres):  # type: ignore[no-untyped-def]
    """The densest colour, then what is far from all so far and has weight; each a mean of near candidates."""
    apart, score = np.full(len(bins), np.inf), density.copy()
    worth = density**0.6
    for k in range(len(centres)):
        best = np.argmax(score)
        most = max(score[best], 1e-12)
        x, y, z = bins[best]
        total = 0.0
        for i in range(len(bins)):
            squared = (bins[i, 0] - x) ** 2 + (bins[i, 1] - y) ** 2 + (bins[i, 2] - z) ** 2
            near = math.exp(-squared / (2 * reach * reach))
            share = (score[i] / most) ** 40 * near + 1e-12 * near
            total += share
            for c in range(3):
                centres[k, c] += share * bins[i, c]
        for c in range(3):
            centres[k, c] /= total
        x, y, z = centres[k]
        for i in range(len(bins)):
            squared = (bins[i, 0] - x) ** 2 + (bins[i, 1] - y) ** 2 + (bins[i, 2] - z) ** 2
            apart[i] = min(apart[i], squared)
            score[i] = apart[i] * worth[i]


@kernel
def _densities(bins, mass, reach, density):  # type: ignore[no-untyped-def]
    """How much of all colours lies around each, by a bell of `reach`; what is farther than six of them is not asked."""
    narrow = -0.5 / (reach * reach)
    for i in range(len(bins)):
        density[i] += mass[i]
        for j in range(i):
            squared = (bins[i, 0] - bins[j, 0]) ** 2 + (bins[i, 1] - bins[j, 1]) ** 2 + (bins[i, 2] - bins[j, 2]) ** 2
            if squared < 36 * reach * reach:
                near = math.exp(squared * narrow)
                density[i] += near * mass[j]
                density[j] += near * mass[i]


def _begun(bins: AnyArray, mass: AnyArray, count: int) -> AnyArray:
    """First centres of a palette."""
    density = np.zeros(len(bins))
    _densities(bins, mass, _NEAR, density)
    centres = np.zeros((min(count, len(bins)), 3))
    _chosen(bins, density, 1.5 * _NEAR, centres)
    return centres


@kernel
def _drawn(bins, mass, found, warmth):  # type: ignore[no-untyped-def]
    """Draw centres to the colours that belong to them, in place."""
    shares, sums = np.empty(len(found)), np.empty((len(found), 4))
    for k in range(_ROUNDS + _COLD):
        heat = warmth if k < _ROUNDS else warmth / 4
        sums[:] = 0
        for i in range(len(bins)):
            least = np.inf
            for j in range(len(found)):
                shares[j] = (
                    (bins[i, 0] - found[j, 0]) ** 2 + (bins[i, 1] - found[j, 1]) ** 2 + (bins[i, 2] - found[j, 2]) ** 2
                )
                least = min(least, shares[j])
            total = 0.0
            for j in range(len(found)):
                shares[j] = math.exp((least - shares[j]) / heat)
                total += shares[j]
            for j in range(len(found)):
                share = shares[j] * mass[i] / total
                sums[j, 0] += share
                for c in range(3):
                    sums[j, 1 + c] += share * bins[i, c]
        for j in range(len(found)):
            # A centre that nothing belongs to stays where it is: it must not become black.
            if sums[j, 0] > 1e-9:
                for c in range(3):
                    found[j, c] = sums[j, 1 + c] / sums[j, 0]


def palette(lab: Float, count: int, weight: Float | None = None, warmth: float = _WARMTH) -> Float:
    """Colours of a picture (k, 3) from dark to light, k <= count. About 15 ms at 512 px.

    Every colour belongs a little to each centre, at a temperature that makes the result follow the picture smoothly:
    with hard shares a change of .002 in the picture gave another palette in 16 of 36 cases, now in 3.

    Parameters
    ----------
    weight : (h, w) how much each place matters; all alike by default. warmth : squared difference within which two
        centres share a colour; far less where a picture has few exact colours.
    """
    step = max(round(math.sqrt(lab[..., 0].size / _SAMPLES)), 1)
    pixels = (lab[::step, ::step] * CHANNELS).reshape(-1, 3).astype(f32)
    weights = np.ones(len(pixels), f32) if weight is None else weight[::step, ::step].ravel().astype(f32)
    bins, mass = _cells(pixels, weights)
    mass = mass**_ACCENT
    found = _begun(bins, mass, count)
    _drawn(bins, mass, found, warmth)
    apart = _squared(found, found) + np.triu(np.full((len(found), len(found)), np.inf))
    found = found[apart.min(1) > _SAME**2]
    return (found[np.argsort(found[:, 0])] / CHANNELS).astype(f32)


@kernel
def _cost_row(row, colour, scale, most, k, cost, best, label):  # type: ignore[no-untyped-def]
    for x in range(len(cost)):
        a, b, c = row[x, 0] - colour[0], row[x, 1] - colour[1], row[x, 2] - colour[2]
        distance = a * a + b * b + c * c
        nearer = distance < best[x]
        best[x] = distance if nearer else best[x]
        label[x] = k if nearer else label[x]
        cost[x] = min(distance * scale, most)


@kernel
def _costs(image, colours, scale, most, costs, labels):  # type: ignore[no-untyped-def]
    """Cost of every colour at every pixel, and the cheapest; row by row, so that memory is written in order."""
    h, w, _ = image.shape
    best = np.empty(w, np.float32)
    for y in range(h):
        best[:] = f32(1e9)
        for k in range(len(colours)):
            _cost_row(image[y], colours[k], scale, most, np.uint8(k), costs[k, y], best, labels[y])


@kernel
def _contest(share, cost, k, best, following):  # type: ignore[no-untyped-def]
    """Pixels that label k wins by its blurred indicator less its cost."""
    for y in range(best.shape[0]):
        shares, costs, row, winner = share[y], cost[y], best[y], following[y]
        for x in range(best.shape[1]):
            score = shares[x] - costs[x]
            wins = score > row[x]
            row[x] = score if wins else row[x]
            winner[x] = k if wins else winner[x]


def colour_labels(lab: Float, colours: Float, reach: float, rounds: int = 6, slack: float = 0.022) -> Int:
    """Index of a colour for every pixel, with outlines smoothed over `reach` pixels and no faint specks.

    Threshold dynamics: blurred indicators less the cost of the colour, rounds of argmax. `slack` is the squared
    difference at which a colour costs one indicator; smaller follows the picture more closely. About 3 ms a
    colour and round at 512 px.
    """
    count, (height, width) = len(colours), lab.shape[:2]
    costs = np.empty((count, height, width), f32)
    # Bytes: a palette has few colours, and comparing is most of what is done with them.
    labels, nowhere = np.empty((height, width), np.uint8), np.zeros((height, width), f32)
    image = np.ascontiguousarray(lab * CHANNELS, dtype=f32)
    _costs(image, (colours * CHANNELS).astype(f32), f32(0.5 / slack), f32(1.5), costs, labels)
    for i in range(rounds):
        sigma = reach * (1.25 if i < rounds // 2 else 1.0)
        best = np.full((height, width), -np.inf, f32)
        following = np.zeros((height, width), np.uint8)
        for k in range(count):
            mine = labels == k
            share = share_around(mine, sigma) if mine.any() else nowhere
            _contest(share, costs[k], np.uint8(k), best, following)
        settled = float((following != labels).mean()) < 3e-4
        labels = following
        if settled:
            break
    return labels.astype(np.int32)
