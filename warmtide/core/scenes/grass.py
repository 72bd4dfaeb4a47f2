"""Grass and flowers before one's feet: single blades, far ones first."""

from typing import NamedTuple

from ..maths.arrays import AnyArray, Byte, Float
from ..maths.jit import kernel
from ..maths.sampling import bounded, chance, tiled
from .given import Lit, eye_of, grain
from .terrain import LandPlan
from .view import GRASS, Camera
from .walk import height_at, heights_of

_FARTHEST = 75.0


class Sward(NamedTuple):
    """Blades: how many, how long (m), shaded and lit colour, three colours of flowers, their share, how far
    they reach out of their patches, wind."""

    many: int
    blade: float
    shaded: AnyArray
    lit: AnyArray
    petals: AnyArray
    flowers: float
    spread: float
    wind: float
    seed: int


# Long: a blade and the flower on it share its place.
@kernel
def _grow(eye, land, sward, lit, near_shade, water, grain, picture, seen, labels):  # type: ignore[no-untyped-def]
    height, width = seen.shape
    back = max(0.0, lit.sun[2]) * 0.5
    high = max(lit.sun[1], 0.0)
    for q in range(sward.many):
        # Evenly spread in the logarithm of depth, so that near blades are not crowded out.
        t = 1 - (q + chance(q, 1, sward.seed)) / sward.many
        z = 1.2 * (_FARTHEST / 1.2) ** t
        sx = chance(q, 2, sward.seed) * width * 1.1 - 0.05 * width
        x = (sx - eye.middle) / eye.focal * z
        h = height_at(land, x, z)
        if h <= water + 0.15:
            continue
        fleck = tiled(grain.soft, x * 3.0, z * 3.0)
        patch = tiled(grain.soft, x / 2.0, z / 2.0)
        if chance(q, 3, sward.seed) > 1.4 * (0.65 + 0.35 * fleck):
            continue
        y = eye.horizon - eye.focal * (h - eye.y) / z
        if y > height + sward.blade * eye.focal / z or y < 0:
            continue
        if seen[max(min(int(y), height - 1) - 1, 0), min(max(int(sx), 0), width - 1)] < z * 0.85 - 0.3:
            continue
        length = min(
            sward.blade * (0.45 + 0.75 * chance(q, 4, sward.seed)) * (1 + 0.35 * patch) * eye.focal / z, height * 0.33
        )
        wide = max(0.016 * eye.focal / z * (0.6 + 0.8 * chance(q, 5, sward.seed)), 0.55)
        bend = (chance(q, 6, sward.seed) - 0.5) * 1.1 + sward.wind
        open_sun = (
            1 - 0.75 * bounded(near_shade, (x - land.near_left) / land.near_cell, z / land.near_cell)
            if z < land.near_depth
            else 1.0
        )
        tone = min(max(0.5 + 0.25 * patch + 0.35 * (chance(q, 7, sward.seed) - 0.5) + 0.15 * fleck, 0.0), 1.0)
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
                    own = sward.shaded[c] * (1 - tone) + sward.lit[c] * tone
                    sunny = lit.colour[c] * open_sun * (0.18 + 0.82 * s) * (0.28 + 0.35 * high + back * s)
                    value = own * (sunny + lit.ambient[c] * (0.3 + 0.7 * s) * 0.8)
                    picture[j, i, c] += cover * (value - picture[j, i, c])
                if cover > 0.5:
                    labels[j, i] = GRASS
        if chance(q, 8, sward.seed) < sward.flowers * max(0.0, patch + sward.spread):
            radius = max(0.020 * eye.focal / z, 0.7)
            xx = sx + bend * length * 0.7
            yy = y - length * (1 - 0.18 * abs(bend))
            which = int(chance(q, 9, sward.seed) * 2.999)
            reach = int(radius + 1)
            for j in range(max(int(yy) - reach, 0), min(int(yy) + reach + 1, height)):
                for i in range(max(int(xx) - reach, 0), min(int(xx) + reach + 1, width)):
                    d = ((i + 0.5 - xx) ** 2 + ((j + 0.5 - yy) * 1.35) ** 2) ** 0.5
                    cover = min(1.0, max(0.0, radius - d + 0.5))
                    for c in range(3):
                        light = lit.colour[c] * open_sun * (0.3 + 0.3 * high + back) + lit.ambient[c] * 0.7
                        value = sward.petals[which, c] * light * (1.1 - 0.5 * d / radius) * 0.8
                        picture[j, i, c] += cover * (value - picture[j, i, c])


def grow(
    plan: LandPlan, camera: Camera, eye: float, sward: Sward, near_shade: Float, lit: Lit, picture: Float, seen: Float,
    labels: Byte,
) -> None:  # fmt: skip
    """Grow grass into a view, in place. About .15 s for 46 000 blades."""
    land = heights_of(plan)
    _grow(eye_of(camera, eye), land, sward, lit, near_shade, plan.water, grain(), picture, seen, labels)
