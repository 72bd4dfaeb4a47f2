"""Out in space: a nebula, stars, planets."""

import math

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.noise import fractal, part, rng, soft_texture, warped
from ...maths.steps import smoothstep
from ..develop import bloom
from ..sky import stars
from ..view import Camera, Drawn, Light, Task, paint
from .base import Place

_GASES = (
    ("5a1030", "d8506a", "2a6a9a"), ("0a2a50", "2a9ab0", "c060a0"), ("3a1050", "a040c0", "40a0e0"),
    ("502008", "e09040", "3060a0"), ("083030", "30b090", "8050c0"),
)  # fmt: skip
_BANDS = (
    ("6b3f2a", "d9a86c", "f3e3c4"), ("2f4a73", "6f9fc4", "d8e8f0"), ("5a3450", "b46a80", "f0c8a8"),
    ("3f5a50", "8fb49a", "e6ecd0"),
)  # fmt: skip
_ROCKS = (("4a2a1c", "c07a4c"), ("3a3a40", "9a9690"), ("54402a", "cdb088"))


def _nebula(height: int, width: int, random: np.random.Generator) -> Float:
    deep, bright, far = (paint(code) for code in _GASES[int(random.integers(len(_GASES)))])
    scale = width * random.uniform(0.35, 0.7)
    wx, wy = (fractal(height, width, scale, random, 5) * width * 0.07 for _ in range(2))
    body = warped(fractal(height, width, scale * 0.8, random, 7, 0.55), wx, wy)
    turn = random.uniform(0, 3.14)
    yy, xx = np.mgrid[0:height, 0:width]
    centre = width * random.uniform(0.25, 0.75), height * random.uniform(0.25, 0.75)
    off = (xx - centre[0]) * math.sin(turn) - (yy - centre[1]) * math.cos(turn)
    band = np.exp(-((off / (width * random.uniform(0.16, 0.32))) ** 2) * 0.8) * 0.9 + 0.15
    threads = warped(fractal(height, width, scale * 0.55, random, 6, 0.6), wx * 1.6, wy * 1.6)
    threads = (np.clip(1 - np.abs(threads) * 0.75, 0, 1) ** 3).astype(f32)
    gas = np.clip(body * 0.35 + 0.45, 0, 2) * band
    other = warped(fractal(height, width, scale * 0.6, random, 6), wx, wy)
    blend = np.clip(0.5 + 0.5 * warped(fractal(height, width, scale, random, 3), wx, wy), 0, 1)[..., None]
    dust = (
        np.clip(warped(fractal(height, width, scale * 0.5, random, 7, 0.58), wy * 1.3, wx * 1.3) * 0.6 + 0.1, 0, 2)
        * band
    )
    out = np.full((height, width, 3), (0.0035, 0.0045, 0.009), f32)
    out += stars(height, width, part(random), 1.6) * f32(0.22)
    out += (deep * (1 - blend) + bright * blend) * (gas**2.2)[..., None] * 1.1
    out += far * (np.clip(other * 0.4 + 0.3, 0, 2) ** 2 * band * gas)[..., None] * 0.75
    out += (bright * 0.6 + 0.4) * (threads * gas**2)[..., None] * 0.55
    # Dust takes blue light first.
    out *= np.exp(-dust[..., None] * np.array([1.21, 1.65, 2.09], f32))
    out += (np.clip(gas - 0.85, 0, 1) ** 2)[..., None] * (bright * 0.4 + 0.6) * 1.2 * np.exp(-dust)[..., None]
    out += stars(height, width, part(random), 0.45, rays=True) * f32(0.9)
    return out.astype(f32)


class _Globe:
    """Textures on a ball: longitude and latitude of its pixels as places in the soft texture."""

    def __init__(self, u: AnyArray, v: AnyArray, random: np.random.Generator) -> None:
        tilt = random.uniform(-0.5, 0.5)
        z = np.sqrt(np.clip(1 - u * u - v * v, 0, 1))
        x, self.y = u * math.cos(tilt) + v * math.sin(tilt), -u * math.sin(tilt) + v * math.cos(tilt)
        self.across = np.arctan2(x, z) / 6.283 * 512 + random.integers(512)
        self.up = np.arcsin(np.clip(self.y, -1, 1)) / 6.283 * 512 + 128

    def texture(self, fine: float, shift: float = 0.0) -> Float:
        at = ((self.across * fine + shift) % 512).astype(f32), ((self.up * fine + shift) % 512).astype(f32)
        return cv2.remap(soft_texture(), *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP)


def _gas_giant(globe: _Globe, random: np.random.Generator) -> tuple[AnyArray, AnyArray]:
    swirl = globe.texture(1.0)
    level = globe.up + 4 * swirl + 2 * globe.texture(3.0, 9)
    at = (20 + globe.across * 0.06).astype(f32), ((level * 2.6) % 511).astype(f32)
    bands = cv2.remap(soft_texture(), *at, cv2.INTER_LINEAR) + 0.25 * globe.texture(4, 55)
    t = np.clip(0.5 + 0.38 * bands, 0, 1)[..., None]
    low, middle, high = (paint(code) for code in _BANDS[int(random.integers(len(_BANDS)))])
    colour = np.where(t < 0.5, low + (middle - low) * t * 2, middle + (high - middle) * (t * 2 - 1))
    return colour, middle * 1.2


def _living(globe: _Globe, _: np.random.Generator) -> tuple[AnyArray, AnyArray]:
    height = globe.texture(1.0) * 0.8 + 0.45 * globe.texture(3, 30) + 0.2 * globe.texture(9, 3)
    land = smoothstep(0.25, 0.32, height)[..., None]
    dry = np.clip(0.5 + 0.4 * globe.texture(4, 90), 0, 1)[..., None]
    sea = paint("0b2c58") * 0.9 + paint("12507a") * 0.25 * np.clip(0.3 + height, 0, 1)[..., None]
    colour = sea * (1 - land) + land * (paint("47602f") * (1 - dry) + paint("b0945e") * dry)
    ice = smoothstep(0.82, 0.92, np.abs(globe.y) + 0.05 * globe.texture(1.0))[..., None]
    colour = colour * (1 - ice) + ice * 0.85
    veil = globe.texture(2, 200) + 0.5 * globe.texture(6, 7) + 0.25 * globe.texture(13, 60)
    veil = smoothstep(0.15, 1.5, veil)[..., None]
    return colour * (1 - veil) + veil * 0.9, np.array([0.25, 0.5, 1.0], f32)


def _rocky(globe: _Globe, random: np.random.Generator) -> tuple[AnyArray, AnyArray]:
    t = np.clip(0.5 + 0.3 * (globe.texture(1.0) + 0.5 * globe.texture(4, 11) + 0.3 * globe.texture(9, 3)), 0, 1)[
        ..., None
    ]
    low, high = (paint(code) for code in _ROCKS[int(random.integers(len(_ROCKS)))])
    return low * (1 - t) + high * t, high * 0.15


_KINDS = {"gas": _gas_giant, "living": _living, "rock": _rocky}


def _planet(
    picture: Float, x: float, y: float, radius: float, sun: AnyArray, random: np.random.Generator, kind: str
) -> None:
    height, width = picture.shape[:2]
    reach = radius * 1.25
    rows = slice(int(max(y - reach, 0)), int(min(y + reach, height)))
    columns = slice(int(max(x - reach, 0)), int(min(x + reach, width)))
    if rows.stop <= rows.start or columns.stop <= columns.start:
        return
    yy, xx = np.mgrid[rows, columns].astype(f32)
    u, v = (xx + 0.5 - x) / radius, -(yy + 0.5 - y) / radius
    away = np.hypot(u, v)
    z = np.sqrt(np.clip(1 - u * u - v * v, 0, 1))
    globe = _Globe(u, v, random)
    colour, air = _KINDS[kind](globe, random)
    normal = np.stack([u, v, -z], -1)
    if kind == "rock":
        bumps = (globe.texture(1.0) + 0.6 * globe.texture(4, 11) + 0.3 * globe.texture(11, 3)).astype(f32)
        tilt = [np.clip(cv2.Sobel(bumps, cv2.CV_32F, *way) * radius / 700, -1.2, 1.2) for way in ((1, 0), (0, 1))]
        normal = normal + 0.45 * np.stack([-tilt[0], tilt[1], np.zeros_like(z)], -1)
    lit = np.clip(normal @ sun, -1, 1)
    rim = np.clip(1 - z, 0, 1) ** 2.6 * np.clip(lit + 0.25, 0, 1)
    shown = colour * (np.clip((lit + 0.06) / 1.06, 0, 1) ** 1.2 * 0.62 + 0.003)[..., None] + air * rim[..., None] * 0.5
    cover = np.clip((1 - away) * radius + 0.5, 0, 1)[..., None]
    part = picture[rows, columns]
    part[:] = part * (1 - cover) + shown * cover
    toward = np.clip((u * sun[0] + v * sun[1]) / (away + 1e-3) + 0.25, 0, 1)
    part += (np.exp(-np.clip(away - 1, 0, 9) / 0.045) * (away >= 1) * toward)[..., None] * air * f32(0.22)


def _rings(picture: Float, x: float, y: float, radius: float, sun: AnyArray, random: np.random.Generator) -> Float:
    height, width = picture.shape[:2]
    yy, xx = np.mgrid[0:height, 0:width]
    turn, flat = random.uniform(-0.5, 0.5), random.uniform(0.16, 0.34)
    u = (xx - x) * math.cos(turn) + (yy - y) * math.sin(turn)
    v = (-(xx - x) * math.sin(turn) + (yy - y) * math.cos(turn)) / flat
    away = np.hypot(u, v) / radius
    grooves = soft_texture()[7][np.clip(away * 160, 0, 511).astype(int)]
    ring = smoothstep(1.3, 1.36, away) * (1 - smoothstep(2.2, 2.3, away)) * np.clip(0.55 + 0.3 * grooves, 0, 1)
    ring = ring * (1 - 0.85 * np.exp(-(((away - 1.93) / 0.03) ** 2)))
    before = (v > 0) | (np.hypot(xx - x, yy - y) > radius)
    off = np.abs((xx - x) * sun[1] + (yy - y) * sun[0]) < radius * 0.95
    dark = 1 - 0.9 * (off & ((xx - x) * sun[0] - (yy - y) * sun[1] < 0))
    cover = (ring * before * 0.85)[..., None]
    return np.asarray(picture * (1 - cover) + cover * np.array([0.675, 0.594, 0.468], f32) * dark[..., None], f32)


def _draw(task: Task) -> Drawn:
    random = rng(task.seed, 31)
    height, width = task.height, task.width
    picture = _nebula(height, width, random)
    sun = np.array(
        [random.choice([-1, 1]) * random.uniform(0.5, 0.9), random.uniform(-0.1, 0.7), -random.uniform(0.05, 0.65)]
    )
    sun /= np.linalg.norm(sun)
    side = random.choice([-1, 1])
    if random.random() < 0.8 or "planet" in task.asked.extras:
        kind = str(random.choice(list(_KINDS)))
        if random.random() < 0.35:
            radius = width * random.uniform(0.55, 0.9)
            at = width * random.uniform(0.2, 0.8), height + radius * random.uniform(0.45, 0.72)
            _planet(picture, *at, radius, sun, random, kind)
        else:
            radius = min(height, width) * random.uniform(0.14, 0.34)
            at = width * (0.5 + side * random.uniform(0.2, 0.36)), height * random.uniform(0.22, 0.7)
            ringed = kind == "gas" and random.random() < 0.7
            _planet(picture, *at, radius, sun, random, kind)
            if ringed:
                picture = _rings(picture, *at, radius, sun, random)
        if random.random() < 0.5:
            moon = min(height, width) * random.uniform(0.02, 0.055)
            _planet(
                picture, width * random.uniform(0.1, 0.9), height * random.uniform(0.1, 0.6), moon, sun, random, "rock"
            )
    light = Light(
        "day", "clear", np.array([sun[0], max(sun[1], 0.3), sun[2]]), np.ones(3), np.array([0.05, 0.06, 0.1], f32),
        np.zeros((width, 3), f32),
    )  # fmt: skip
    return Drawn(
        bloom(picture, 0.8, 0.5), np.full((height, width), 1e4, f32), np.zeros((height, width), np.uint8),
        Camera(width, height, width, height / 2), light, exposure=0.085, level=1.0, ground=None,
    )  # fmt: skip


PLACES = (
    Place(
        "space", "space",
        ("space", "outer space", "galaxy", "nebula", "cosmos", "planet", "orbit", "universe", "star field", "floating in space"),
        _draw, outdoors=False, presumed="night",
    ),
)  # fmt: skip
