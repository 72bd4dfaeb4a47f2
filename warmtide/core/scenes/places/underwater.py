"""Under water: shafts of light, a rippled floor, weed, fish, bubbles."""

import math

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.noise import fractal, rng, soft_texture, wave_texture
from ...maths.steps import smoothstep
from ..spots import disc
from ..view import GROUND, Camera, Drawn, Light, Task
from .base import Place

# Deep water, middle water, light from above.
_WATERS = (
    ((0.004, 0.035, 0.085), (0.012, 0.16, 0.27), (0.20, 0.62, 0.72)),
    ((0.003, 0.045, 0.06), (0.015, 0.20, 0.21), (0.28, 0.66, 0.55)),
    ((0.006, 0.02, 0.07), (0.02, 0.10, 0.26), (0.16, 0.46, 0.80)),
)
_STONES = ((0.20, 0.19, 0.17), (0.30, 0.16, 0.15), (0.18, 0.22, 0.16))


def caustics(x: AnyArray, z: AnyArray, fine: float) -> Float:
    """The net of light that waves throw on a floor, at places in metres."""
    waves = wave_texture()

    def at(dx: AnyArray | float, dz: AnyArray | float) -> Float:
        where = ((x * fine * 9 + dx) % 511).astype(f32), ((z * fine * 9 + dz) % 511).astype(f32)
        return cv2.remap(waves, *where, cv2.INTER_LINEAR)

    a = at(0, 0)
    b = at(7 * a + 131, -5 * a + 57)
    return np.asarray(np.exp(-np.abs(a + 0.4 * b) * 5) + 0.6 * np.exp(-np.abs(b - 0.3 * a) * 6), f32)


def _bubble(picture: Float, x: float, y: float, radius: float, soft: float) -> None:
    height, width = picture.shape[:2]
    reach = radius * 1.1 + 2 + soft * 3
    rows = slice(int(max(y - reach, 0)), int(min(y + reach, height)))
    columns = slice(int(max(x - reach, 0)), int(min(x + reach, width)))
    if rows.stop - rows.start < 2 or columns.stop - columns.start < 2:
        return
    yy, xx = np.mgrid[rows, columns].astype(f32)
    u, v = (xx + 0.5 - x) / radius, (yy + 0.5 - y) / radius
    away = np.hypot(u, v)
    z = np.sqrt(np.clip(1 - away * away, 0, 1))
    fresnel = (0.02 + 0.98 * (1 - z) ** 3)[..., None]
    # A bubble shows what is behind it upside down and from far around.
    wide = 0.25 + 0.75 * (1 - z)
    bx, by = np.clip(x - u * radius * 2.6 * wide, 0, width - 1), np.clip(y - v * radius * 2.6 * wide, 0, height - 1)
    behind = cv2.remap(picture, bx.astype(f32), by.astype(f32), cv2.INTER_LINEAR)
    above = picture[: max(height // 12, 1)].mean((0, 1))
    shown = behind * (0.92 - 0.5 * fresnel)
    shown = shown + fresnel * (above * (1.25 * np.clip(0.45 - 0.55 * v, 0.05, 1))[..., None] + 0.10)
    shine = np.exp(-(((u + 0.42) / 0.16) ** 2 + ((v + 0.48) / 0.11) ** 2)) * 2.2
    shine += np.exp(-(((u - 0.45) / 0.22) ** 2 + ((v - 0.55) / 0.10) ** 2)) * 0.45
    shine += np.exp(-(((away - 0.93) / 0.03) ** 2)) * np.clip(-v * 0.9 - u * 0.4, 0, 1) * 0.9
    shown = shown + shine[..., None] * (above * 0.6 + 0.5) * 0.8
    cover = np.clip((1 - away) * radius + 0.5, 0, 1)
    if soft > 0.4:
        cover, shown = blur(cover, soft), blur(shown, soft)
    part = picture[rows, columns]
    part[:] = part * (1 - cover[..., None]) + shown * cover[..., None]


def _floor(
    picture: Float, random: np.random.Generator, horizon: float, u: Float, v: Float, middle: AnyArray, top: AnyArray
) -> Float:
    height, width = picture.shape[:2]
    line = fractal(1, width, width * 0.4, random, 3)[0] * 0.02
    below = v - (horizon + line[None])
    z = 0.22 / np.maximum(below, 1e-3)
    x = (u - 0.5) * z * 2.2
    at = ((x * 40) % 511).astype(f32), ((z * 40) % 511).astype(f32)
    bumps = cv2.remap(soft_texture(), *at, cv2.INTER_LINEAR)
    ripples = np.sin((z * 9 + x * 2 + bumps * 0.7) * 2) * 0.10 * np.clip(1 - z / 6, 0, 1)
    net = caustics(x + 40, z + 40, 3.6) * np.clip(1 - z / 7, 0, 1) * 0.6
    sand = np.array([0.42, 0.40, 0.30], f32) * (0.5 + 0.10 * bumps + ripples)[..., None] * (middle * 2 + top * 0.35)
    sand = sand + net[..., None] * top * 0.38
    share = np.exp(-z * 0.28)[..., None] * smoothstep(0, 0.02, below)[..., None]
    picture = picture * (1 - share) + sand * share
    yy, xx = np.mgrid[0:height, 0:width].astype(f32)
    for k in range(int(random.integers(4, 9))):
        far, aside = random.uniform(1.0, 4.0), random.uniform(-0.7, 0.7)
        px, py, radius = (
            (0.5 + aside) * width,
            (horizon + 0.22 / far) * height,
            height * random.uniform(0.10, 0.26) / far**0.8,
        )
        around = np.arctan2(yy - py, (xx - px) / 1.25)
        away = np.hypot((xx - px) / 1.5, yy - py) / radius
        outline = blur(random.standard_normal((1, 40)), 1.2)[0] * 1.6
        edge = 1 + 0.28 * np.interp(around, np.linspace(-3.15, 3.15, 40), outline)
        cover = np.clip((edge - away) * radius / 2, 0, 1) * (yy < py + radius * 0.18)
        at = ((xx / radius * 26 + k * 50) % 511).astype(f32), ((yy / radius * 26) % 511).astype(f32)
        grain = cv2.remap(soft_texture(), *at, cv2.INTER_LINEAR)
        lit = np.clip(0.55 - (yy - py) / radius * 0.55 + 0.22 * grain, 0.05, 1.3)
        stone = np.array(_STONES[int(random.integers(3))]) * lit[..., None] * (middle * 2.4 + top * 0.45)
        clear = math.exp(-far * 0.26)
        near, veil = (cover * clear)[..., None], (cover * (1 - clear))[..., None]
        picture = picture * (1 - near - veil) + stone * near + middle * 0.75 * veil
    weeds = np.zeros((height * 2, width * 2, 4), f32)
    for _ in range(int(random.integers(18, 46))):
        far, aside = random.uniform(0.9, 3.2), random.choice([-1, 1]) * random.uniform(0.12, 0.55)
        foot = (0.5 + aside) * width, (horizon + 0.22 / far) * height
        length, phase, s = height * random.uniform(0.12, 0.42) / far, random.uniform(0, 6), np.linspace(0, 1, 26)
        sway = np.sin(s * random.uniform(3, 6) + phase) * length * 0.10 * s + length * 0.06 * s
        points = np.stack([foot[0] + sway, foot[1] - s * length], 1)
        clear = math.exp(-far * 0.22)
        colour = np.array([0.05, 0.13, 0.05], f32) * random.uniform(0.6, 1.6) * (1 + top) * clear + middle * 0.7 * (
            1 - clear
        )
        for i in range(25):
            ends = [tuple(int(c) for c in points[k] * 32) for k in (i, i + 1)]
            shade = (*(colour * (0.6 + 0.9 * s[i])).tolist(), 1.0)
            cv2.line(
                weeds, ends[0], ends[1], shade, max(int(8 * width / 768 / far * (1 - s[i] * 0.8)), 1), cv2.LINE_AA, 4
            )
    small = cv2.resize(weeds, (width, height), interpolation=cv2.INTER_AREA)
    return np.asarray(picture * (1 - small[..., 3:]) + small[..., :3], f32)


def _fish(picture: Float, random: np.random.Generator, colour: AnyArray) -> Float:
    height, width = picture.shape[:2]
    x0, y0, way = random.uniform(0.15, 0.85) * width, random.uniform(0.25, 0.55) * height, random.choice([-1, 1])
    shoal = np.zeros((height * 2, width * 2), f32)
    for _ in range(int(random.integers(9, 34))):
        x, y = (x0 + random.normal(0, width * 0.09)) * 2, (y0 + random.normal(0, height * 0.06)) * 2
        length = width * random.uniform(0.006, 0.016) * 2
        axes = int(length), max(int(length * 0.34), 1)
        cv2.ellipse(shoal, (int(x), int(y)), axes, random.normal(0, 6), 0, 360, 1.0, -1, cv2.LINE_AA)
        tail = [
            (x - way * length * 0.8, y),
            (x - way * length * 1.6, y - length * 0.45),
            (x - way * length * 1.6, y + length * 0.45),
        ]
        cv2.fillPoly(shoal, [np.array(tail).astype(np.int32)], 1.0, cv2.LINE_AA)
    cover = cv2.resize(shoal, (width, height), interpolation=cv2.INTER_AREA)[..., None] * 0.75
    return np.asarray(picture * (1 - cover) + cover * colour, f32)


def _draw(task: Task) -> Drawn:
    random, asked = rng(task.seed, 41), task.asked
    height, width = task.height, task.width
    yy, xx = np.mgrid[0:height, 0:width].astype(f32)
    u, v = xx / width, yy / height
    deep, middle, top = (np.array(c, f32) for c in _WATERS[int(random.integers(len(_WATERS)))])
    if asked.time in ("night", "dusk") or asked.dark:
        deep, middle, top = deep * 0.5, middle * 0.4, top * 0.35
    sun_x = random.uniform(0.15, 0.85)
    t = smoothstep(0, 1, v)[..., None]
    shine = np.exp(-(((u - sun_x) / 0.55) ** 2)) * np.exp(-v * 1.6)
    picture = middle * (1 - t) + deep * t + top * (shine**1.4)[..., None] * 0.75
    rise = np.maximum(0.16 - v, 0.002)
    surface = caustics((u - sun_x) / rise * 0.20 + random.uniform(0, 50), 0.22 / rise, 0.55)
    near = (1 - smoothstep(0.02, 0.16, v)) * 0.5 * np.exp(-(((u - sun_x) / 0.5) ** 2))
    picture = picture + (surface * near)[..., None] * (top * 0.8 + 0.3)
    drawn_horizon, floored = random.uniform(0.60, 0.74), random.random() < 0.8
    horizon = task.layout.horizon_or(drawn_horizon, 0.5, 0.8)
    if floored:
        picture = _floor(picture.astype(f32), random, horizon, u, v, middle, top)
    if random.random() < 0.6 or "fish" in asked.extras:
        picture = _fish(picture.astype(f32), random, deep * 1.4 + middle * 0.15)
    angle = np.arctan2((u - sun_x) * width / height, v + 0.35)
    wide = np.clip(blur(random.standard_normal((1, 220)), 1.5)[0] * 1.6, 0, 3)
    broad = np.clip(blur(random.standard_normal((1, 90)), 1.2)[0] * 1.4 + 0.3, 0, 3)
    rays = (
        np.interp(angle, np.linspace(-1.6, 1.6, 220), wide) * 0.55
        + np.interp(angle, np.linspace(-1.6, 1.6, 90), broad) * 0.5
    )
    rays = rays * np.exp(-v * 1.9) * np.exp(-np.abs(angle))
    picture = np.ascontiguousarray(picture + (rays * 0.24)[..., None] * (top * 0.9 + 0.06), dtype=f32)
    count = int(random.integers(10, 34)) * (2 if "bubbles" in asked.extras else 1)
    streams = [(random.uniform(0.1, 0.9), random.uniform(0.2, 0.9)) for _ in range(3)]
    bubbles = [
        (
            streams[k % 3][0] * width + random.normal(0, width * 0.10), (streams[k % 3][1] + random.normal(0, 0.25)) * height,
            height * min(0.006 + 0.011 * random.pareto(1.6), 0.10),
        )
        for k in range(count)
    ]  # fmt: skip
    bubbles += [
        (random.random() * width, random.random() * height, height * random.uniform(0.002, 0.0045))
        for _ in range(count * 3)
    ]
    for x, y, radius in sorted(bubbles, key=lambda b: b[2]):
        _bubble(picture, x, y, radius, max(0.0, (radius / height - 0.075) * 40))
    for _ in range(120):
        at, size = (random.random() * width, random.random() * height), random.uniform(0.4, 1.1) * width / 768
        disc(picture, *at, size, top * random.uniform(0.02, 0.12), 0)
    light = Light("day", "clear", np.array([sun_x - 0.5, 1.0, 0.2], f32), top, middle, np.zeros((width, 3), f32))
    labels = np.where(v > horizon, GROUND if floored else 0, 0).astype(np.uint8)
    return Drawn(
        picture, np.full((height, width), 20, f32), labels, Camera(width, height, width, horizon * height), light,
        exposure=0.17, level=1.0, ground=0.9 if floored else None,
    )  # fmt: skip


PLACES = (
    Place(
        "underwater", "under water",
        ("underwater", "under water", "undersea", "reef", "coral reef", "deep sea", "seabed", "ocean floor", "diving", "among bubbles"),
        _draw, outdoors=False,
    ),
)  # fmt: skip
