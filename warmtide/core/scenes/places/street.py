"""A city street, by day and in the wet at night."""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, f32
from ...maths.noise import fractal, rng
from ..develop import bloom
from ..sky import make_sky
from ..spots import glow
from ..town import Town, look_at
from ..view import BUILDING, GROUND, Camera, Drawn, Task, reduced, share_of
from .base import Place
from .skyline import night_sky

_FINER = 1.4
_SIGNS = ((1, 0.15, 0.35), (0.1, 0.8, 1), (1, 0.6, 0.1), (0.9, 0.2, 1), (0.3, 1, 0.5), (1, 0.9, 0.6))
_BODIES = ((0.05, 0.06, 0.08), (0.16, 0.02, 0.02), (0.2, 0.2, 0.2), (0.02, 0.05, 0.12))


@dataclass(frozen=True)
class _Thing:
    """A lamp, a sign or a car: where it is (m), a sign's colour and height."""

    kind: str
    x: float
    y: float
    z: float
    colour: tuple[float, float, float] = (1.0, 1.0, 1.0)
    tall: float = 0.0


class _Street:
    """Draws the things of a street into a picture and a plane of light that the wet ground mirrors."""

    def __init__(self, camera: Camera, eye: float, left: float, middle: float, depth: Float, night: bool) -> None:
        self.camera, self.eye, self.left, self.middle, self.night = camera, eye, left, middle, night
        self.depth = depth
        self.light = np.zeros((*depth.shape, 3), f32)

    def at(self, x: float, y: float, z: float) -> tuple[float, float]:
        c = self.camera
        return c.middle + c.focal * (x - self.left) / z, c.horizon - c.focal * (y - self.eye) / z

    def _free(self, x: float, y: float, z: float) -> bool:
        h, w = self.depth.shape
        return bool(z < self.depth[int(np.clip(y, 0, h - 1)), int(np.clip(x, 0, w - 1))])

    def lamp(self, t: _Thing, picture: Float, through: float) -> None:
        scale = self.camera.focal / t.z
        x, y = self.at(t.x, t.y, t.z)
        foot = self.at(t.x, 0, t.z)
        arm = self.at(t.x - np.sign(t.x - self.middle) * 1.3, t.y, t.z)[0]
        post = (0.015, 0.015, 0.018)
        for a, b, wide in (((foot[0], foot[1]), (x, y), 0.11), ((x, y), (arm, y), 0.09)):
            ends = [(int(p[0] * 8), int(p[1] * 8)) for p in (a, b)]
            cv2.line(picture, ends[0], ends[1], post, max(int(wide * scale), 1), cv2.LINE_AA, 3)
        if self._free(arm, y, t.z):
            warm = np.array([1.0, 0.74, 0.42])
            glow(self.light, arm, y, max(0.26 * scale, 1.1), warm * 5 * through)
            glow(self.light, arm, y, max(1.0 * scale, 3), warm * 0.18 * through)

    def sign(self, t: _Thing, picture: Float, through: float) -> None:
        scale = self.camera.focal / t.z
        x, y = self.at(t.x, t.y, t.z)
        half_w, half_h = 0.4 * scale, t.tall * 0.5 * scale
        height, width = self.depth.shape
        left, right, top, bottom = int(x - half_w), int(x + half_w) + 1, int(y - half_h), int(y + half_h) + 1
        rows, columns = slice(max(top, 0), min(bottom, height)), slice(max(left, 0), min(right, width))
        if columns.stop - columns.start < 2 or rows.stop - rows.start < 2:
            return
        free = self.depth[rows, columns] > t.z - 1.5
        yy, xx = np.mgrid[rows, columns]
        u, v = (xx - left) / (right - left), (yy - top) / (bottom - top) * t.tall / 0.9
        border = (u < 0.10) | (u > 0.90) | (v < 0.10) | (v > t.tall / 0.9 - 0.10)
        inside = (v % 1 > 0.18) & (v % 1 < 0.82) & (np.abs(u - 0.5) < 0.3)
        strokes = inside & (np.sin(u * 19 + np.floor(v) * 7) + np.sin((v % 1) * 17 + np.floor(v) * 5) > 0.1)
        colour = np.array(t.colour)
        picture[rows, columns] = np.where(free[..., None], 0.05 * colour, picture[rows, columns])
        shining = (free & (border | strokes))[..., None]
        self.light[rows, columns] += np.where(shining, colour * 2.6 * through + 0.15, 0).astype(f32)

    def car(self, t: _Thing, picture: Float, through: float, body: AnyArray) -> None:
        scale = self.camera.focal / t.z
        away, half = t.x > self.middle, 0.9 * scale
        x, y = self.at(t.x, t.y, t.z)
        ground, roof = self.at(t.x, 0, t.z)[1], self.at(t.x, 1.45, t.z)[1]
        cv2.ellipse(
            picture, (int(x), int(ground)), (int(half * 1.15), max(int(0.18 * scale), 1)), 0, 0, 360, (0.004, 0.004, 0.005),
            -1, cv2.LINE_AA,
        )  # fmt: skip
        shape = [
            (-1, ground - 0.2 * scale), (-1, y - 0.1 * scale), (-0.78, y - 0.15 * scale), (-0.62, roof), (0.62, roof),
            (0.78, y - 0.15 * scale), (1, y - 0.1 * scale), (1, ground - 0.2 * scale),
        ]  # fmt: skip
        outline = np.array([(x + half * k, row) for k, row in shape])
        cv2.fillPoly(picture, [(outline * 8).astype(np.int32)], tuple(float(v) for v in body), cv2.LINE_AA, 3)
        glass = np.array(
            [
                (x - half * 0.66, y - 0.22 * scale), (x - half * 0.56, roof + 0.12 * scale),
                (x + half * 0.56, roof + 0.12 * scale), (x + half * 0.66, y - 0.22 * scale),
            ]
        )  # fmt: skip
        pane = (0.02, 0.03, 0.04) if self.night else (0.16, 0.2, 0.24)
        cv2.fillPoly(picture, [(glass * 8).astype(np.int32)], pane, cv2.LINE_AA, 3)
        for side in (-1, 1):
            wheel = int(x + side * half * 0.8)
            corner = int(0.12 * scale)
            cv2.rectangle(
                picture,
                (wheel - corner, int(ground - 0.3 * scale)),
                (wheel + corner, int(ground)),
                (0.006, 0.006, 0.007),
                -1,
            )
            if self.night:
                beam = np.array([1.0, 0.06, 0.03]) * 4 if away else np.array([1.0, 0.93, 0.75]) * 8
                at = x + side * half * 0.75, y + 0.08 * scale
                glow(self.light, *at, max(0.11 * scale, 1.0), beam * through)
                glow(self.light, *at, max(0.55 * scale, 2.5), beam * 0.045 * through)

    def mirrored(self, labels: Byte, wet: float, random: np.random.Generator) -> Float:
        """What the wet ground shows of the lights: turned over at the horizon and smeared downward."""
        height, width = self.depth.shape
        rows = np.arange(height)
        source = (2 * self.camera.horizon - rows).astype(int)
        below = (rows > self.camera.horizon) & (source >= 0)
        turned = np.zeros_like(self.light)
        turned[below] = self.light[np.clip(source, 0, height - 1)[below]]
        smear = cv2.GaussianBlur(turned, (0, 0), sigmaX=1.5 * _FINER, sigmaY=height * 0.02)
        smear = cv2.blur(smear, (1, int(height * 0.05) * 2 + 1))
        puddles = np.clip(0.55 + 0.35 * fractal(height, width, width * 0.06, random, 3), 0, 1)[..., None]
        return np.asarray(smear * (labels == GROUND)[..., None] * (0.8 * puddles + 0.15) * wet, f32)


def _things(random: np.random.Generator, block: float, night: bool) -> list[_Thing]:
    half = 0.5 * block
    found = []
    if night:
        for side in (-1, 1):
            found += [_Thing("lamp", half + side * 8.2, 5.6, k * 18.0 - 6) for k in range(1, 14)]
            for _ in range(9):
                colour = _SIGNS[int(random.integers(len(_SIGNS)))]
                found.append(
                    _Thing(
                        "sign", half + side * (block * 0.5 - 1), random.uniform(4.6, 10), random.uniform(9, 90), colour,
                        random.uniform(1.6, 4.2),
                    )
                )  # fmt: skip
    for _ in range(int(random.integers(3, 7))):
        found.append(_Thing("car", half + random.choice([-3.4, 3.4, -3.4, 6.2]), 0.75, random.uniform(16, 110)))
    return sorted(found, key=lambda t: -t.z)


def _draw(task: Task) -> Drawn:
    random, asked, layout = rng(task.seed, 22), task.asked, task.layout
    night = asked.time in ("night", "dusk")
    drawn_horizon = random.uniform(0.46, 0.58)
    horizon = layout.horizon_or(drawn_horizon, 0.4, 0.62) * task.height
    focal = random.uniform(0.62, 0.85) * max(task.width, task.height * 1.1)
    base = Camera(task.width, task.height, focal, horizon, 1.75)
    camera = base.scaled(_FINER)
    above = int(max(0.0, task.height - 2 * horizon) + 0.08 * task.height)
    turned = random.choice([-1, 1]) * random.uniform(0.5, 0.9)
    sky = make_sky(base, asked.time, asked.sky, random, above, turned if asked.time == "day" else None)
    light = sky.light
    colour, ambient = light.colour * 0.42, (light.ambient * 0.45 + light.ambient.mean() * 0.55) * 0.85
    air = cv2.resize(light.horizon[None], (camera.width, 1))[0] * 0.8
    if night:
        ambient, colour = np.array([0.026, 0.036, 0.065]), colour * 0.15
        sky = replace(sky, picture=night_sky(sky.picture, base, above))
        air = np.full_like(air, 1) * np.array([0.07, 0.052, 0.045], f32)
    block = random.uniform(25, 29)
    wet = 1.0 if asked.wet or asked.rain > 0 else 0.0
    left = block * 0.5 + random.uniform(-3, 3)
    form = (random.uniform(8, 18), random.choice([-2.0, 2.0]), 4.5, random.uniform(25, 110), random.uniform(13, 24))
    town = Town(
        block, 0.0, (-9, 10), (0, 46), form, int(random.integers(1 << 20)), True, 0.0, 0.0, wet,
        (6e-4 if night else 5e-4) + asked.mist * 0.006, (left, 0.5), base.eye,
    )  # fmt: skip
    picture, depth, labels = look_at(town, camera, sky, above * _FINER, colour, ambient, air, 1.0 if night else 0.0)
    street = _Street(camera, base.eye, left, block * 0.5, depth, night)
    for thing in _things(random, block, night):
        through = float(np.exp(-thing.z * 6e-4))
        body = np.array(_BODIES[int(random.integers(4))]) * (0.25 if night else 2.0)
        if thing.kind == "lamp":
            street.lamp(thing, picture, through)
        elif thing.kind == "sign":
            street.sign(thing, picture, through)
        else:
            street.car(thing, picture, through, body)
    if night:
        if wet > 0:
            picture = picture + street.mirrored(labels, wet, random)
        picture = bloom((picture + street.light).astype(f32), 0.7, 0.55)
    return reduced(picture, depth, labels, base, light, exposure=0.07 if night else None, ground=0.88, gloss=0.5 * wet)


def _kept(drawn: Drawn) -> bool:
    return share_of(drawn, BUILDING) >= 0.2 and share_of(drawn, GROUND) >= 0.15


PLACES = (
    Place(
        "street", "city street",
        ("street", "city street", "alley", "avenue", "boulevard", "downtown", "asphalt", "pavement", "street corner"),
        _draw, _kept,
    ),
)  # fmt: skip
