"""A harbour quay: gabled houses along the water, boats, mooring posts, lamps."""

from dataclasses import replace

import cv2
import numpy as np

from ...maths.noise import rng
from ..built import World, render
from ..develop import bloom
from ..sky import make_sky
from ..solids import BOARDS, BRICK, PLAIN, PLASTER, SETTS, TILES, Solid, box, gable, hull, packed
from ..spots import glow
from ..view import BUILDING, WATER, Camera, Drawn, Task, paint, reduced, share_of
from ..water import make_waves
from .base import Place
from .skyline import NIGHTS

_FINER, _FINER_LARGE, _LARGE = 1.4, 1.2, 768
_WALLS = ("d2c6ae", "b98d72", "b8beb4", "dcd3c4", "9ba6ac", "bfa574", "a97464")
_ROOFS = ("7a3e2c", "4a4a50", "8a5238", "5c3a30")
_HULLS = ("8a2f26", "2f5a6a", "e6dfd0", "2a3a52", "3f6a4a")


def _house(random: np.random.Generator, x: tuple[float, float], z: tuple[float, float]) -> list[Solid]:
    floors = int(random.integers(2, 4))
    storey = random.uniform(2.7, 3.1)
    eaves = floors * storey + 0.3
    wall = paint(_WALLS[int(random.integers(len(_WALLS)))])
    roof = paint(_ROOFS[int(random.integers(len(_ROOFS)))])
    kind = int(random.choice([PLASTER, PLASTER, BRICK, BOARDS]))
    wide = x[1] - x[0]
    cell = wide / max(round(wide / 2.1), 1)
    ridge = eaves + wide * random.uniform(0.34, 0.52)
    found = [
        box(x, (0, eaves), z, kind, wall * 0.8, (cell, storey)),
        gable((x[0] - 0.15, x[1] + 0.15), (eaves, ridge), (z[0] - 0.05, z[1]), TILES, roof, along="z"),
        gable((x[0], x[1]), (eaves - 0.02, ridge - 0.35), (z[0] - 0.12, z[0] + 0.3), kind, wall * 0.8, along="z"),
    ]
    at = random.uniform(x[0] + 0.6, x[1] - 1.2)
    found.append(
        box((at, at + 0.6), (eaves, ridge + random.uniform(0.2, 0.9)), (z[0] + 1.5, z[0] + 2.2), BRICK, paint("7a4a3a"))
    )
    return found


def _row(random: np.random.Generator, left: float, right: float, front: float) -> list[Solid]:
    found, x = [], left
    while x < right:
        wide = random.uniform(5.0, 8.5)
        found += _house(random, (x, x + wide - 0.06), (front + random.uniform(0, 0.8), front + 11))
        x += wide
    return found


def _boats(random: np.random.Generator, level: float) -> list[Solid]:
    found: list[Solid] = []
    for _ in range(int(random.integers(3, 6))):
        x, z = random.uniform(-9, 9), random.uniform(9, 22)
        long, wide, tall = random.uniform(3.5, 6.5), random.uniform(1.6, 2.3), random.uniform(0.55, 0.9)
        along = bool(random.random() < 0.75)
        found.append(hull(x, level, z, long, wide, tall, along, paint(_HULLS[int(random.integers(len(_HULLS)))])))
        mast = random.uniform(3.5, 6.0)
        if random.random() < 0.7:
            found.append(box((x - 0.05, x + 0.05), (level, level + mast), (z - 0.05, z + 0.05), PLAIN, paint("6a5238")))
        if random.random() < 0.5:
            found.append(
                box(
                    (x - 0.7, x + 0.5),
                    (level + tall, level + tall + 0.95),
                    (z - 0.5, z + 0.5),
                    BOARDS,
                    paint("e6dfd0"),
                    (0.7, 0.95),
                )
            )
    return found


# Long: what stands on the quay, one thing after another.
def _draw(task: Task) -> Drawn:
    random, asked, layout = rng(task.seed, 61), task.asked, task.layout
    night = NIGHTS.get(asked.time, 0.0)
    drawn_horizon = random.uniform(0.44, 0.54)
    horizon = layout.horizon_or(drawn_horizon, 0.38, 0.58) * task.height
    focal = random.uniform(0.85, 1.1) * max(task.width, task.height * 1.1)
    # A large picture has pixels enough.
    finer = _FINER if max(task.height, task.width) <= _LARGE else _FINER_LARGE
    base = Camera(task.width, task.height, focal, horizon, 2.4)
    camera = base.scaled(finer)
    above = int(max(0.0, task.height - 2 * horizon) + 0.08 * task.height)
    side = float(random.choice([-1, 1]))
    turned = side * random.uniform(1.9, 2.4)
    sky = make_sky(
        base, asked.time, asked.sky, random, above, turned if asked.time in ("day", "morning", "golden") else None
    )
    light = sky.light
    level, front = -1.6, random.uniform(26, 34)
    reach = front * 0.75
    stone = paint("8d867a")
    solids = [
        box((-90, 90), (-6, 0), (front - 4.5, front + 40), SETTS, stone),
        box((-2.6, 3.4), (-6, -0.02), (-6, random.uniform(5.5, 8.0)), SETTS, stone * 0.9),
        *_row(random, -reach - 6, reach + 6, front),
        *_boats(random, level),
    ]
    for x in np.arange(-reach, reach, random.uniform(5, 8)):
        solids.append(box((x - 0.14, x + 0.14), (0, 0.55), (front - 4.2, front - 3.9), PLAIN, paint("2c2c30")))
    for at in (-2.2, 2.9):
        solids.append(box((at - 0.13, at + 0.13), (-0.02, 0.62), (4.2, 4.5), PLAIN, paint("2c2c30")))
    lamps = [(float(x), 3.6, front - 3.6) for x in np.arange(-reach, reach, random.uniform(8, 11))]
    for x, y, z in lamps:
        solids.append(box((x - 0.05, x + 0.05), (0, y), (z - 0.05, z + 0.05), PLAIN, paint("24262a")))
    colour = light.colour * (0.42 if night < 1 else 0.15)
    ambient = light.ambient * (1.25 if night < 1 else 1.0) if not light.dull else light.ambient * 1.6
    air = cv2.resize(light.horizon[None], (camera.width, 1))[0] * 0.8
    size = camera.width, int(sky.picture.shape[0] * finer)
    dome = np.ascontiguousarray(cv2.resize(sky.picture, size, interpolation=cv2.INTER_LINEAR))
    glows = np.array([0.10, 0.06, 0.03]) * night
    world = World(
        packed(solids), (0.0, 2.4, 0.0), level, np.zeros((0, 4)), np.zeros(3), glows, night, 1.5e-4 + 5e-3 * asked.mist
    )
    waves = make_waves(rng(task.seed, 62), 14.0, 1.0, 0.0)
    picture, depth, labels = render(world, camera, light, colour, ambient, air, dome, above * finer, (waves.x, waves.z))
    if night > 0.3:
        shine = np.zeros_like(picture)
        for x, y, z in lamps:
            px, py = camera.middle + camera.focal * x / z, camera.horizon - camera.focal * (y - 2.4) / z
            down = camera.horizon + camera.focal * (y + 2.4 - 2 * level) / z
            scale = camera.focal / z
            warm = np.array([1.0, 0.72, 0.38]) * night
            glow(shine, px, py, max(0.16 * scale, 1.0), warm * 4)
            glow(shine, px, py, 1.1 * scale, warm * 0.16)
            for k in range(9):
                glow(
                    shine,
                    px + (k % 3 - 1) * 0.08 * scale,
                    down + k * 0.35 * scale,
                    0.22 * scale,
                    warm
                    * (
                        labels[
                            min(int(down + k * 0.35 * scale), camera.height - 1), int(np.clip(px, 0, camera.width - 1))
                        ]
                        == WATER
                    )
                    * 0.30,
                )
        picture = bloom(picture + shine, 0.7, 0.5)
    return reduced(
        picture, depth, labels, replace(base, eye=2.4), light,
        exposure=0.075 if asked.time == "night" else None, ground=0.94, gloss=0.25 if asked.wet else 0.0,
    )  # fmt: skip


def _kept(drawn: Drawn) -> bool:
    return share_of(drawn, BUILDING) >= 0.12 and share_of(drawn, WATER) >= 0.12


PLACES = (
    Place(
        "quay", "harbour quay",
        ("quay", "harbour", "harbor", "harbour quay", "port", "pier", "jetty", "waterfront", "fishing harbour", "dock", "docks"),
        _draw, _kept,
    ),
)  # fmt: skip
