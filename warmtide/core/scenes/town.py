"""A town seen: fronts, streets, wet ground and water that mirror them once."""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.jit import kernel
from ..maths.noise import fine_texture, rng, soft_texture
from ..maths.sampling import bounded, chance, tiled
from .blocks import cast, front
from .sky import Sky
from .view import Camera
from .water import make_waves


@dataclass(frozen=True)
class Town:
    """Blocks `block` metres wide with `gap` between them, columns x0..x1, rows z0..z1.

    form : row and column of its middle, reach in blocks, tallest and least height in m. street : one looks along
    column 0, which is a street; otherwise over water that ends at `shore` (m).
    """

    block: float
    gap: float
    columns: tuple[int, int]
    rows: tuple[int, int]
    form: tuple[float, float, float, float, float]
    seed: int
    street: bool
    shore: float
    wave: float
    wet: float
    haze: float
    origin: tuple[float, float]
    eye: float


@kernel
def _look(  # type: ignore[no-untyped-def]
    focal, middle, horizon, eye, ox, oz, block, gap, x0, x1, z0, z1, seed, street, form, sky, above, sun, colour,
    ambient, air, night, haze, shore, wave, wave_x, wave_z, wet, fine, soft, out, depth, labels,
):  # fmt: skip
    rows, columns = depth.shape
    hit = np.zeros(6)
    c = np.zeros(6)
    cells = wave_x.shape[0]
    for j in range(rows):
        for i in range(columns):
            dx = (i + 0.5 - middle) / focal
            dy = (horizon - j - 0.5) / focal
            dz = 1.0
            px = ox
            py = eye
            pz = oz
            before = 0.0
            weight = 1.0
            label = 0
            seen = 1e9
            for bounce in range(2):
                t = cast(px, py, pz, dx, dy, dz, block, gap, x0, x1, z0, z1, seed, street, form, hit)
                down = -py / dy if dy < -1e-5 else 1e9
                if t < down and t < 1e8:
                    qx = px + dx * t
                    qy = py + dy * t
                    qz = pz + dz * t
                    foot = (t + before) / focal * (3.0 if bounce else 1.0)
                    front(qx, qy, qz, hit, dx, dy, dz, seed, night, sun, colour, ambient, foot, street, soft, c)
                    if street:
                        lamp = qz / 18.0 - math.floor(qz / 18.0) - 0.5
                        glow = math.exp(-lamp * lamp * 9) * math.exp(-(((qy - 4.0) / 4.0) ** 2)) * 0.10 * night
                        c[0] += glow
                        c[1] += glow * 0.72
                        c[2] += glow * 0.4
                    through = math.exp(-(t + before) * haze)
                    for k in range(3):
                        out[j, i, k] += weight * ((c[k] + c[3 + k]) * through + air[i, k] * (1 - through))
                    if bounce == 0:
                        label = 5
                        seen = t
                    break
                if down >= 1e8:
                    sy = horizon - focal * dy / dz + above
                    sx = middle + focal * dx / dz
                    for k in range(3):
                        out[j, i, k] += weight * bounded(sky[:, :, k], sx, sy)
                    break
                if bounce == 1:
                    break
                qx = px + dx * down
                qz = pz + dz * down
                seen = down
                foot = down * down / (focal * eye)
                norm = 1 / math.sqrt(dx * dx + dy * dy + dz * dz)
                vx = dx * norm
                vy = dy * norm
                vz = dz * norm
                if not street and qz < shore:
                    label = 1
                    a = wave / (1 + foot / 1.2)
                    gx = (
                        (
                            tiled(wave_x, qx / 30.0 * cells, qz / 30.0 * cells)
                            + 0.6 * tiled(wave_x, qx / 9.0 * cells, qz / 9.0 * cells)
                        )
                        * a
                        * 0.5
                    )
                    gz = (
                        tiled(wave_z, qx / 30.0 * cells, qz / 30.0 * cells)
                        + 0.6 * tiled(wave_z, qx / 9.0 * cells, qz / 9.0 * cells)
                    ) * a
                    fresnel = min(0.02 + 0.98 * (1 - min(-vy + 0.06, 1.0)) ** 5, 0.92)
                    out[j, i, 0] += (1 - fresnel) * ambient[0] * 0.10
                    out[j, i, 1] += (1 - fresnel) * ambient[1] * 0.17
                    out[j, i, 2] += (1 - fresnel) * ambient[2] * 0.20
                    weight = fresnel
                else:
                    label = 6
                    off = abs(qx - 0.5 * block)
                    road = 7.2
                    shade = 0.055 if off < road else 0.13
                    n0 = tiled(fine, qx * 6.0, qz * 6.0) * max(0.0, 1 - foot / 0.6)
                    n1 = tiled(soft, qx * 1.1, qz * 1.1)
                    shade *= 1 + 0.22 * n0 + 0.06 * n1
                    if street:
                        if off < 0.12 and qz / 6.0 - math.floor(qz / 6.0) < 0.55:
                            shade = 0.30
                        if abs(off - road) < 0.16:
                            shade = 0.16
                        if off > road and foot < 0.15:
                            seam_x = abs(qx / 1.2 - math.floor(qx / 1.2) - 0.5)
                            seam_z = abs(qz / 1.2 - math.floor(qz / 1.2) - 0.5)
                            if seam_x > 0.48 or seam_z > 0.48:
                                shade *= 0.65
                    lamp = qz / 18.0 - math.floor(qz / 18.0) - 0.5
                    pool = math.exp(-lamp * lamp * 16) * math.exp(-(((off - 8.0) / 5.0) ** 2)) * 0.9 * night
                    for k in range(3):
                        tint = 1.0 if k == 0 else (0.72 if k == 1 else 0.40)
                        light = colour[k] * max(sun[1], 0.0) * (0.25 if street else 1.0) + ambient[k] * 0.8
                        light += pool * tint * 1.6 + 0.10 * night * tint
                        out[j, i, k] += shade * light * (1 - 0.6 * wet)
                    if wet <= 0:
                        through = math.exp(-down * haze)
                        for k in range(3):
                            out[j, i, k] = out[j, i, k] * through + air[i, k] * (1 - through)
                        break
                    puddle = (
                        0.5 + 0.9 * tiled(soft, qx * 2.6 + 31, qz * 1.5) + 0.25 * n1 - (0.35 if off > road else 0.0)
                    )
                    puddle = min(1.0, max(0.0, puddle))
                    fresnel = (0.05 + 0.95 * (1 + vy) ** 5) * (0.35 + 0.65 * puddle) * wet + 0.10 * wet * puddle
                    weight = fresnel * (0.75 if off < road else 0.5) * 1.5
                    # Wet asphalt smears lights far more along the view than across it.
                    rough = (1 - puddle) * 0.055 + 0.006
                    gx = (chance(i, j, 5) - 0.5) * rough * 0.35 + 0.5 * rough * tiled(fine, qx * 9.0, qz * 9.0)
                    gz = (chance(i, j, 6) - 0.5) * rough * 2.6 + rough * 1.2 * tiled(fine, qx * 7.0 + 50, qz * 7.0)
                turn = 2 * (vx * (-gx) + vy + vz * (-gz)) / (1 + gx * gx + gz * gz)
                dx = vx + gx * turn
                dy = max(vy - turn, 0.002)
                dz = max(vz + gz * turn, 0.02)
                px = qx
                py = 0.01
                pz = qz
                before = down
            depth[j, i] = seen
            labels[j, i] = label


def look_at(
    town: Town, camera: Camera, sky: Sky, above: float, colour: AnyArray, ambient: AnyArray, air: AnyArray, night: float
) -> tuple[Float, Float, Byte]:
    """Picture (linear), depth and labels of a town. About .5 s at 768 px."""
    picture = np.zeros((camera.height, camera.width, 3), f32)
    depth = np.full((camera.height, camera.width), 1e9, f32)
    labels = np.zeros((camera.height, camera.width), np.uint8)
    waves = make_waves(rng(town.seed, 3), 30.0, 1.0, 0.0)
    factor = camera.width / sky.picture.shape[1]
    size = camera.width, int(sky.picture.shape[0] * factor)
    dome = np.ascontiguousarray(cv2.resize(sky.picture, size, interpolation=cv2.INTER_LINEAR))
    _look(
        camera.focal, camera.middle, camera.horizon, town.eye, town.origin[0], town.origin[1], town.block, town.gap,
        *town.columns, *town.rows, town.seed, town.street, np.array(town.form), dome, above, sky.light.sun, colour, ambient,
        np.asarray(air, np.float64), night, town.haze, town.shore, town.wave, waves.x, waves.z, town.wet, fine_texture(),
        soft_texture(), picture, depth, labels,
    )  # fmt: skip
    return picture, depth, labels
