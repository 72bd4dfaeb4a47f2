"""What a thing lies on: boards, slate, linen, denim, concrete, paper, leather, marble."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.light import lit
from ...maths.steps import smoothstep
from .texture import clouded, grain, moved, over

Random = np.random.Generator


@dataclass(frozen=True)
class Ground:
    """A ground: albedo (h, w, 3) linear, height (h, w) in grid points, how rough it is."""

    albedo: Float
    height: Float
    rough: float


def linear(colour: str) -> Float:
    """A colour #rrggbb without its mark, in linear light."""
    encoded = np.array([int(colour[i : i + 2], 16) / 255 for i in (0, 2, 4)])
    return lit(encoded)


def board(
    height: int, width: int, random: Random, early: AnyArray, late: AnyArray, unit: float, angle: float = 0.0
) -> tuple[Float, Float]:
    """Albedo and height of flat-sawn wood: rings cut by a plane nearly parallel to the trunk.

    Parameters
    ----------
    early, late : linear colours of light and dark wood. unit : size; at 1 rings are about 9 points apart.
    """
    side_x, side_y = (width, height) if angle == 0 else (int(math.hypot(height, width)) + 4,) * 2

    def field(along: float, across: float) -> Float:
        return grain(side_y, side_x, along * unit, random, across * unit)

    ys = (np.arange(side_y, dtype=f32)[:, None] - side_y * random.uniform(0.2, 0.8)) / unit
    wander = 16 * field(260, 90) + 3.2 * field(90, 26) + 0.7 * field(30, 6)
    depth = 40 + 26 * grain(1, side_x, 420 * unit, random)
    radius = np.sqrt((ys + wander) ** 2 + (depth + 0.10 * np.abs(ys)) ** 2)
    rings = radius / 9.5 + 0.25 * field(500, 8)
    share, number = rings - np.floor(rings), np.floor(rings)
    late_wood = smoothstep(0.25, 0.93, share) * (1 - smoothstep(0.93, 1, share))
    late_wood = late_wood * (0.45 + 0.55 * np.mod(np.sin(number * 127.1) * 43758.5, 1))
    fibre = 0.6 * field(60, 1.6) + 0.5 * field(150, 4)
    pores = smoothstep(1.55, 2.3, field(26, 1.4) + 0.35 * late_wood)
    dark = np.clip(0.42 * late_wood + 0.11 * fibre + 0.10 * field(300, 60) + 0.18, 0, 1.2).astype(f32)
    albedo = over(np.asarray(early, f32), np.asarray(late, f32), dark) * (1 - 0.45 * pores)[..., None]
    relief = ((-0.6 * pores - 0.18 * late_wood + 0.06 * fibre) * unit).astype(f32)
    if angle:
        turn = cv2.getRotationMatrix2D((side_x / 2, side_y / 2), -math.degrees(angle), 1)
        turn[:, 2] += [(width - side_x) / 2, (height - side_y) / 2]
        albedo, relief = (
            cv2.warpAffine(a.astype(f32), turn, (width, height), borderMode=cv2.BORDER_REFLECT)
            for a in (albedo, relief)
        )
    return np.clip(albedo, 0.003, 1).astype(f32), relief


def planks(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Five boards beside each other."""
    woods = (("c9a27a", "9a6f48"), ("8a6446", "5a3a24"), ("b7916b", "86623f"), ("6b4a33", "432b1c"))
    early, late = (linear(c) for c in woods[int(random.integers(len(woods)))])
    if tint is not None:
        early, late = tint, tint * f32(0.5)
    albedo, relief = np.zeros((height, width, 3), f32), np.zeros((height, width), f32)
    count = int(random.integers(4, 7))
    for k in range(count):
        top, low = int(k * height / count), int((k + 1) * height / count)
        tone = random.uniform(0.84, 1.14)
        colours, heights = board(
            low - top, width, random, early * tone, late * tone, 1.5 * unit, random.uniform(-0.02, 0.02)
        )
        rows = np.arange(low - top, dtype=f32)[:, None]
        edge = np.minimum(rows, low - top - 1 - rows)
        albedo[top:low] = colours * (1 - 0.75 * np.exp(-((edge / (2.2 * unit)) ** 2)))[..., None]
        relief[top:low] = heights - 5 * unit * np.exp(-((edge / (3 * unit)) ** 2)) + random.uniform(-0.6, 0.6) * unit
    return Ground(albedo, relief, 0.5)


def slate(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Split stone in steps."""
    colour = linear(("3c4046", "4a463f", "39424c")[int(random.integers(3))]) if tint is None else tint
    cloud = clouded(height, width, 240 * unit, random, 6, 0.6)
    streak = clouded(height, width, 60 * unit, random, 4, 0.6, 20 * unit, 0.3)
    albedo = colour * (1 + 0.22 * cloud + 0.08 * streak)[..., None]
    albedo = albedo + 0.02 * smoothstep(1.2, 2.6, clouded(height, width, 30 * unit, random))[..., None]
    relief = 1.4 * cloud + 0.8 * streak + 0.25 * grain(height, width, 2.5 * unit, random)
    relief = relief + 1.1 * np.floor(clouded(height, width, 200 * unit, random, 3) * 1.5)
    return Ground(np.clip(albedo, 0.01, 1).astype(f32), blur(relief * f32(unit), 0.8 * unit), 0.55)


def linen(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Plain weave of uneven threads."""
    colour = linear(("cdbfa6", "b9ad98", "d8d0c2", "a9b0ae")[int(random.integers(4))]) if tint is None else tint
    period = 10 * unit
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    broad = grain(height, width, 300 * unit, random)
    a = (xs + 2.2 * unit * broad + 0.6 * unit * grain(height, width, 40 * unit, random, 120 * unit)) / period
    b = (ys + 2.2 * unit * grain(height, width, 300 * unit, random) + 0.6 * unit * grain(height, width, 120 * unit, random, 40 * unit)) / period  # fmt: skip
    i, j = np.floor(a).astype(int), np.floor(b).astype(int)
    inner_a, inner_b = a - i - 0.5, b - j - 0.5
    above = ((i + j) & 1) == 0
    thick_a, thick_b = random.normal(1, 0.14, 4096)[i % 4096], random.normal(1, 0.14, 4096)[j % 4096]
    warp = np.sqrt(np.clip(1 - (inner_a * 2.05 / thick_a.clip(0.8, 1.2)) ** 2, 0, 1))
    warp = warp * (0.55 + 0.45 * np.cos(inner_b * np.pi) * np.where(above, 1, -0.6))
    weft = np.sqrt(np.clip(1 - (inner_b * 2.05 / thick_b.clip(0.8, 1.2)) ** 2, 0, 1))
    weft = weft * (0.55 + 0.45 * np.cos(inner_a * np.pi) * np.where(above, -0.6, 1))
    top, warped = np.maximum(warp, weft), warp > weft
    tone = np.where(warped, thick_a, thick_b) * (0.72 + 0.34 * top)
    albedo = np.clip(colour * tone[..., None], 0, 1).astype(f32)
    relief = (2.6 * unit * top + 0.25 * unit * grain(height, width, 2 * unit, random)).astype(f32)
    return Ground(albedo, relief, 0.9)


def denim(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Blue twill: diagonal ribs, worn pale on top."""
    colour = linear(("3d5f86", "2f4a6d", "56779a")[int(random.integers(3))]) if tint is None else tint
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    sway = 1.5 * unit * grain(height, width, 200 * unit, random)
    rib = (xs * 0.55 + ys * 0.85 + sway) / (8.5 * unit)
    thread = (xs + 0.7 * sway) / (5.2 * unit)
    top = np.sqrt(np.abs(np.sin(np.pi * rib))) * (0.65 + 0.35 * np.abs(np.sin(np.pi * thread)))
    slub = grain(height, width, 4 * unit, random, 150 * unit)
    worn = np.clip(0.35 + 0.14 * clouded(height, width, 220 * unit, random) + 0.06 * slub, 0, 1)
    pale = colour * 0.55 + f32(0.32)
    albedo = over(colour * f32(0.55), pale, (top * worn).astype(f32)) * (1 + 0.045 * slub)[..., None]
    relief = (2.0 * unit * top + 0.3 * unit * grain(height, width, 2 * unit, random)).astype(f32)
    return Ground(np.clip(albedo, 0.005, 1).astype(f32), relief, 0.92)


def concrete(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Poured, with pores."""
    colour = linear(("a9a7a2", "8c8b88", "54565a")[int(random.integers(3))]) if tint is None else tint
    cloud, speck = clouded(height, width, 300 * unit, random, 6, 0.62), grain(height, width, 2.2 * unit, random)
    pores = smoothstep(2.5, 3.1, grain(height, width, 7 * unit, random) + 0.3 * cloud)
    albedo = colour * (1 + 0.10 * cloud + 0.05 * speck)[..., None] * (1 - 0.55 * pores[..., None])
    relief = (0.5 * cloud + 0.25 * speck - 3.2 * pores) * unit
    return Ground(np.clip(albedo, 0, 1).astype(f32), relief.astype(f32), 0.8)


def paper(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Thick paper with a tooth."""
    colour = linear(("e9e4d8", "e6e2dd", "f0d9cf", "d9e0de")[int(random.integers(4))]) if tint is None else tint
    tooth = clouded(height, width, 14 * unit, random, 4, 0.7)
    albedo = colour * (1 + 0.018 * tooth + 0.02 * grain(height, width, 200 * unit, random))[..., None]
    return Ground(np.clip(albedo, 0, 1).astype(f32), (0.3 * unit * tooth).astype(f32), 0.95)


def leather(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Grained hide: cells with creases between."""
    # Loaded here: the server names looks but never draws.
    from scipy.spatial import cKDTree

    colour = linear(("33231a", "2b1d16", "3a2620", "1f2226")[int(random.integers(4))]) if tint is None else tint
    points = random.uniform(0, 1, (int(height * width / (150 * unit * unit)), 2)) * (width, height)
    ys, xs = np.mgrid[0 : height // 2, 0 : width // 2].astype(f32) * 2
    bend = 2 * unit * grain(height // 2, width // 2, 4.5 * unit, random)
    apart, _ = cKDTree(points).query(np.stack([(xs + bend).ravel(), ys.ravel()], 1), 2)
    crease = (apart[:, 1] - apart[:, 0]).reshape(xs.shape).astype(f32)
    crease = np.maximum(cv2.resize(crease, (width, height), interpolation=cv2.INTER_CUBIC), 0)
    bump = 1 - np.exp(-((crease / (3.2 * unit)) ** 1.2))
    albedo = colour * (0.55 + 0.6 * bump + 0.12 * clouded(height, width, 200 * unit, random))[..., None]
    relief = 2.6 * unit * bump + 0.5 * unit * clouded(height, width, 120 * unit, random, 3)
    return Ground(np.clip(albedo, 0.004, 1).astype(f32), relief.astype(f32), 0.48)


def marble(height: int, width: int, random: Random, unit: float, tint: Float | None) -> Ground:
    """Polished, veined."""
    veined = (("e6e3de", "8d8b8c"), ("2b2e30", "b9b4aa"), ("dbe0dc", "6f8078"))
    pale, vein = veined[int(random.integers(3))]
    colour = linear(pale) if tint is None else tint
    dx = 40 * unit * clouded(height, width, 300 * unit, random, 5)
    dy = 40 * unit * clouded(height, width, 300 * unit, random, 5)
    veins = np.zeros((height, width), f32)
    for size, thick, loud in ((330, 0.055, 0.9), (170, 0.045, 0.45), (80, 0.04, 0.25)):
        field = moved(grain(height, width, size * unit, random, 0.5 * size * unit, 0.7), dx, dy)
        shown = smoothstep(-0.4, 1.6, clouded(height, width, 200 * unit, random, 3))
        veins += loud * np.exp(-np.abs(field) / thick) * shown
    share = np.clip(0.8 * veins + np.clip(0.12 * clouded(height, width, 260 * unit, random, 5), -0.1, 0.4), 0, 1)
    return Ground(np.clip(over(colour, linear(vein), share), 0, 1).astype(f32), np.zeros((height, width), f32), 0.18)


GROUNDS: dict[str, Callable[[int, int, Random, float, Float | None], Ground]] = {
    "planks": planks, "slate": slate, "linen": linen, "denim": denim, "concrete": concrete, "paper": paper,
    "leather": leather, "marble": marble,
}  # fmt: skip
