"""Solids in their light: walls with windows, boards, stone, tiles; sun, soft light, water that mirrors once."""

import math
from dataclasses import dataclass
from typing import NamedTuple

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.jit import kernel
from ..maths.sampling import bounded, chance, ramp, tiled
from .given import Eye, eye_of, grain, lit_by
from .solids import (
    BOARDS,
    BRICK,
    FLOOR,
    GRAVEL,
    PLANKS,
    PLASTER,
    SETTS,
    SHINE,
    TILES,
    WHICH,
    WINDOW,
    Packed,
    meet,
)  # fmt: skip
from .view import BUILDING, GROUND, SKY, WATER, Camera, Light


@dataclass(frozen=True)
class World:
    """What is built, and how it is lit.

    Attributes
    ----------
    solids : see `solids.packed`. eye : where the camera stands (x, y, z). water : level of the water, or -1e6.
    lamps : (n, 4) places of soft lights in metres and their power; with none, soft light comes from the sky.
    lamp_colour : of them. bounce : light that has met walls already, from everywhere. night : 0..1, how many windows
    are lit. haze : per metre.
    """

    solids: Packed
    eye: tuple[float, float, float]
    water: float
    lamps: AnyArray
    lamp_colour: AnyArray
    bounce: AnyArray
    night: float
    haze: float


class _Indoors(NamedTuple):
    """Colours of light that no sun sheds: of the lamps, and of what has met walls already."""

    lamp: AnyArray
    bounce: AnyArray


class _Waves(NamedTuple):
    """Slopes of the water."""

    x: Float
    z: Float


@kernel
def _windows(numbers, u, v, foot, night, out):  # type: ignore[no-untyped-def]
    """Windows in a wall, lit or dark, over what is in `out`."""
    cell = math.floor(u / numbers[WINDOW])
    floor = math.floor(v / numbers[FLOOR])
    a = u / numbers[WINDOW] - cell
    b = v / numbers[FLOOR] - floor
    blur = max(foot / numbers[WINDOW], 0.01)
    inside = min(min(a - 0.30, 0.70 - a) / blur, min(b - 0.28, 0.80 - b) / blur * numbers[FLOOR] / numbers[WINDOW])
    frame = min(min(a - 0.26, 0.74 - a) / blur, min(b - 0.24, 0.83 - b) / blur * numbers[FLOOR] / numbers[WINDOW])
    inside = min(max(inside + 0.5, 0.0), 1.0)
    frame = min(max(frame + 0.5, 0.0), 1.0)
    bars = min(abs(a - 0.5) / blur * 0.8, abs(b - 0.56) / blur * numbers[FLOOR] / numbers[WINDOW] * 0.8)
    pane = inside * min(max(bars - 0.4, 0.0), 1.0)
    lit = chance(int(cell) + 50, int(floor), int(numbers[WHICH]) * 7 + 5)
    for k in range(3):
        out[k] = out[k] * (1 - frame) + 0.62 * frame
        out[k] = out[k] * (1 - pane) + (0.035 + 0.015 * k) * pane
    if lit < night * 0.72:
        warm = 0.7 + 0.6 * chance(int(cell), int(floor), int(numbers[WHICH]) + 9)
        glow = warm * pane * (1.25 - 0.5 * b) * 0.34
        out[3] += glow
        out[4] += glow * 0.62
        out[5] += glow * 0.26


# Long: one branch a material, each a few lines; apart from its light it is a fifth slower.
@kernel
def _surface(material, numbers, px, py, pz, nx, ny, nz, foot, night, grain, out):  # type: ignore[no-untyped-def]
    """Colour of a point in out[0:3], what it sheds in out[3:6]."""
    # Along the wall and up it, or across a floor.
    u = px if abs(nz) > abs(nx) else pz
    v = py
    if abs(ny) > 0.8:
        u = px
        v = pz
    broad = tiled(grain.soft, u * 2.1 + numbers[WHICH] * 37, v * 2.1)
    fleck = tiled(grain.fine, u * 26.0, v * 26.0) if foot < 0.05 else 0.0
    tone = 1.0 + 0.07 * broad + 0.05 * fleck
    if material == PLASTER:
        tone = 1.0 + 0.10 * broad + 0.03 * fleck - 0.16 * max(0.0, 1 - py / 1.2) * (0.5 + 0.5 * broad)
    elif material == BRICK:
        row = math.floor(v / 0.075)
        a = u / 0.23 + (0.5 if int(row) % 2 else 0.0)
        brick = math.floor(a)
        joint = min(min(a - brick, 1 - (a - brick)) * 0.23, min(v / 0.075 - row, 1 - (v / 0.075 - row)) * 0.075)
        sharp = max(0.004, foot)
        joint = ramp(0.2 * sharp, 1.5 * sharp, joint)
        fade = min(1.0, max(0.0, (0.09 - foot) / 0.05))
        tone = (0.75 + 0.5 * chance(int(brick), int(row), 3)) * (1 - 0.45 * (1 - joint)) * fade + 0.92 * (1 - fade)
        tone *= 1 + 0.08 * broad
    elif material == BOARDS:
        board = math.floor(u / 0.16)
        edge = min(u / 0.16 - board, 1 - (u / 0.16 - board)) * 0.16
        tone = 0.82 + 0.3 * chance(int(board), int(numbers[WHICH]), 5) + 0.10 * tiled(grain.soft, u * 40.0, v * 3.0)
        tone *= 1 - 0.5 * (1 - ramp(0.0, max(0.012, foot), edge)) * min(1.0, max(0.0, (0.12 - foot) / 0.06))
    elif material == SETTS:
        row = math.floor(v / 0.13)
        a = u / 0.17 + chance(int(row), 7, 9)
        sett = math.floor(a)
        edge = min(min(a - sett, 1 - (a - sett)) * 0.17, min(v / 0.13 - row, 1 - (v / 0.13 - row)) * 0.13)
        fade = min(1.0, max(0.0, (0.10 - foot) / 0.06))
        tone = (0.72 + 0.5 * chance(int(sett), int(row), 4)) * (0.55 + 0.45 * ramp(0.0, max(0.022, foot), edge))
        tone = (tone * fade + 0.78 * (1 - fade)) * (1 + 0.14 * tiled(grain.soft, u * 0.8, v * 0.8))
    elif material == TILES:
        row = math.floor(v / 0.17)
        part = v / 0.17 - row
        a = u / 0.2 + (0.5 if int(row) % 2 else 0.0)
        fade = min(1.0, max(0.0, (0.14 - foot) / 0.08))
        tone = 0.8 + 0.35 * chance(int(math.floor(a)), int(row), 6)
        tone = (tone * (0.66 + 0.34 * ramp(0.0, 0.35, part))) * fade + 0.86 * (1 - fade)
        tone *= 1 + 0.12 * broad
    elif material == PLANKS:
        board = math.floor(u / 0.19)
        edge = min(u / 0.19 - board, 1 - (u / 0.19 - board)) * 0.19
        own = chance(int(board), 3, 8)
        tone = 0.75 + 0.3 * own + 0.16 * tiled(grain.soft, u * 30.0 + own * 90, v * 2.2 + own * 50)
        tone += 0.06 * math.sin((u * 5.0 + 0.5 * tiled(grain.soft, u * 9.0, v * 1.1 + own * 40)) * 26.0)
        tone *= 1 - 0.55 * (1 - ramp(0.0, max(0.006, 0.7 * foot), edge)) * min(1.0, 0.012 / max(foot, 0.004))
    elif material == GRAVEL:
        tone = 0.9 + 0.16 * tiled(grain.soft, u * 7.0, v * 7.0) + 0.16 * fleck
    for k in range(3):
        out[k] = numbers[k] * max(tone, 0.05)
        out[3 + k] = numbers[SHINE] * numbers[k]
    if numbers[WINDOW] > 0 and abs(ny) < 0.3:
        _windows(numbers, u, v, foot, night, out)


# Long: two kinds of light at the same point.
@kernel
def _soft_light(eye, hulls, lamps, from_sky, out, depth):  # type: ignore[no-untyped-def]
    """Soft light at the first thing every pixel meets: out (h, w), with its depth; 20 rays, rotated by pixel."""
    rows, columns = out.shape
    hit = np.zeros(2, np.int64)
    other = np.zeros(2, np.int64)
    for j in range(rows):
        for i in range(columns):
            dx = (i + 0.5 - eye.middle) / eye.focal
            dy = (eye.horizon - j - 0.5) / eye.focal
            dz = 1.0
            t = meet(eye.x, eye.y, eye.z, dx, dy, dz, 1e9, hulls, hit)
            depth[j, i] = t
            if t > 1e8:
                out[j, i] = 1.0
                continue
            nx = hulls.planes[hit[0], hit[1], 0]
            ny = hulls.planes[hit[0], hit[1], 1]
            nz = hulls.planes[hit[0], hit[1], 2]
            px = eye.x + dx * t + nx * 2e-3
            py = eye.y + dy * t + ny * 2e-3
            pz = eye.z + dz * t + nz * 2e-3
            total = 0.0
            spin = chance(i % 4, j % 4, 77)
            if from_sky:
                for q in range(20):
                    # Points of a cosine-weighted spiral around the normal.
                    r = math.sqrt((q + 0.5) / 20)
                    a = 2.399963 * q + spin * 6.2832
                    lift = math.sqrt(1 - r * r)
                    # Two directions across the normal.
                    if abs(ny) < 0.9:
                        bx = nz
                        by = 0.0
                        bz = -nx
                    else:
                        bx = 1.0
                        by = 0.0
                        bz = 0.0
                    s = 1 / math.sqrt(bx * bx + by * by + bz * bz)
                    bx *= s
                    bz *= s
                    cx = ny * bz - nz * by
                    cy = nz * bx - nx * bz
                    cz = nx * by - ny * bx
                    vx = nx * lift + (bx * math.cos(a) + cx * math.sin(a)) * r
                    vy = ny * lift + (by * math.cos(a) + cy * math.sin(a)) * r
                    vz = nz * lift + (bz * math.cos(a) + cz * math.sin(a)) * r
                    if vy < -0.05:
                        total += 0.25
                        continue
                    if meet(px, py, pz, vx, vy, vz, 14.0, hulls, other) > 1e8:
                        total += 0.55 + 0.45 * max(vy, 0.0)
                out[j, i] = total / 20
                continue
            for q in range(lamps.shape[0]):
                vx = lamps[q, 0] - px
                vy = lamps[q, 1] - py
                vz = lamps[q, 2] - pz
                far = math.sqrt(vx * vx + vy * vy + vz * vz)
                facing = (vx * nx + vy * ny + vz * nz) / far
                if facing <= 0:
                    continue
                if meet(px, py, pz, vx / far, vy / far, vz / far, far - 0.06, hulls, other) > 1e8:
                    total += lamps[q, 3] * facing / (far * far + 0.3)
            out[j, i] = total


@kernel
def _sea(x, z, foot, down, waves, lit, pixel):  # type: ignore[no-untyped-def]
    """Water at (x, z): adds what it shows of its depth; how much of a mirror it is, and its slope across and along."""
    cells = waves.x.shape[0]
    steep = 0.07 / (1 + foot / 0.7)
    u = x / 14.0 * cells
    v = z / 14.0 * cells
    gx = (tiled(waves.x, u, v) + 0.5 * tiled(waves.x, u * 3.1, v * 3.1)) * steep * 0.5
    gz = (tiled(waves.z, u, v) + 0.5 * tiled(waves.z, u * 3.1, v * 3.1)) * steep
    fresnel = 0.03 + 0.97 * (1 - min(-down + 0.05, 1.0)) ** 5
    for k in range(3):
        deep = 0.02 + 0.03 * k
        pixel[k] += (1 - fresnel) * deep * (lit.ambient[k] + lit.colour[k] * max(lit.sun[1], 0.0) * 0.4)
    return fresnel, gx, gz


# Long: a ray is followed once into the water that mirrors it; its place and way would be handed to and fro.
@kernel
def _render(eye, solids, lit, indoors, water, sky, above, night, haze, near_light, waves, grain, out, depth, labels):  # type: ignore[no-untyped-def]
    rows, columns = depth.shape
    hulls = solids.hulls
    hit = np.zeros(2, np.int64)
    other = np.zeros(2, np.int64)
    c = np.zeros(6)
    half_rows, half_columns = near_light.shape
    for j in range(rows):
        for i in range(columns):
            dx = (i + 0.5 - eye.middle) / eye.focal
            dy = (eye.horizon - j - 0.5) / eye.focal
            dz = 1.0
            ox = eye.x
            oy = eye.y
            oz = eye.z
            before = 0.0
            weight = 1.0
            for bounced in range(2):
                t = meet(ox, oy, oz, dx, dy, dz, 1e9, hulls, hit)
                down = (water - oy) / dy if dy < -1e-5 and water > -1e5 else 1e9
                if down < t and bounced == 0:
                    px = ox + dx * down
                    pz = oz + dz * down
                    depth[j, i] = down
                    labels[j, i] = WATER
                    foot = down * down / (eye.focal * (oy - water))
                    norm = 1 / math.sqrt(dx * dx + dy * dy + dz * dz)
                    vx = dx * norm
                    vy = dy * norm
                    vz = dz * norm
                    fresnel, gx, gz = _sea(px, pz, foot, vy, waves, lit, out[j, i])
                    turn = 2 * (vx * (-gx) + vy + vz * (-gz)) / (1 + gx * gx + gz * gz)
                    dx = vx + gx * turn
                    dy = max(vy - turn, 0.002)
                    dz = vz + gz * turn
                    ox = px
                    oy = water + 0.01
                    oz = pz
                    before = down
                    weight = fresnel
                    continue
                if t > 1e8:
                    if bounced == 0:
                        depth[j, i] = 1e9
                        labels[j, i] = SKY
                    if dz > 0.02:
                        sx = eye.middle + eye.focal * dx / dz
                        sy = eye.horizon - eye.focal * dy / dz + above
                        for k in range(3):
                            out[j, i, k] += weight * bounded(sky[:, :, k], sx, sy)
                    break
                n = hit[0]
                nx = hulls.planes[n, hit[1], 0]
                ny = hulls.planes[n, hit[1], 1]
                nz = hulls.planes[n, hit[1], 2]
                px = ox + dx * t
                py = oy + dy * t
                pz = oz + dz * t
                foot = (t + before) / eye.focal * (2.0 if bounced else 1.0)
                _surface(solids.materials[n], solids.numbers[n], px, py, pz, nx, ny, nz, foot, night, grain, c)
                facing = nx * lit.sun[0] + ny * lit.sun[1] + nz * lit.sun[2]
                sunny = 0.0
                if facing > 0:
                    open_way = meet(
                        px + nx * 2e-3, py + ny * 2e-3, pz + nz * 2e-3, lit.sun[0], lit.sun[1], lit.sun[2], 80.0, hulls,
                        other,
                    )  # fmt: skip
                    if open_way > 1e8:
                        sunny = facing
                near = 0.6
                if bounced == 0:
                    near = bounded(
                        near_light, (i + 0.5) * half_columns / columns - 0.5, (j + 0.5) * half_rows / rows - 0.5
                    )
                    depth[j, i] = t
                    labels[j, i] = GROUND if ny > 0.8 else BUILDING
                through = math.exp(-(t + before) * haze)
                for k in range(3):
                    shown = (
                        c[k]
                        * (lit.colour[k] * sunny + lit.ambient[k] * near + indoors.lamp[k] * near + indoors.bounce[k])
                        + c[3 + k]
                    )
                    out[j, i, k] += weight * (shown * through + lit.air[i, k] * (1 - through))
                break


def _seat(camera: Camera, world: World) -> Eye:
    x, y, z = world.eye
    return eye_of(camera, y, x, z)


def render(
    world: World, camera: Camera, light: Light, colour: AnyArray, ambient: AnyArray, air: AnyArray, sky: Float, above: float,
    waves: tuple[Float, Float],
) -> tuple[Float, Float, Byte]:  # fmt: skip
    """Picture (linear), depth in metres and labels of what is built; .3 to .9 s at 768 px with 40 solids.

    Parameters
    ----------
    sky : what is seen where nothing stands, as wide as the camera's picture and `above` rows taller at its top.
    """
    s = world.solids
    half = camera.scaled(0.5)
    soft = np.zeros((half.height, half.width), f32)
    depth = np.zeros_like(soft)
    from_sky = len(world.lamps) == 0
    lamps = world.lamps if not from_sky else np.zeros((1, 4))
    _soft_light(_seat(half, world), s.hulls, np.asarray(lamps, np.float64), from_sky, soft, depth)
    # Rays differ from pixel to pixel in fours; their mean over four by four is smooth.
    soft = cv2.bilateralFilter(cv2.blur(soft, (4, 4)), 0, 0.12 * max(float(soft.max()), 1e-3), 2.0)
    picture = np.zeros((camera.height, camera.width, 3), f32)
    seen = np.full((camera.height, camera.width), 1e9, f32)
    labels = np.zeros((camera.height, camera.width), np.uint8)
    dark = np.zeros(3)
    lit = lit_by(light.sun, np.asarray(colour, np.float64), np.asarray(ambient if from_sky else dark, np.float64), air)
    indoors = _Indoors(
        np.asarray(dark if from_sky else world.lamp_colour, np.float64), np.asarray(world.bounce, np.float64)
    )
    _render(
        _seat(camera, world), s, lit, indoors, world.water, sky, above, world.night, world.haze, soft, _Waves(*waves),
        grain(), picture, seen, labels,
    )  # fmt: skip
    return picture, seen, labels
