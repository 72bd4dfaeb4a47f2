"""Grass and flowers before one's feet: single blades, far ones first."""

from dataclasses import dataclass

from ..maths.arrays import AnyArray, Byte, Float
from ..maths.jit import kernel
from ..maths.noise import soft_texture
from ..maths.sampling import bounded, chance, tiled
from .terrain import NEAR_CELL, NEAR_DEPTH, LandPlan
from .view import Camera
from .walk import height_at

_FARTHEST = 75.0


@dataclass(frozen=True)
class Sward:
    """Blades: how many, how long (m), shaded and lit colour, three colours of flowers, their share, how far
    they reach out of their patches, wind."""

    count: int
    blade: float
    shaded: AnyArray
    lit: AnyArray
    petals: AnyArray
    flowers: float
    spread: float
    wind: float
    seed: int


@kernel
def _grow(  # type: ignore[no-untyped-def]
    picture, seen, labels, count, focal, middle, horizon, eye, far, cell, left, near, near_cell, near_left, near_depth,
    near_shade, seed, farthest, blade, shaded, lit, petals, flowers, spread, sun, colour, ambient, water, soft, wind,
):  # fmt: skip
    height, width = seen.shape
    back = max(0.0, sun[2]) * 0.5
    high = max(sun[1], 0.0)
    for q in range(count):
        # Evenly spread in the logarithm of depth, so that near blades are not crowded out.
        t = 1 - (q + chance(q, 1, seed)) / count
        z = 1.2 * (farthest / 1.2) ** t
        sx = chance(q, 2, seed) * width * 1.1 - 0.05 * width
        x = (sx - middle) / focal * z
        h = height_at(far, cell, left, near, near_cell, near_left, near_depth, x, z)
        if h <= water + 0.15:
            continue
        fine = tiled(soft, x * 3.0, z * 3.0)
        patch = tiled(soft, x / 2.0, z / 2.0)
        if chance(q, 3, seed) > 1.4 * (0.65 + 0.35 * fine):
            continue
        y = horizon - focal * (h - eye) / z
        if y > height + blade * focal / z or y < 0:
            continue
        if seen[max(min(int(y), height - 1) - 1, 0), min(max(int(sx), 0), width - 1)] < z * 0.85 - 0.3:
            continue
        length = min(blade * (0.45 + 0.75 * chance(q, 4, seed)) * (1 + 0.35 * patch) * focal / z, height * 0.33)
        wide = max(0.016 * focal / z * (0.6 + 0.8 * chance(q, 5, seed)), 0.55)
        bend = (chance(q, 6, seed) - 0.5) * 1.1 + wind
        open_sun = 1 - 0.75 * bounded(near_shade, (x - near_left) / near_cell, z / near_cell) if z < near_depth else 1.0
        tone = min(max(0.5 + 0.25 * patch + 0.35 * (chance(q, 7, seed) - 0.5) + 0.15 * fine, 0.0), 1.0)
        pieces = max(int(length * 1.15), 2)
        for k in range(pieces):
            s = k / pieces
            xx = sx + bend * length * s * s * 0.7
            yy = y - length * s * (1 - 0.18 * abs(bend) * s)
            w = wide * (1 - s * 0.85)
            j = int(yy)
            if j < 0 or j >= height:
                continue
            for i in range(max(int(xx - w * 0.5), 0), min(int(xx + w * 0.5) + 1, width)):
                if seen[j, i] < z - 0.4 - 0.05 * z:
                    continue
                cover = min(1.0, max(0.0, min(i + 1 - (xx - w * 0.5), w, xx + w * 0.5 - i)))
                for c in range(3):
                    own = shaded[c] * (1 - tone) + lit[c] * tone
                    sunny = colour[c] * open_sun * (0.18 + 0.82 * s) * (0.28 + 0.35 * high + back * s)
                    value = own * (sunny + ambient[c] * (0.3 + 0.7 * s) * 0.8)
                    picture[j, i, c] += cover * (value - picture[j, i, c])
                if cover > 0.5:
                    labels[j, i] = 4
        if chance(q, 8, seed) < flowers * max(0.0, patch + spread):
            radius = max(0.020 * focal / z, 0.7)
            xx = sx + bend * length * 0.7
            yy = y - length * (1 - 0.18 * abs(bend))
            which = int(chance(q, 9, seed) * 2.999)
            reach = int(radius + 1)
            for j in range(max(int(yy) - reach, 0), min(int(yy) + reach + 1, height)):
                for i in range(max(int(xx) - reach, 0), min(int(xx) + reach + 1, width)):
                    d = ((i + 0.5 - xx) ** 2 + ((j + 0.5 - yy) * 1.35) ** 2) ** 0.5
                    cover = min(1.0, max(0.0, radius - d + 0.5))
                    for c in range(3):
                        light = colour[c] * open_sun * (0.3 + 0.3 * high + back) + ambient[c] * 0.7
                        value = petals[which, c] * light * (1.1 - 0.5 * d / radius) * 0.8
                        picture[j, i, c] += cover * (value - picture[j, i, c])


def grow(
    plan: LandPlan, camera: Camera, eye: float, sward: Sward, near_shade: Float, sun: AnyArray, colour: AnyArray,
    ambient: AnyArray, picture: Float, seen: Float, labels: Byte,
) -> None:  # fmt: skip
    """Grow grass into a view, in place. About .15 s for 46 000 blades."""
    g = plan.grid
    _grow(
        picture, seen, labels, sward.count, camera.focal, camera.middle, camera.horizon, eye, plan.far, g.cell, g.left,
        plan.near, NEAR_CELL, plan.near_left, NEAR_DEPTH, near_shade, sward.seed, _FARTHEST, sward.blade, sward.shaded,
        sward.lit, sward.petals, sward.flowers, sward.spread, sun, colour, ambient, plan.water, soft_texture(), sward.wind,
    )  # fmt: skip
