"""Small living things that give a place its size: birds, boats, walkers."""

import math

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from .view import WATER, Drawn, paint

_COATS = ("2b3a55", "7a2f2f", "c9b79a", "35403a", "1d1d22", "b85c38", "4f6f8f", "d8d4cc", "6a4a6f")
_LEGS = ("1d2430", "2c2c30", "3f3a34", "1a1a1c", "56606a")
_SKINS = ("e0ac88", "c68863", "8d5a3a", "f0c8a8")
_HAIRS = ("1a1310", "3a2618", "8a6a3a", "101010", "5a5450")
_SAILS = ("f0ece2", "d86a4a", "e8dcc0", "f4f4f4")
_HULLS = ("2a3a55", "6a2a22", "f0f0f0", "3a2a1c")
# A walker larger than this share of the picture looks like a doll.
_TALLEST = 0.16


def flock(
    shape: tuple[int, int],
    middle: tuple[float, float],
    spread: tuple[float, float],
    span: float,
    random: np.random.Generator,
) -> Float:
    """Cover of a loose flock, (h, w) 0..1: birds up to `span` px wide around a place."""
    height, width = shape
    k = 3
    mask = np.zeros((height * k, width * k), f32)
    for _ in range(int(random.integers(5, 14))):
        x, y = (middle[0] + random.normal(0, spread[0])) * k, (middle[1] + random.normal(0, spread[1])) * k
        wing, tilt, beat = (
            span * random.uniform(0.35, 1.0) * k / 2,
            random.uniform(-0.35, 0.35),
            random.uniform(-0.2, 0.75),
        )
        for side in (-1, 1):
            t = np.linspace(0, 1, 14)
            px, py = side * t * wing, -np.sin(t * 2.6) * wing * beat * 0.6 + t * wing * 0.15 * (1 - beat)
            at_x = x + px * math.cos(tilt) - py * math.sin(tilt)
            at_y = y + px * math.sin(tilt) + py * math.cos(tilt)
            for i in range(13):
                ends = (int(at_x[i]), int(at_y[i])), (int(at_x[i + 1]), int(at_y[i + 1]))
                cv2.line(mask, *ends, 1.0, max(int(wing * 0.13 * (1 - t[i] * 0.8)), 1), cv2.LINE_AA)
        axes = max(int(wing * 0.10), 1), max(int(wing * 0.2), 1)
        cv2.ellipse(mask, (int(x), int(y)), axes, random.uniform(40, 140), 0, 360, 1.0, -1, cv2.LINE_AA)
    return np.asarray(cv2.resize(mask, (width, height), interpolation=cv2.INTER_AREA) * 0.85, f32)


def birds(drawn: Drawn, random: np.random.Generator) -> Float:
    """A loose flock in the upper part."""
    picture = drawn.picture
    height, width = picture.shape[:2]
    top = min(0.35, max(drawn.camera.horizon / height - 0.1, 0.12))
    middle = random.uniform(0.2, 0.8) * width, random.uniform(0.08, top) * height
    cover = flock((height, width), middle, (width * 0.11, height * 0.06), width * 0.034, random)[..., None]
    return np.asarray(picture * (1 - cover) + cover * picture.mean((0, 1)) * 0.12, f32)


def _blended(picture: Float, sprite: Float, left: int, top: int) -> None:
    """Lay a premultiplied sprite (h, w, 4) on a picture."""
    height, width = picture.shape[:2]
    rows = slice(max(top, 0), min(top + sprite.shape[0], height))
    columns = slice(max(left, 0), min(left + sprite.shape[1], width))
    if rows.stop <= rows.start or columns.stop <= columns.start:
        return
    part = sprite[rows.start - top : rows.stop - top, columns.start - left : columns.stop - left]
    picture[rows, columns] = picture[rows, columns] * (1 - part[..., 3:]) + part[..., :3]


def boats(drawn: Drawn, random: np.random.Generator) -> Float:
    """Sailing boats on the water, with their mirror."""
    picture, light = drawn.picture.copy(), drawn.light
    height = picture.shape[0]
    ys, xs = np.nonzero(drawn.labels == WATER)
    if len(ys) < 400:
        return picture
    horizon = drawn.camera.horizon
    low, high = horizon + height * 0.012, horizon + (ys.max() - horizon) * 0.45
    ambient, sun = light.ambient * 1.3, light.colour * 0.3
    for y in sorted(random.uniform(low, max(high, low + 1), int(random.integers(1, 4)))):
        row = xs[np.abs(ys - y) < 2]
        size = float(np.clip((y - horizon) * 0.8 + height * 0.035, height * 0.03, height * 0.2))
        sprite, phase = boat_sprite(size, random, ambient, sun), random.uniform(0, 6)
        if len(row) < 20:
            continue
        x = float(random.choice(row[len(row) // 8 : -len(row) // 8]))
        line, left = int(sprite.shape[0] * 0.80), int(x - sprite.shape[1] / 2)
        mirror = sprite[:line][::-1][: int(line * 0.8)].copy()
        sway = np.sin(np.arange(len(mirror)) * 1.1 + phase) * size * 0.02
        for j in range(len(mirror)):
            mirror[j] = np.roll(mirror[j], int(sway[j] * (0.3 + j / len(mirror))), 0)
        _blended(picture, mirror * np.linspace(0.55, 0.05, len(mirror))[:, None, None].astype(f32), left, int(y))
        _blended(picture, sprite[: line + 1], left, int(y) - line)
    return picture


def boat_sprite(size: float, random: np.random.Generator, ambient: AnyArray, sun: AnyArray) -> Float:
    """A sailing boat, (h, w, 4) premultiplied, its mast `size` px tall and its waterline at .8 of the height."""
    sail, hull = paint(_SAILS[int(random.integers(4))]), paint(_HULLS[int(random.integers(4))])
    heading = random.choice([-1, 1])
    k = 4
    side = max(int(size * 2.2), 4)
    image = np.zeros((side * k, side * k, 4), f32)
    unit, base, middle = size * k, side * k * 0.80, side * k * 0.5

    def at(*points: tuple[float, float]) -> AnyArray:
        return np.array([[middle + x * unit * heading, base - y * unit] for x, y in points]).astype(np.int32)

    def filled(colour: AnyArray, *points: tuple[float, float]) -> None:
        cv2.fillPoly(image, [at(*points)], (*[float(c) for c in colour], 1.0), cv2.LINE_AA)

    filled(hull * (ambient + sun), (-0.36, 0.10), (0.45, 0.12), (0.34, -0.02), (-0.30, -0.02))
    foot, top = (tuple(int(v) for v in point) for point in at((0.03, 0.1), (0.03, 1.02)))
    cv2.line(image, foot, top, (*[float(c) for c in 0.1 * ambient], 1.0), max(int(unit * 0.015), 1), cv2.LINE_AA)
    filled(sail * (ambient * 0.8 + sun * 0.9), (0.01, 0.16), (0.01, 1.0), (-0.16, 0.6), (-0.36, 0.18))
    filled(sail * (ambient * 0.7 + sun * 0.6), (0.06, 0.16), (0.05, 0.9), (0.24, 0.5), (0.42, 0.16))
    return np.asarray(cv2.resize(image, (side, side), interpolation=cv2.INTER_AREA), f32)


def walker(tall: int, random: np.random.Generator, from_behind: bool) -> Float:
    """A walking person, (h, w, 4) premultiplied, feet at the bottom."""
    k = 4
    height = tall * k
    width = int(height * 0.62)
    image = np.zeros((height, width, 4), f32)
    scale, middle, ground = height / 1.85, width * 0.5, height - 2
    stride, way = random.uniform(0.25, 1) * random.choice([-1, 1]) * 0.27, random.choice([-1, 1])
    coat, legs, skin, hair = (
        paint(colours[int(random.integers(len(colours)))]) for colours in (_COATS, _LEGS, _SKINS, _HAIRS)
    )

    def at(x: float, y: float) -> tuple[int, int]:
        return int(middle + x * scale * way), int(ground - y * scale)

    def tone(colour: AnyArray, by: float = 1.0) -> tuple[float, ...]:
        return (*[float(c) * by for c in colour], 1.0)

    def limb(a: tuple[float, float], b: tuple[float, float], wide: float, colour: tuple[float, ...]) -> None:
        cv2.line(image, at(*a), at(*b), colour, max(int(wide * scale), 1), cv2.LINE_AA)

    def round_(x: float, y: float, wide: float, high: float, colour: tuple[float, ...]) -> None:
        axes = max(int(wide * scale), 1), max(int(high * scale), 1)
        cv2.ellipse(image, at(x, y), axes, 0, 0, 360, colour, -1, cv2.LINE_AA)

    for side, dark in ((-1, 0.72), (1, 1.0)):
        lift = 0.05 if side * stride < 0 else 0.0
        knee, foot = (side * stride * 0.55 + 0.05, 0.49), (side * stride * 1.05 - 2 * lift, 0.05 + lift)
        limb((0, 0.92), knee, 0.145, tone(legs, dark))
        limb(knee, foot, 0.105, tone(legs, dark))
        limb(foot, (foot[0] + 0.13, foot[1] - 0.02), 0.075, tone(paint("15120f")))
        if side == -1:
            elbow = (stride * 0.55 - 0.02, 1.17)
            hand = (elbow[0] + 0.10 + stride * 0.4, 0.97)
            limb((0, 1.42), elbow, 0.10, tone(coat, 0.7))
            limb(elbow, hand, 0.08, tone(coat, 0.7))
            round_(hand[0], 0.95, 0.045, 0.045, tone(skin))
    long = random.random() < 0.45
    hem, wide = (0.64, 0.19) if long else (0.88, 0.135)
    body = [(-0.12, 1.47), (0.12, 1.47), (0.165, 1.2), (wide, hem), (-wide, hem), (-0.15, 1.2)]
    cv2.fillPoly(image, [np.array([at(*p) for p in body])], tone(coat), cv2.LINE_AA)
    elbow = (-stride * 0.55 - 0.02, 1.16)
    hand = (elbow[0] + 0.11 - stride * 0.4, 0.96)
    limb((0, 1.42), elbow, 0.105, tone(coat, 1.12))
    limb(elbow, hand, 0.085, tone(coat, 1.1))
    round_(hand[0] + 0.01, 0.94, 0.045, 0.045, tone(skin))
    limb((0.01, 1.45), (0.02, 1.56), 0.085, tone(skin, 0.8))
    round_(0.025, 1.655, 0.085, 0.115, tone(hair if from_behind else skin))
    round_(-0.005, 1.70, 0.095, 0.085, tone(hair))
    return np.asarray(cv2.resize(image, (max(width // k, 2), tall), interpolation=cv2.INTER_AREA), f32)


def people(drawn: Drawn, random: np.random.Generator) -> Float:
    """Walkers on the ground, none taller than a sixth of the picture, sized by where they stand."""
    picture, light = drawn.picture.copy(), drawn.light
    height, width = picture.shape[:2]
    camera = drawn.camera
    sun, ambient = light.colour * 0.42, light.ambient * 1.4
    level = math.hypot(float(light.sun[0]), float(light.sun[2])) + 1e-6
    for nearness in sorted(random.uniform(0, 1, int(random.integers(4, 8)))):
        tall = height * (0.05 + (_TALLEST - 0.05) * nearness**1.3)
        base = camera.horizon + tall * camera.eye / 1.7
        spots = random.uniform(0.06, 0.94, 25) * width
        sprite = walker(max(int(tall), 8), random, bool(light.sun[2] > 0))
        row = int(base)
        if row >= height - 1:
            continue
        depth = camera.focal * 1.7 / tall
        free = [x for x in spots if _standable(drawn, row, int(x), depth)]
        if not free:
            continue
        x = free[0]
        across = np.linspace(-1, 1, sprite.shape[1])[None, :, None]
        shade = np.clip(0.45 + 0.55 * across * np.sign(light.sun[0]) * min(abs(light.sun[0]) * 1.5, 1), 0.08, 1)
        shade = shade * (0.35 if light.sun[2] > 0.3 else 0.8)
        lit = np.dstack([sprite[..., :3] * (sun * shade * 0.6 + ambient * 0.7), sprite[..., 3]]).astype(f32)
        shadow = np.zeros((height, width), f32)
        if not light.dull:
            long = tall * 0.55
            end = int(x - light.sun[0] / level * long * 0.8), int(base + (0.12 if light.sun[2] > 0 else -0.05) * tall)
            cv2.line(shadow, (int(x), row - 1), end, 0.6, max(int(tall * 0.08), 1), cv2.LINE_AA)
        axes = max(int(tall * 0.14), 1), max(int(tall * 0.03), 1)
        cv2.ellipse(shadow, (int(x), row - 1), axes, 0, 0, 360, 0.75, -1, cv2.LINE_AA)
        picture *= 1 - 0.7 * cv2.GaussianBlur(shadow, (0, 0), max(tall * 0.022, 0.6))[..., None]
        _blended(picture, lit, int(x - sprite.shape[1] / 2), int(base) - sprite.shape[0])
    return picture


def _standable(drawn: Drawn, row: int, column: int, depth: float) -> bool:
    """Ground that one can stand on, with nothing nearer before it."""
    if drawn.labels[row, column] in (0, WATER):
        return False
    above = max(row - 3, 0)
    return bool(drawn.depth[above : row + 1, column].min() > depth * 0.6)
