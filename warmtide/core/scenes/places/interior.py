"""Indoors: a room with light from a window, a workshop with its table."""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray
from ...maths.noise import part, rng
from ..built import World, render
from ..sky import make_sky
from ..solids import BOARDS, BRICK, PLAIN, PLANKS, PLASTER, Solid, box, light_points, packed
from ..view import BUILDING, GROUND, Camera, Drawn, Task, paint
from ..water import make_waves
from .base import Place

_FINER, _FINER_LARGE, _LARGE = 1.5, 1.2, 768
_WALLS = ("e4ddd0", "c9d0c8", "d8c4b0", "b9c4cc", "e8e2d4")
_FLOORS = ("8a6238", "6b4a2e", "b08858")
_CLOTHS = ("8a3a30", "2f5a6a", "6a6a48", "7a5a7a")
_CLAYS = ("b86a48", "e0d8c8", "4a6a72", "c4a060")
_LEFT, _RIGHT, _HIGH, _FAR = -2.5, 2.5, 2.75, 6.0


@dataclass(frozen=True)
class _Window:
    """A window in a side wall: from z to z, from y to y."""

    z: tuple[float, float]
    y: tuple[float, float]
    side: float

    @property
    def x(self) -> float:
        return _RIGHT if self.side > 0 else _LEFT

    def frame(self, wall: AnyArray) -> list[Solid]:
        """The wall around it, its frame and bars."""
        thick = (self.x, self.x + 0.25) if self.side > 0 else (self.x - 0.25, self.x)
        around = [
            ((0.0, self.y[0]), (-1.0, _FAR)), ((self.y[1], _HIGH), (-1.0, _FAR)), (self.y, (-1.0, self.z[0])),
            (self.y, (self.z[1], _FAR)),
        ]  # fmt: skip
        found = [box(thick, y, z, PLASTER, wall) for y, z in around]
        white = paint("f2efe8") * 0.9
        bar = (self.x + 0.06, self.x + 0.12) if self.side > 0 else (self.x - 0.12, self.x - 0.06)
        middle, high = sum(self.z) / 2, sum(self.y) / 2
        for y, z in (
            (self.y, (middle - 0.025, middle + 0.025)), ((high - 0.02, high + 0.02), self.z),
            (self.y, (self.z[0], self.z[0] + 0.05)), (self.y, (self.z[1] - 0.05, self.z[1])),
        ):  # fmt: skip
            found.append(box(bar, y, z, PLAIN, white))
        sill = (self.x - 0.14, self.x + 0.02) if self.side > 0 else (self.x - 0.02, self.x + 0.14)
        found.append(box(sill, (self.y[0] - 0.05, self.y[0]), (self.z[0] - 0.08, self.z[1] + 0.08), PLAIN, white))
        return found

    def lamps(self, power: float) -> AnyArray:
        outside = self.x + (0.16 if self.side > 0 else -0.16)
        points = light_points(
            np.array([outside, self.y[0], self.z[0]]), np.array([0, 0, self.z[1] - self.z[0]]),
            np.array([0, self.y[1] - self.y[0], 0]), 4,
        )  # fmt: skip
        return np.column_stack([points, np.full(len(points), power / len(points))]).astype(np.float64)


def _table(x: float, z: float, wide: float, deep: float, high: float, wood: AnyArray) -> list[Solid]:
    found = [box((x - wide / 2, x + wide / 2), (high - 0.05, high), (z - deep / 2, z + deep / 2), PLANKS, wood)]
    for sx in (-1, 1):
        for sz in (-1, 1):
            ax, az = x + sx * (wide / 2 - 0.08), z + sz * (deep / 2 - 0.08)
            found.append(box((ax - 0.035, ax + 0.035), (0, high - 0.05), (az - 0.035, az + 0.035), PLAIN, wood * 0.8))
    return found


def _chair(x: float, z: float, toward: float, wood: AnyArray) -> list[Solid]:
    back = z + toward * 0.2
    found = [
        box((x - 0.22, x + 0.22), (0.42, 0.46), (z - 0.22, z + 0.22), PLAIN, wood),
        box((x - 0.22, x + 0.22), (0.66, 0.95), (back - 0.02, back + 0.02), PLAIN, wood),
    ]
    for sx in (-0.19, 0.19):
        found += [
            box((x + sx - 0.02, x + sx + 0.02), (0, 0.44), (z - 0.2, z - 0.16), PLAIN, wood),
            box((x + sx - 0.02, x + sx + 0.02), (0, 0.95 if toward > 0 else 0.44), (z + 0.16, z + 0.2), PLAIN, wood),
        ]
    return found


def _pots(
    random: np.random.Generator, x: tuple[float, float], z: tuple[float, float], base: float, count: int
) -> list[Solid]:
    found = []
    for _ in range(count):
        at, far, wide = random.uniform(*x), random.uniform(*z), random.uniform(0.05, 0.09)
        tall = random.uniform(0.10, 0.26)
        colour = paint(_CLAYS[int(random.integers(len(_CLAYS)))])
        found.append(box((at - wide, at + wide), (base, base + tall), (far - wide, far + wide), PLAIN, colour))
        if random.random() < 0.5:
            found.append(
                box(
                    (at - wide * 0.55, at + wide * 0.55),
                    (base + tall, base + tall * 1.25),
                    (far - wide * 0.55, far + wide * 0.55),
                    PLAIN,
                    colour,
                )
            )
    return found


def _shelf(random: np.random.Generator, x: tuple[float, float], y: float, wood: AnyArray, books: bool) -> list[Solid]:
    found = [box(x, (y, y + 0.04), (_FAR - 0.28, _FAR - 0.01), PLAIN, wood)]
    at = x[0] + 0.05
    while at < x[1] - 0.15:
        wide, tall = random.uniform(0.03, 0.06) if books else random.uniform(0.08, 0.16), random.uniform(0.16, 0.28)
        shade = paint((_CLOTHS if books else _CLAYS)[int(random.integers(4))])
        found.append(box((at, at + wide), (y + 0.04, y + 0.04 + tall), (_FAR - 0.24, _FAR - 0.06), PLAIN, shade * 0.9))
        at += wide + (random.uniform(0, 0.01) if books else random.uniform(0.06, 0.2))
    return found


def _furnished(random: np.random.Generator, workshop: bool, side: float, wood: AnyArray) -> list[Solid]:
    if not workshop:
        x = -side * random.uniform(0.3, 0.9)
        rug = paint(_CLOTHS[int(random.integers(4))])
        found = [box((-1.3, 1.3), (0, 0.012), (1.9, 4.2), PLAIN, rug * 0.8)]
        found += _table(x, random.uniform(3.2, 3.7), 1.3, 0.8, 0.74, wood)
        found += _chair(x - 0.2, 4.15, 1, wood * 0.8) + _chair(x + 1.0 * -side, 3.2, 1, wood * 0.8)
        found += _pots(random, (x - 0.45, x + 0.45), (3.2, 3.6), 0.74, 3)
        left = random.uniform(-2.0, -0.2)
        picture = paint(_CLOTHS[int(random.integers(4))])
        found.append(box((left, left + 0.9), (1.35, 2.05), (_FAR - 0.05, _FAR - 0.01), PLAIN, paint("3a2c20")))
        found.append(box((left + 0.06, left + 0.84), (1.41, 1.99), (_FAR - 0.06, _FAR - 0.02), PLAIN, picture))
        return found + _shelf(random, (0.6, 2.2), 1.5, wood * 0.9, True)
    high = 0.92
    found = [box((-1.9, 1.9), (high - 0.07, high), (1.95, 3.0), PLANKS, wood)]
    for x in (-1.8, 1.8):
        found.append(box((x - 0.06, x + 0.06), (0, high - 0.07), (1.85, 1.97), PLAIN, wood * 0.7))
        found.append(box((x - 0.06, x + 0.06), (0, high - 0.07), (2.53, 2.65), PLAIN, wood * 0.7))
    for sign in (-1, 1):
        span = (-1.75, -0.75) if sign < 0 else (0.75, 1.75)
        found += _pots(random, span, (2.3, 2.65), high, 3)
    for _ in range(5):
        x, z, long = random.uniform(-1.6, 1.6), random.uniform(1.95, 2.25), random.uniform(0.12, 0.3)
        found.append(box((x, x + long), (high, high + 0.025), (z, z + 0.03), PLAIN, paint("5a5a5e")))
        found.append(box((x - 0.1, x), (high, high + 0.035), (z - 0.006, z + 0.036), PLAIN, paint("a8703f")))
    for y in (1.35, 1.8):
        found += _shelf(random, (-2.1, 2.1), y, wood * 0.8, False)
    for x in np.arange(-1.8, 1.9, 0.45):
        found.append(box((x, x + 0.035), (0.98, 1.26), (_FAR - 0.05, _FAR - 0.01), PLAIN, paint("5a5a5e")))
    return found


def _draw(workshop: bool, task: Task) -> Drawn:
    random, asked = rng(task.seed, 63, int(workshop)), task.asked
    side = float(random.choice([-1, 1]))
    low = asked.time in ("golden", "sunset", "morning")
    night = asked.time in ("night", "dusk")
    focal = random.uniform(0.60, 0.70) * max(task.width, task.height * 1.15)
    horizon = task.layout.horizon_or(random.uniform(0.42, 0.48), 0.36, 0.54) * task.height
    eye = 1.62 if workshop else 1.45
    # A large picture has pixels enough.
    finer = _FINER if max(task.height, task.width) <= _LARGE else _FINER_LARGE
    base = Camera(task.width, task.height, focal, horizon, eye)
    camera = base.scaled(finer)
    # The sun looks in at the window, from a little before it.
    elevation = random.uniform(0.22, 0.34) if low else random.uniform(0.5, 0.7)
    azimuth = side * random.uniform(1.3, 1.65)
    sky = make_sky(base, asked.time, asked.sky, part(random), 0, azimuth, elevation if not night else None)
    light = sky.light
    wall = paint(_WALLS[int(random.integers(len(_WALLS)))]) * (0.75 if workshop else 0.85)
    wood = paint(_FLOORS[int(random.integers(len(_FLOORS)))])
    opening = _Window((random.uniform(2.7, 3.1), random.uniform(4.6, 5.2)), (0.95, 2.25), side)
    solids = [
        box((_LEFT - 1, _RIGHT + 1), (-0.2, 0), (-1, _FAR), PLANKS, wood * (0.8 if workshop else 1.0)),
        box((_LEFT - 1, _RIGHT + 1), (_HIGH, _HIGH + 0.2), (-1, _FAR), PLASTER, paint("f0ece4") * 0.85),
        box((_LEFT - 1, _RIGHT + 1), (0, _HIGH), (_FAR, _FAR + 0.2), BRICK if workshop else PLASTER, paint("a8704e") if workshop else wall),
        box((_LEFT - 0.25, _LEFT), (0, _HIGH), (-1, _FAR), PLASTER, wall) if side > 0 else box((_RIGHT, _RIGHT + 0.25), (0, _HIGH), (-1, _FAR), PLASTER, wall),
        box((_LEFT, _RIGHT), (0, 0.12), (_FAR - 0.03, _FAR), BOARDS, paint("e8e2d4") * 0.8),
        *opening.frame(wall), *_furnished(random, workshop, side, wood),
    ]  # fmt: skip
    power, warm = 9.0, np.ones(3)
    colour = light.colour * 0.42
    tint = light.ambient / max(float(light.ambient.max()), 1e-6)
    # Eyes and cameras take the light of a room for white.
    white = light.ambient.mean()
    lamps, lamp_colour = opening.lamps(power), (0.3 * light.ambient + 0.7 * white) * 1.6
    tint = 0.3 * tint + 0.7
    if night:
        # By night a lamp over the table lights the room and the window is dark.
        at = np.array([[0.0, 2.1, 2.4 if workshop else 3.4, 1.6]])
        lamps, lamp_colour, colour = (
            np.vstack([at, at + [0.08, 0, 0.08, 0], at - [0.08, 0, 0.08, 0]]),
            np.array([1.0, 0.66, 0.34]) * 0.12,
            colour * 0.1,
        )
        warm, tint = np.array([1.0, 0.7, 0.42]), np.array([1.0, 0.7, 0.42])
    bounce = lamp_colour * 0.24 * tint + colour * 0.010 * warm
    world = World(packed(solids), (0.0, eye, 0.0), -1e6, lamps, lamp_colour, bounce, 0.0, 0.012 + 0.05 * asked.mist)
    size = camera.width, camera.height
    outside = cv2.resize(sky.picture[: task.height], size, interpolation=cv2.INTER_LINEAR)
    air = np.zeros((camera.width, 3)) + lamp_colour * 0.5
    waves = make_waves(rng(1), 10.0, 1.0, 0.0)
    picture, depth, labels = render(
        world, camera, light, colour, np.zeros(3), air, np.ascontiguousarray(outside), 0.0, (waves.x, waves.z)
    )
    shown = cv2.resize(picture, (task.width, task.height), interpolation=cv2.INTER_AREA)
    return Drawn(
        shown, cv2.resize(np.minimum(depth, 3e4), (task.width, task.height), interpolation=cv2.INTER_AREA),
        cv2.resize(np.where(labels == BUILDING, BUILDING, np.where(labels == GROUND, GROUND, 0)).astype(np.uint8), (task.width, task.height), interpolation=cv2.INTER_NEAREST),
        base, light, exposure=0.21 if not night else 0.13, level=0.75, ground=0.9,
    )  # fmt: skip


PLACES = (
    Place(
        "room", "room with window light",
        ("room", "living room", "window light", "interior", "indoors", "sunlit room", "by the window", "study room"),
        lambda task: _draw(False, task), outdoors=False,
    ),
    Place(
        "workshop", "workshop table", ("workshop", "workbench", "workshop table", "craft table", "atelier", "potter's workshop"),
        lambda task: _draw(True, task), outdoors=False,
    ),
)  # fmt: skip
