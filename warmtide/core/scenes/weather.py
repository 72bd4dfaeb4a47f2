"""What the air does to a drawn scene: rain, snowfall, rays, depth of field, coloured light."""

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.blur import blur
from ..maths.noise import fractal, rng
from .view import Drawn

_FAR = 1e4
_NEONS = (
    ((1.0, 0.1, 0.6), (0.05, 0.7, 1.0)), ((0.6, 0.1, 1.0), (0.1, 1.0, 0.6)), ((1.0, 0.35, 0.1), (0.2, 0.3, 1.0)),
)  # fmt: skip


def rays(drawn: Drawn, amount: float = 0.8) -> Float:
    """Shafts of light that fan out from the sun, where the sky is bright and things stand before it."""
    picture, light = drawn.picture, drawn.light
    height, width = picture.shape[:2]
    by = 4
    small = cv2.resize(picture, (max(width // by, 8), max(height // by, 8)), interpolation=cv2.INTER_AREA)
    depth = cv2.resize(drawn.depth, (small.shape[1], small.shape[0]))
    rows, columns = small.shape[:2]
    at = light.disc or (width * (0.5 + 0.4 * float(np.sign(light.sun[0]))), -height * 0.15)
    x, y = at[0] / by, at[1] / by
    bright = small.mean(-1)
    source = (depth > _FAR) * np.clip(bright / max(float(np.percentile(bright, 90)), 1e-5) - 0.35, 0, 1.5)
    yy, xx = np.mgrid[0:rows, 0:columns].astype(f32)
    away = np.hypot(xx - x, yy - y) / columns
    # Under a canopy hardly any sky is seen: gaps between the leaves stand for it.
    closed = float((depth > _FAR).mean()) < 0.22
    gaps = np.clip(fractal(rows, columns, columns * 0.05, rng(4), 3) + 0.2, 0, 1.5) * (yy < rows * 0.45)
    source = np.maximum(source, 0.55 * closed * gaps) * np.exp(-away * (1.0 if closed else 2.0))
    shafts = source.astype(f32)
    for k in range(5):
        t = 1 - 0.45 / 2**k
        pulled = cv2.remap(
            shafts, (x + (xx - x) * t).astype(f32), (y + (yy - y) * t).astype(f32), cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_REPLICATE,
        )  # fmt: skip
        shafts = np.maximum(shafts * 0.62, 0) + 0.38 * pulled
    angle = np.arctan2(yy - y, xx - x)
    broken = np.clip(0.55 + 0.9 * blur(rng(5).standard_normal((1, 260)), 1.6)[0], 0, 2)
    shafts = shafts * (0.45 + 0.75 * np.interp(angle, np.linspace(-3.2, 3.2, 260), broken))
    large = cv2.resize(blur(shafts, 1.2), (width, height), interpolation=cv2.INTER_CUBIC)[..., None]
    tint = np.asarray(light.colour) / max(float(np.max(light.colour)), 1e-4)
    strength = amount * float(np.percentile(picture.mean(-1), 88)) * 1.6
    return np.asarray(picture + strength * np.clip(large, 0, None) * tint, f32)


def rain(picture: Float, amount: float, random: np.random.Generator) -> Float:
    """Streaks at three depths and a little veil over light (h, w, 3). amount : 0..1."""
    height, width = picture.shape[:2]
    streaks = np.zeros((height, width), f32)
    slant, level = random.uniform(-0.18, 0.18), float(np.percentile(picture.mean(-1), 75))
    for count, length, bright in ((1500, 0.035, 0.14), (500, 0.07, 0.22), (110, 0.14, 0.28)):
        layer = np.zeros((height, width), f32)
        for _ in range(int(count * amount)):
            x, y = random.random() * width * 1.1, random.random() * height * 1.1 - 0.05 * height
            long = length * height * random.uniform(0.6, 1.3)
            ends = (int(x * 8), int(y * 8)), (int((x + slant * long) * 8), int((y + long) * 8))
            cv2.line(layer, *ends, float(random.uniform(0.3, 1)), 1, cv2.LINE_AA, 3)
        streaks += blur(layer, 0.5 + length * 4) * bright
    added = np.clip(streaks, 0, 1)[..., None] * level * np.array([1.275, 1.425, 1.65])
    return np.asarray(picture * (1 - 0.15 * amount) + added, f32)


def snowfall(picture: Float, amount: float, random: np.random.Generator) -> Float:
    """Flakes at four depths, near ones out of focus, over light (h, w, 3). amount : 0..1."""
    height, width = picture.shape[:2]
    cover = np.zeros((height, width), f32)
    for count, radius, most in ((1500, 0.0011, 0.55), (420, 0.0023, 0.7), (90, 0.0045, 0.55), (16, 0.011, 0.28)):
        layer = np.zeros((height, width), f32)
        for _ in range(int(count * amount)):
            at = int(random.random() * width * 8), int(random.random() * height * 8)
            size = max(radius * height * random.uniform(0.6, 1.4) * 1.2, 0.45)
            cv2.circle(layer, at, int(size * 8), 1.0, -1, cv2.LINE_AA, 3)
        cover = np.maximum(cover, blur(layer, 0.4 + radius * height * 0.35) * most)
    white = float(np.percentile(picture.mean(-1), 90)) * 1.15
    return np.asarray(picture * (1 - cover[..., None]) + cover[..., None] * white, f32)


def depth_of_field(drawn: Drawn, focus: float = 9.0, amount: float = 1.0) -> Float:
    """Sharp at `focus` metres; elsewhere points become discs, as a lens draws them."""
    picture = drawn.picture
    width = picture.shape[1]
    off = np.abs(1 / np.maximum(drawn.depth, 0.5) - 1 / focus) * focus
    size = blur(np.clip(off, 0, 1) * amount * width / 768 * 7, 2)
    levels = np.array([0, 2.0, 4.5, 8.0]) * width / 768
    blurred = [picture]
    for sigma in levels[1:]:
        reach = int(sigma * 1.4) + 1
        yy, xx = np.mgrid[-reach : reach + 1, -reach : reach + 1]
        lens = np.clip(sigma * 1.3 - np.hypot(xx, yy) + 0.5, 0, 1).astype(f32)
        blurred.append(cv2.filter2D(picture, -1, lens / lens.sum(), borderType=cv2.BORDER_REFLECT))
    out: AnyArray = picture.copy()
    for a in range(3):
        t = np.clip((size - levels[a]) / (levels[a + 1] - levels[a]), 0, 1)[..., None]
        out = np.where((size > levels[a])[..., None], blurred[a] * (1 - t) + blurred[a + 1] * t, out)
    return np.asarray(out, f32)


def neon_light(drawn: Drawn, random: np.random.Generator) -> Float:
    """Two coloured lamps from the sides."""
    picture = drawn.picture
    height, width = picture.shape[:2]
    left, right = (np.array(c) for c in _NEONS[int(random.integers(len(_NEONS)))])
    t = np.clip(np.arange(width) / width + 0.15 * fractal(height, width, width * 0.4, random, 2), 0, 1)[..., None]
    grey = picture.mean(-1, keepdims=True)
    return np.asarray((grey * 0.45 + picture * 0.35) * (left * (1 - t) + right * t) * 1.6 + picture * 0.12, f32)


def veil(drawn: Drawn, amount: float, random: np.random.Generator) -> Float:
    """Mist over a scene that has depth but no air of its own. amount : 0..1."""
    picture = drawn.picture
    height, width = picture.shape[:2]
    row = int(np.clip(drawn.camera.horizon - 4, 0, height - 1))
    air = picture[row].mean(0) * 0.9
    uneven = np.clip(1 + 0.35 * fractal(height, width, width * 0.35, random, 4), 0.3, 2)
    through = np.exp(-((np.minimum(drawn.depth, 6e3) / (220 / max(amount, 0.05))) ** 0.75) * uneven)[..., None]
    return np.asarray(picture * through + air * (1 - through), f32)
