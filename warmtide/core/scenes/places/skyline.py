"""A city across the water."""

from dataclasses import replace

import cv2
import numpy as np

from ...maths.arrays import f32
from ...maths.noise import rng
from ..develop import bloom
from ..sky import make_sky
from ..town import Town, look_at
from ..view import BUILDING, WATER, Camera, Drawn, Task, reduced, share_of
from .base import Place

_FINER = 1.5
NIGHTS = {"night": 1.0, "dusk": 0.8, "sunset": 0.35}


def night_sky(picture: np.ndarray, camera: Camera, above: int) -> np.ndarray:  # type: ignore[type-arg]
    """The warm haze of a town's lamps under the night."""
    rows = (np.arange(picture.shape[0]) - above - camera.horizon) / camera.focal
    glow = np.exp(-np.clip(-rows, 0, 9) / 0.16)[:, None, None]
    return (picture * 0.6 + glow * np.array([0.08, 0.056, 0.044])).astype(f32)


def _draw(task: Task) -> Drawn:
    random, asked, layout = rng(task.seed, 21), task.asked, task.layout
    night = NIGHTS.get(asked.time, 0.0)
    drawn_horizon = random.uniform(0.56, 0.72)
    horizon = layout.horizon_or(drawn_horizon, 0.5, 0.78) * task.height
    focal = random.uniform(0.95, 1.35) * max(task.width, task.height * 1.1)
    base = Camera(task.width, task.height, focal, horizon, random.uniform(5, 22))
    camera = base.scaled(_FINER)
    above = int(max(0.0, task.height - 2 * horizon) + 0.08 * task.height)
    turned = random.choice([-1, 1]) * random.uniform(2.0, 2.5)
    sky = make_sky(base, asked.time, asked.sky, random, above, turned if asked.time == "day" else None)
    light = sky.light
    colour, ambient = light.colour * 0.42, (light.ambient * 0.45 + light.ambient.mean() * 0.55) * 0.85
    air = cv2.resize(light.horizon[None], (camera.width, 1))[0] * 0.8
    if asked.time == "night":
        ambient, colour = np.array([0.020, 0.028, 0.05]), colour * 0.15
        sky = replace(sky, picture=night_sky(sky.picture, base, above))
        air = np.full_like(air, 1) * np.array([0.07, 0.052, 0.045], f32)
    distance = random.uniform(520, 1050)
    form = (
        random.uniform(3, 8),
        random.uniform(-7, 7),
        random.uniform(4, 8),
        random.uniform(120, 260),
        random.uniform(14, 34),
    )
    town = Town(
        46.0, 13.0, (-40, 40), (0, 17), form, int(random.integers(1 << 20)), False, -6.0, 0.075, 0.0,
        (1.5e-4 if night < 1 else 1.2e-4) + asked.mist * 1.2e-3, (0.0, -distance), base.eye,
    )  # fmt: skip
    picture, depth, labels = look_at(town, camera, sky, above * _FINER, colour, ambient, air, night * 0.62)
    drawn = reduced(picture, depth, labels, base, light, exposure=0.055 if asked.time == "night" else None, ground=None)
    return drawn.with_picture(bloom(drawn.picture, 0.5, 0.45)) if night > 0 else drawn


def _kept(drawn: Drawn) -> bool:
    return share_of(drawn, BUILDING) >= 0.07 and share_of(drawn, WATER) >= 0.1


PLACES = (
    Place(
        "skyline", "city across the water",
        ("skyline", "city skyline", "city", "skyscrapers", "metropolis", "towers", "city across the water"), _draw, _kept
    ),
)  # fmt: skip
