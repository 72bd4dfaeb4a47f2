"""Grounds of a studio: seamless paper, a wooden table, marble, brick, fabric, a stage."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.noise import fine_texture, fractal, part, rng, soft_texture, warped
from ...maths.steps import smoothstep
from ..spots import disc
from ..view import GROUND, Camera, Drawn, Light, Task, paint
from .base import Place

_PAPERS = ("e9e4da", "d8dde2", "b9c7c2", "e6c9b8", "8fa3b0", "cfd6c0", "2f3640", "c9b7d6")
_WOODS = (("4a2c18", "a8703f"), ("5d4630", "c09a6c"), ("2a1c14", "6b4a33"), ("8a6a48", "d9bd92"))
_WALLS = ("2a2420", "24303a", "3a4634", "4a3a30")
_LIGHTS = ((1, 0.75, 0.4), (1, 0.9, 0.7), (0.6, 0.8, 1), (0.7, 1, 0.6), (1, 0.5, 0.4))
_BRICKS = (("6e3322", "a85f42"), ("8a8078", "b8b0a4"), ("4a2c26", "7a4a3c"), ("d8d2c8", "efeae2"))
_CLOTHS = ("7a1f2a", "1f3a5a", "d9d2c4", "3a3a40", "2f5a48", "8a6a9a")
_STAGES = ("1a1c22", "201a2c", "101a1c")
# Pixels of a strip: they stay in the processor's cache while a chain of operations passes over them.
_STRIP = 16384


@dataclass
class _Set:
    """A studio being lit: where the table meets the wall, where the light stands, places in the picture 0..1."""

    task: Task
    random: np.random.Generator
    u: Float
    v: Float
    horizon: float
    lamp: float
    paper: Float

    @property
    def size(self) -> tuple[int, int]:
        return self.task.height, self.task.width

    def pool(self, x: float, y: float, wide: float, high: float) -> Float:
        """A soft pool of light."""
        return np.asarray(np.exp(-(((self.u - x) / wide) ** 2 + ((self.v - y) / high) ** 2)), f32)

    @property
    def wall(self) -> Float:
        return np.asarray(0.35 + 0.75 * self.pool(self.lamp, 0.25, 0.55, 0.6), f32)

    @property
    def floor(self) -> Float:
        return np.asarray(0.5 + 0.6 * self.pool(self.lamp * 0.7 + 0.15, 0.85, 0.5, 0.35), f32)

    def noise(self, scale: float, octaves: int = 6, gain: float = 0.52) -> Float:
        return fractal(*self.size, scale, self.random, octaves, gain)

    def on_table(self, lift: float = 0.10) -> tuple[Float, Float]:
        """x and z on a level table that begins at the horizon."""
        z = 0.25 / np.maximum(self.v - self.horizon + lift, 0.02)
        return np.asarray((self.u - 0.5) * z * 1.6 * self.task.width / self.task.height, f32), np.asarray(z, f32)

    def strips(self) -> Iterator[slice]:
        height, width = self.size
        rows = max(_STRIP // width, 1)
        return (np.s_[top : top + rows] for top in range(0, height, rows))

    def in_strips(self, rows: "Callable[[_Set, slice], AnyArray]") -> Float:
        """A picture (h, w, 3) from what `rows` makes of every strip: the set seen through it, and where it lies."""
        out = np.empty((*self.size, 3), f32)
        for view in self.strips():
            out[view] = rows(replace(self, u=self.u[view], v=self.v[view]), view)
        return out


def planks(x: Float, y: Float, wide: float = 0.42, shift: float = 0.0) -> tuple[Float, Float]:
    """Boards `wide` metres wide along y: tone 0..1, and the gaps between them."""
    board = np.floor(x / wide)
    own = (np.sin(board * 12.9 + shift) * 43758.5) % 1

    def grain(texture: Float, along: AnyArray, across: AnyArray) -> Float:
        return cv2.remap(texture, (along % 511).astype(f32), (across % 511).astype(f32), cv2.INTER_LINEAR)

    soft = grain(soft_texture(), y * 9 + own * 400 + board * 31, x / wide * 40 + own * 300)
    fine = grain(fine_texture(), y * 14 + own * 200, x * 420)
    rings = np.sin((x / wide + 0.22 * soft + 0.05 * y) * 26) * 0.5 + 0.5
    # A gap narrower than a pixel would break into dots.
    foot = np.maximum(np.abs(np.gradient(x, axis=1)) / wide, 1e-4)
    edge = 0.5 - np.abs(x / wide - board - 0.5)
    gap = np.clip((0.010 - edge) / foot + 0.5, 0, 1) * np.clip(0.02 / foot, 0.25, 1)
    tone = np.clip(0.45 + 0.16 * soft + 0.10 * fine + 0.16 * rings + 0.35 * (own - 0.5), 0, 1)
    return tone.astype(f32), gap.astype(f32)


def _paper(whole: _Set) -> AnyArray:
    random = part(whole.random)

    def rows(s: _Set, _: slice) -> AnyArray:
        bend = smoothstep(s.horizon - 0.16, s.horizon + 0.16, s.v)[..., None]
        lit = s.wall[..., None] * (1 - bend) + s.floor[..., None] * 1.08 * bend
        crease = 1 - 0.10 * np.exp(-(((s.v - s.horizon) / 0.09) ** 2))
        grain = 1 + 0.006 * random.standard_normal((*s.v.shape, 1))
        return np.asarray(s.paper * lit * crease[..., None] * grain)

    return whole.in_strips(rows)


def _softened(picture: Float, sigma: float) -> Float:
    """A blur made at half the size, where nobody sees the difference and a large picture costs no more than its pixels."""
    height, width = picture.shape[:2]
    small = cv2.resize(picture, (max(width // 2, 1), max(height // 2, 1)), interpolation=cv2.INTER_AREA)
    return np.asarray(cv2.resize(blur(small, sigma / 2), (width, height), interpolation=cv2.INTER_LINEAR), f32)


def _table(s: _Set) -> AnyArray:
    height, width = s.size
    dark, bright = (paint(code) for code in _WOODS[int(s.random.integers(len(_WOODS)))])
    x, z = s.on_table()
    tone, gap = planks(x + 50, z * 1.2)
    top = (
        (dark * (1 - tone[..., None]) + bright * tone[..., None])
        * (1 - 0.8 * gap[..., None])
        * s.floor[..., None]
        * 1.1
    )
    behind = np.zeros((height, width, 3), f32) + paint(_WALLS[int(s.random.integers(4))]) * s.wall[..., None] * 1.2
    for _ in range(70):
        colour = np.array(_LIGHTS[int(s.random.integers(5))])
        at = s.random.random() * width, s.random.uniform(-0.05, s.horizon + 0.02) * height
        disc(behind, *at, s.random.uniform(0.02, 0.06) * height, colour * s.random.uniform(0.03, 0.20), 0.35)
    behind = _softened(behind, 1.5 * width / 768)
    rows = np.clip((2 * s.horizon * height - s.v * height).astype(int), 0, height - 1)
    mirror = cv2.blur(np.take_along_axis(behind, rows[..., None], 0), (5, int(height * 0.06) * 2 + 1))
    top = top + mirror * (0.04 + 0.22 * (1 - smoothstep(0, 0.3, s.v - s.horizon)))[..., None]
    far = (1 - smoothstep(0, 0.12, s.v - s.horizon))[..., None]
    top = top * (1 - far) + _softened(top.astype(f32), 3 * width / 768) * far
    edge = smoothstep(s.horizon - 0.004, s.horizon + 0.004, s.v)[..., None]
    return np.asarray(behind * (1 - edge) + top * edge)


def _marble(s: _Set) -> AnyArray:
    scale = min(s.size) * 0.7
    wx, wy = s.noise(scale, 5) * scale * 0.16, s.noise(scale, 5) * scale * 0.16
    body = warped(s.noise(scale * 0.8, 7, 0.55), wx, wy)
    second = np.abs(warped(s.noise(scale * 0.5), wx, wy) + 0.3)
    veins = np.exp(-np.abs(body) * 16) * 0.8 + np.exp(-second * 22) * 0.45
    veins = np.clip(veins * np.clip(0.5 + 0.5 * s.noise(scale, 2), 0.05, 1) * 1.3, 0, 1)[..., None] * 0.85
    black = s.random.random() < 0.35 or s.task.asked.dark
    base = np.array([0.03, 0.035, 0.04], f32) if black else np.array([0.80, 0.79, 0.77], f32)
    vein = np.array([0.75, 0.68, 0.55], f32) if black else np.array([0.28, 0.29, 0.31], f32)
    stone = base * (1 + 0.07 * body)[..., None] * (1 - veins) + vein * veins
    return np.asarray(stone * (0.55 + 0.6 * s.pool(s.lamp, 0.3, 0.7, 0.7))[..., None])


def _brick(whole: _Set) -> AnyArray:
    height, width = whole.size
    long, tall, scale = width * 0.075, width * 0.026, width / 768
    rough = whole.noise(9, 4)
    dark, bright = (paint(code) for code in _BRICKS[int(whole.random.integers(len(_BRICKS)))])
    spots, dents, weather = whole.noise(4, 3), whole.noise(5, 3), whole.noise(width * 0.3, 4)
    relief, inside = np.empty(whole.size, f32), np.empty(whole.size, f32)

    def bond(s: _Set, view: slice) -> AnyArray:
        """Bricks by themselves; their relief, and where they are, beside."""
        xx, yy = s.u * width, s.v * height
        row = np.floor(yy / tall)
        shifted = xx + (row % 2) * long * 0.5
        column = np.floor(shifted / long)
        fx, fy = (shifted / long - column - 0.5) * long, (yy / tall - row - 0.5) * tall
        rim = np.minimum(long * 0.5 - np.abs(fx), tall * 0.5 - np.abs(fy))
        inside[view] = smoothstep(0.9 * scale, 2.6 * scale, rim + rough[view] * 0.7 * scale)
        own = (np.sin(column * 127.1 + row * 311.7 + s.task.seed) * 43758.5) % 1
        tone = (np.sin(column * 57.1 + row * 91.7 + s.task.seed) * 23758.5) % 1
        relief[view] = inside[view] * (2 + 0.5 * dents[view] + own * 0.8)
        t = np.clip(own + 0.15 * rough[view], 0, 1)[..., None]
        return np.asarray((dark * (1 - t) + bright * t) * ((0.85 + 0.3 * tone) * (1 + 0.10 * spots[view]))[..., None])

    brick = whole.in_strips(bond)
    relief = blur(relief, 0.8)
    gx, gy = cv2.Sobel(relief, cv2.CV_32F, 1, 0), cv2.Sobel(relief, cv2.CV_32F, 0, 1)
    line = 0.84

    def wall_and_floor(s: _Set, view: slice) -> AnyArray:
        shade = np.clip(1 - 0.13 * (gx[view] * np.sign(s.lamp - 0.5) - gy[view]), 0.62, 1.35)
        mortar = paint("a59c90") * ((0.75 + 0.08 * rough[view]) * (1 - inside[view]) * 0.55)[..., None]
        lit = shade * (0.3 + 0.95 * s.pool(s.lamp, 0.3, 0.5, 0.6)) * (1 + 0.12 * weather[view])
        lit *= 1 - 0.5 * np.exp(-np.clip(line - s.v, 0, 1) / 0.02)
        wall = (brick[view] * inside[view][..., None] + mortar) * lit[..., None]
        z = 0.12 / np.maximum(s.v - line + 0.06, 0.02)
        x = (s.u - 0.5) * z * 2.2
        stains = cv2.remap(soft_texture(), ((x * 60) % 511).astype(f32), ((z * 60) % 511).astype(f32), cv2.INTER_LINEAR)
        fallen = s.floor * (0.7 + 0.08 * stains) * (1 - 0.5 * np.exp(-np.clip(s.v - line, 0, 1) / 0.03))
        on = smoothstep(line - 0.003, line + 0.003, s.v)[..., None]
        return np.asarray(wall * (1 - on) + paint("6e6a64") * fallen[..., None] * on)

    return whole.in_strips(wall_and_floor)


def _fabric(whole: _Set) -> AnyArray:
    height, width = whole.size
    random = whole.random
    folds = np.zeros(whole.size, f32)
    warp = whole.noise(width * 0.5, 3) * width * 0.05
    for _ in range(6):
        turn, long = random.uniform(-0.5, 0.5) + random.choice([0, 0.9]), width * random.uniform(0.08, 0.24)
        bent, sway = random.uniform(0.6, 1.8), whole.noise(width * 0.3, 2) * width * 0.03
        deep = whole.noise(width * 0.35, 2)
        for view in whole.strips():
            along = whole.u[view] * width * math.cos(turn) + whole.v[view] * height * math.sin(turn)
            wave = np.abs(np.sin((along + warp[view] * bent + sway[view]) / long * 3.14))
            folds[view] += (1 - wave) ** 1.3 * long * 0.12 * np.clip(0.6 + 0.5 * deep[view], 0, 2)
    folds = blur(folds, width * 0.006)
    slopes = cv2.Sobel(folds, cv2.CV_32F, 1, 0), cv2.Sobel(folds, cv2.CV_32F, 0, 1)
    way = np.array([(whole.lamp - 0.5) * 1.6, -0.55, 0.75], f32)
    way /= np.linalg.norm(way)
    colour = paint(_CLOTHS[int(random.integers(len(_CLOTHS)))])

    def rows(s: _Set, view: slice) -> AnyArray:
        gx, gy = slopes[0][view] / 8, slopes[1][view] / 8
        norm = 1 / np.sqrt(1 + gx * gx + gy * gy)
        lit = np.clip((-gx * way[0] - gy * way[1] + way[2]) * norm, 0, 1)
        shine = np.clip((-gx * way[0] * 0.7 - gy * way[1] * 0.7 + 1) * norm / 1.12, 0, 1) ** 26
        weave = 1 + 0.05 * np.sin(s.u * width * 2.2) * np.sin(s.v * height * 2.2)
        cloth = colour * ((0.12 + 1.1 * lit**1.2) * weave)[..., None]
        return np.asarray(cloth + (shine * 0.20)[..., None] * (colour * 0.5 + 0.5))

    return whole.in_strips(rows)


def _stage(whole: _Set) -> AnyArray:
    colour = paint(_STAGES[int(whole.random.integers(3))])
    smoke = whole.noise(whole.task.width * 0.2, 4)

    def rows(s: _Set, view: slice) -> AnyArray:
        spot = np.exp(-((((s.u - 0.5) / 0.22) ** 2 + ((s.v - 0.82) / 0.09) ** 2) ** 1.2))
        cone = 1 - smoothstep(0.5, 1, np.abs(s.u - 0.5) / (0.05 + 0.20 * np.clip(s.v + 0.05, 0, 1)))
        cone = cone * np.exp(-s.v * 0.9) * 0.022 * (1 + 0.25 * smoke[view])
        on = smoothstep(s.horizon - 0.01, s.horizon + 0.02, s.v)
        base = (0.25 + 0.5 * s.wall) * (1 - on) + 2.2 * (0.25 + 1.6 * spot) * on
        return np.asarray(colour * base[..., None] + cone[..., None] * np.array([1, 0.95, 0.85], f32))

    return whole.in_strips(rows)


@dataclass(frozen=True)
class _Kind:
    draw: Callable[[_Set], AnyArray]
    exposure: float
    gloss: float = 0.0
    ground: float | None = 0.86
    wall: bool = False


_KINDS = {
    "paper": _Kind(_paper, 0.40), "table": _Kind(_table, 0.17, 0.35), "marble": _Kind(_marble, 0.36, ground=None, wall=True),
    "brick": _Kind(_brick, 0.17, ground=None, wall=True), "fabric": _Kind(_fabric, 0.17, ground=None, wall=True), "stage": _Kind(_stage, 0.07, 0.25),
}  # fmt: skip


def _draw(kind: str, task: Task) -> Drawn:
    random = rng(task.seed, 51, len(kind))
    height, width = task.height, task.width
    yy, xx = np.mgrid[0:height, 0:width].astype(f32)
    drawn_horizon = random.uniform(0.58, 0.7)
    horizon = task.layout.horizon_or(drawn_horizon, 0.5, 0.78)
    lamp = random.choice([-1, 1]) * random.uniform(0.2, 0.45) + 0.5
    paper = paint(_PAPERS[int(random.integers(len(_PAPERS)))] if not task.asked.dark else "2f3640")
    made = _KINDS[kind]
    studio = _Set(task, random, xx / width, yy / height, horizon, lamp, paper)
    full = made.draw(studio)

    def darker_at_corners(s: _Set, view: slice) -> AnyArray:
        corners = 1 - 0.28 * (((s.u - 0.5) * 1.5) ** 2 + ((s.v - 0.5) * 1.2) ** 2)
        return np.maximum(full[view] * corners[..., None], 0)

    picture = studio.in_strips(darker_at_corners)
    light = Light("day", "clear", np.array([lamp - 0.5, 0.8, -0.6], f32), paper, paper * 0.3, np.zeros((width, 3), f32))
    exposure = 0.10 if kind == "marble" and float(picture.mean()) < 0.25 else made.exposure
    if task.asked.time == "night":
        exposure *= 0.4
    return Drawn(
        picture, np.full((height, width), 6, f32), np.where(yy / height > horizon, GROUND, 0).astype(np.uint8),
        Camera(width, height, width, horizon * height), light, exposure=exposure, level=1.0, ground=made.ground,
        gloss=made.gloss,
        wall=made.wall,
    )  # fmt: skip


def _place(kind: str, title: str, *words: str) -> Place:
    return Place(kind, title, words, lambda task: _draw(kind, task), outdoors=False)


PLACES = (
    _place("paper", "seamless paper", "studio", "seamless paper", "seamless", "backdrop", "plain background", "white background", "product studio", "paper studio"),
    _place("table", "wooden table", "wooden table", "table", "tabletop", "wooden desk", "desk", "wooden floor", "planks", "bokeh lights"),
    _place("marble", "marble", "marble", "stone slab", "marble slab", "dark marble"),
    _place("brick", "brick wall", "brick", "bricks", "brick wall", "brickwork"),
    _place("fabric", "folded cloth", "fabric", "silk", "velvet", "cloth", "satin", "drapes", "drapery", "folded cloth"),
    _place("stage", "stage with a spotlight", "stage", "spotlight", "dark studio", "spotlight stage"),
)  # fmt: skip
