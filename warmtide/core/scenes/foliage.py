"""Trees as clouds of leaves: a conifer by the golden angle, a broad tree by branching, lit by sorting along the sun.

Sources
-------
1. H. Honda, "Description of the form of trees by the parameters of the tree-like body", 1971 (branching).
2. P. Prusinkiewicz, A. Lindenmayer, "The algorithmic beauty of plants", 1990 (golden angle).
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.jit import kernel

# Shaded and lit leaves.
LEAVES = {
    "conifer": ("15281a", "34492a"), "broad": ("263a17", "566b2e"), "autumn": ("a8541a", "d8a83a"),
    "blossom": ("d890a8", "f2c4d0"), "bush": ("2a3c1a", "4e6230"), "birch": ("4a6428", "8a9448"),
    "snowy": ("1c2e24", "c4ccd4"), "bare": ("4a4038", "6a5c4e"),
}  # fmt: skip
BARK = "2c231b"
_ROUND = ("broad", "autumn", "blossom", "birch", "bush", "bare")


@dataclass(frozen=True)
class Points:
    """Leaves and wood of a tree of height 1: places (n, 3), sizes, angles, which are wood; how long leaves are."""

    at: AnyArray
    size: AnyArray
    angle: AnyArray
    wood: AnyArray
    long: float


def _conifer(random: np.random.Generator, count: int) -> Points:
    reach, bare = random.uniform(0.17, 0.25), random.uniform(0.06, 0.14)
    branches, droop = int(random.integers(85, 120)), random.uniform(0.15, 0.55)
    each = count // branches
    at, size, angle = [], [], []
    for b in range(branches):
        t = bare + (1 - bare) * (b / branches) ** 0.92
        around = b * 2.399963 + random.normal(0, 0.4)
        length = reach * ((1 - t) / (1 - bare)) ** 0.8 * random.uniform(0.65, 1.12) + 0.008
        if t < bare + 0.12:
            length *= 0.55 + 0.45 * (t - bare) / 0.12
        k = max(int(each * (length / reach * 1.7 + 0.1)), 8)
        u = random.random(k) ** 0.6
        aside = random.normal(0, 0.24, k) * length * (1 - u * 0.75)
        x = math.cos(around) * length * u - math.sin(around) * aside
        z = math.sin(around) * length * u + math.cos(around) * aside
        hang = 0.28 * (1 - t) * u - droop * u * u * (0.35 + 0.65 * (1 - t)) + 0.25 * t * u
        y = t + length * hang + random.normal(0, 0.006, k) - np.abs(aside) * 0.25
        at.append(np.stack([x, y, z], 1))
        size.append(0.0062 * random.uniform(0.6, 1.25, k))
        angle.append(np.arctan2(-0.55 + 0.3 * random.normal(size=k), math.cos(around) + 0.001))
    k = 90
    up = np.linspace(0, 0.93, k)
    at.append(np.stack([random.normal(0, 0.0015, k), up, random.normal(0, 0.0015, k)], 1))
    size.append(0.013 * (1 - up) + 0.002)
    angle.append(np.full(k, 1.57))
    wood = np.zeros(sum(len(a) for a in at))
    wood[-k:] = 1
    return Points(np.concatenate(at), np.concatenate(size), np.concatenate(angle), wood, 2.4)


def _broad(random: np.random.Generator, count: int) -> Points:
    wood_at: list[AnyArray] = []
    wood_size: list[float] = []
    tips: list[AnyArray] = []

    def branch(start: AnyArray, way: AnyArray, length: float, radius: float, level: int) -> None:
        pieces = max(int(length / 0.008), 3)
        here, along = start.copy(), way.copy()
        for i in range(pieces):
            along = along + random.normal(0, 0.05, 3)
            along /= np.linalg.norm(along)
            here = here + along * length / pieces
            wood_at.append(here.copy())
            wood_size.append(radius * (1 - 0.35 * i / pieces))
        if level == 0:
            tips.append(here)
            return
        forks = int(random.integers(2, 4)) + (1 if level > 2 else 0)
        for b in range(forks):
            a, spread = random.uniform(0, 6.28), random.uniform(0.35, 0.85)
            turned = np.array([math.cos(a) * spread, random.uniform(0, 0.35), math.sin(a) * spread]) + along * 0.75
            turned /= np.linalg.norm(turned)
            origin = here if b < 2 else start + (here - start) * random.uniform(0.55, 0.95)
            branch(origin, turned, length * random.uniform(0.62, 0.82), radius * 0.62, level - 1)
        if level <= 2:
            tips.append(here)

    branch(np.zeros(3), np.array([random.normal(0, 0.05), 1.0, 0.0]), random.uniform(0.20, 0.30), 0.020, 4)
    ends = np.array(tips)
    scale = 0.95 / (ends[:, 1].max() + 0.06)
    each = max(count // len(ends), 6)
    leaves, sizes = [], []
    for tip in ends:
        q = random.normal(size=(each, 3))
        q /= np.linalg.norm(q, axis=1, keepdims=True)
        q *= random.random((each, 1)) ** 0.4 * random.uniform(0.045, 0.085) * np.array([1.25, 0.8, 1.25])
        leaves.append(tip + q)
        sizes.append(random.uniform(0.0045, 0.0095, each))
    at = np.concatenate([np.array(wood_at), *leaves]) * scale
    size = np.concatenate([np.array(wood_size), *sizes]) * scale
    wood = np.zeros(len(at))
    wood[: len(wood_at)] = 1
    at *= min(0.985 / at[:, 1].max(), 0.64 / np.abs(at[:, 0]).max())
    return Points(at, size, random.uniform(0, 3.14, len(at)), wood, 1.5)


def _bush(random: np.random.Generator, count: int) -> Points:
    """A dome of leaves with stems that hardly show."""
    lumps = int(random.integers(9, 16))
    at, size = [], []
    for _ in range(lumps):
        around, out = random.uniform(0, 6.28), random.uniform(0, 0.42)
        middle = np.array(
            [math.cos(around) * out, random.uniform(0.25, 0.72) * (1 - out * 0.9), math.sin(around) * out]
        )
        k = count // lumps
        q = random.normal(size=(k, 3))
        q /= np.linalg.norm(q, axis=1, keepdims=True)
        at.append(middle + q * random.random((k, 1)) ** 0.33 * random.uniform(0.16, 0.27))
        size.append(random.uniform(0.010, 0.020, k))
    leaves = np.concatenate(at)
    leaves[:, 1] = np.abs(leaves[:, 1])
    leaves *= min(0.985 / leaves[:, 1].max(), 0.64 / np.abs(leaves[:, 0]).max())
    n = len(leaves)
    return Points(leaves, np.concatenate(size), random.uniform(0, 3.14, n), np.zeros(n), 1.5)


@kernel
def _shadow(u, v, order, size, cells, thickness, out):  # type: ignore[no-untyped-def]
    """Light that arrives at each point when those before it in `order` take some away."""
    grid = np.zeros((cells, cells), np.float32)
    for q in order:
        i = min(max(int(u[q] * cells), 0), cells - 1)
        j = min(max(int(v[q] * cells), 0), cells - 1)
        out[q] = math.exp(-thickness * grid[j, i])
        area = size[q] * size[q] * cells * cells
        grid[j, i] += area * 0.6
        if i + 1 < cells:
            grid[j, i + 1] += area * 0.1
        if i > 0:
            grid[j, i - 1] += area * 0.1
        if j + 1 < cells:
            grid[j + 1, i] += area * 0.1
        if j > 0:
            grid[j - 1, i] += area * 0.1


@kernel
def _draw(px, py, size, angle, long, lit, open_sky, hue, wood, out):  # type: ignore[no-untyped-def]
    """Points as small ellipses, in their order, into out (h, w, 5): cover, sun, sky, hue, wood, premultiplied."""
    height, width = out.shape[:2]
    for q in range(len(px)):
        if wood[q] > 0.5:
            a = max(size[q], 0.6)
            b = a
            most = 1.0
        else:
            a = max(size[q] * long, 0.75)
            b = max(size[q] / long * 1.15, 0.55)
            most = min(1.0, size[q] * long / 0.75)
        ca = math.cos(angle[q])
        sa = math.sin(angle[q])
        reach = int(max(a, b) + 2)
        for j in range(max(int(py[q]) - reach, 0), min(int(py[q]) + reach + 1, height)):
            for i in range(max(int(px[q]) - reach, 0), min(int(px[q]) + reach + 1, width)):
                dx = i + 0.5 - px[q]
                dy = j + 0.5 - py[q]
                u = (dx * ca + dy * sa) / a
                v = (-dx * sa + dy * ca) / b
                d = (1 - math.sqrt(u * u + v * v)) * min(a, b) + 0.5
                if d <= 0:
                    continue
                al = min(d, 1.0) * most
                out[j, i, 0] = out[j, i, 0] * (1 - al) + al
                out[j, i, 1] = out[j, i, 1] * (1 - al) + al * lit[q]
                out[j, i, 2] = out[j, i, 2] * (1 - al) + al * open_sky[q]
                out[j, i, 3] = out[j, i, 3] * (1 - al) + al * hue[q]
                out[j, i, 4] = out[j, i, 4] * (1 - al) + al * wood[q]


def tree(kind: str, random: np.random.Generator, sun: AnyArray, height: int) -> list[Float]:
    """A tree as it looks from the front, in halving sizes: (h, w, 5) cover, sun, sky, hue, wood, premultiplied.

    height : of the largest, px. About 10 ms at 100 px, 60 ms at 400.
    """
    round_crown = kind in _ROUND
    most = 20_000 if round_crown else 17_000
    count = int(np.clip(height * height / 8, 1800, most))
    if kind == "bare":
        count //= 14
    points = _bush(random, count) if kind == "bush" else (_broad if round_crown else _conifer)(random, count)
    at, width = points.at, int(height * (1.3 if round_crown else 0.62))
    way = sun / np.linalg.norm(sun)
    across = np.cross(way, np.array([0, 1.0, 0.01]))
    across /= np.linalg.norm(across)
    down = np.cross(across, way)
    cells = int(np.clip(48 + len(at) ** 0.5 * 0.15, 48, 72))
    lit, above, front = (np.zeros(len(at), f32) for _ in range(3))
    middle = at - np.array([0, 0.5, 0])
    toward = np.argsort(-(middle @ way), kind="stable")
    _shadow(middle @ across * 0.8 + 0.5, middle @ down * 0.8 + 0.5, toward, points.size, cells, 0.35, lit)
    top = np.argsort(-at[:, 1], kind="stable")
    _shadow(at[:, 0] * 0.9 + 0.5, at[:, 2] * 0.9 + 0.5, top, points.size, cells, 0.16, above)
    fore = np.argsort(at[:, 2], kind="stable")
    _shadow(at[:, 0] * 0.9 + 0.5, at[:, 1] * 0.95, fore, points.size, cells, 0.12, front)
    sky = 0.25 + 0.5 * above + 0.35 * front * np.clip(at[:, 1] * 1.3, 0.3, 1)
    outward = at - np.array([0, 0.45, 0])
    outward /= np.linalg.norm(outward, axis=1, keepdims=True) + 1e-6
    lit = lit * np.clip(0.55 + 0.45 * (outward @ way), 0.12, 1) * random.uniform(0.7, 1.2, len(at))
    hue = random.normal(0, 1, len(at)) * 0.5 + 0.4 * np.sin(at[:, 0] * 17 + at[:, 1] * 13)
    out = np.zeros((height, width, 5), f32)
    far_first = np.argsort(-at[:, 2], kind="stable")
    size = points.size * np.clip((200 / height) ** 0.5, 0.62, 1) * height
    _draw(
        at[far_first, 0] * height + width / 2, height - 1 - at[far_first, 1] * (height - 3), size[far_first],
        points.angle[far_first], points.long, lit[far_first].astype(f32), sky[far_first], hue[far_first],
        points.wood[far_first], out,
    )  # fmt: skip
    return _halved(out)


def _halved(sprite: Float) -> list[Float]:
    sizes = [sprite]
    while min(sizes[-1].shape[:2]) > 6:
        last = sizes[-1]
        size = max(last.shape[1] // 2, 2), max(last.shape[0] // 2, 3)
        planes = [cv2.resize(np.ascontiguousarray(last[..., k]), size, interpolation=cv2.INTER_AREA) for k in range(5)]
        sizes.append(np.ascontiguousarray(np.dstack(planes)))
    return sizes


@kernel
def stamp(  # type: ignore[no-untyped-def]
    picture, seen, labels, sprite, px, py, scale, z, flipped, shaded, bright, bark, colour, ambient, through, air, snowy
):
    """Blend a tree into a picture: foot at (px, py), `scale` px of picture for one of sprite, at depth z."""
    height, width = seen.shape
    rows, columns = sprite.shape[:2]
    wide = columns * scale
    tall = rows * scale
    for j in range(max(int(py - tall), 0), min(int(py) + 1, height)):
        v = (j + 0.5 - (py - tall)) / scale - 0.5
        if v < 0 or v > rows - 1:
            continue
        jj = min(int(v), rows - 2)
        b = v - jj
        for i in range(max(int(px - wide / 2), 0), min(int(px + wide / 2) + 2, width)):
            if z > seen[j, i] * 1.004 + 0.05:
                continue
            u = (i + 0.5 - (px - wide / 2)) / scale - 0.5
            if flipped:
                u = columns - 1 - u
            if u < 0 or u >= columns - 1:
                continue
            ii = int(u)
            a = u - ii
            w00 = (1 - a) * (1 - b)
            w10 = a * (1 - b)
            w01 = (1 - a) * b
            w11 = a * b
            cover = sprite[jj, ii, 0] * w00 + sprite[jj, ii + 1, 0] * w10
            cover += sprite[jj + 1, ii, 0] * w01 + sprite[jj + 1, ii + 1, 0] * w11
            if cover < 0.02:
                continue
            lit = sprite[jj, ii, 1] * w00 + sprite[jj, ii + 1, 1] * w10
            lit += sprite[jj + 1, ii, 1] * w01 + sprite[jj + 1, ii + 1, 1] * w11
            sky = sprite[jj, ii, 2] * w00 + sprite[jj, ii + 1, 2] * w10
            sky += sprite[jj + 1, ii, 2] * w01 + sprite[jj + 1, ii + 1, 2] * w11
            hue = sprite[jj, ii, 3] * w00 + sprite[jj, ii + 1, 3] * w10
            hue += sprite[jj + 1, ii, 3] * w01 + sprite[jj + 1, ii + 1, 3] * w11
            wood = sprite[jj, ii, 4] * w00 + sprite[jj, ii + 1, 4] * w10
            wood += sprite[jj + 1, ii, 4] * w01 + sprite[jj + 1, ii + 1, 4] * w11
            wood /= cover
            # Snow lies where the sky is open; elsewhere hue varies from leaf to leaf.
            t = 0.5 + 0.5 * hue / cover if not snowy else (sky / cover - 0.5) * 2.2 + 0.2 * hue / cover
            t = min(max(t, 0.0), 1.0)
            for k in range(3):
                own = (shaded[k] * (1 - t) + bright[k] * t) * (1 - wood) + bark[k] * wood
                light = own * (colour[k] * lit + ambient[k] * sky)
                picture[j, i, k] = (
                    picture[j, i, k] * (1 - cover) + light * through[k] + air[i, k] * (1 - through[k]) * cover
                )
            if cover > 0.5:
                labels[j, i] = 3
                seen[j, i] = min(z, seen[j, i])
