"""Blueprint: a building's edges in white line on blue, shade hatched, the lines it is constructed from left faint."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...model.sitting import Original, Sitting
from ...understanding.building.planes import built_of
from ..shared.relight import worded_as
from ..shared.texture import clouded
from .look import building
from .ruled import hatched, ruled

_HATCH = 7.0
_BLUES = ((0.36, -0.025, -0.105), (0.33, -0.005, -0.115), (0.40, -0.045, -0.085))
_WHITE = np.array((0.93, -0.008, -0.012), f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a render (h, w, 3) OKLab as a blueprint. About .3 s at 512 px, .4 s more once for its planes."""
    original = sitting.original or Original(lab, None)
    built = built_of(original, sitting.cache)
    light = np.ascontiguousarray(original.lab[..., 0])
    height, width = light.shape
    unit = built.parts.unit
    random = sitting.random("draughtsman")
    heavy = float((sitting.guidance / 7) ** 0.3)
    cover = np.maximum(ruled(built, light, random, heavy), hatched(built, light, _HATCH, 0.42))
    chalk = cv2.resize(cover, (width, height), interpolation=cv2.INTER_AREA)
    worn = clouded(height, width, 5 * unit, sitting.random("chalk"), 3)
    chalk = np.clip(chalk * (1.25 + 0.10 * worn), 0, 1)
    blue = np.array(_BLUES[int(random.integers(3))], f32)
    out = np.broadcast_to(blue, (height, width, 3)).copy()
    out[..., 0] += 0.012 * clouded(height, width, 120 * unit, sitting.random("washed"), 4) + 0.006 * worn
    for at, down in ((random.uniform(0.3, 0.4), False), (random.uniform(0.62, 0.7), False), (0.5, True)):
        # Folds: it has been carried in a pocket.
        grid = np.arange(height if down else width, dtype=f32)
        fold = np.exp(-(((grid - at * len(grid)) / (1.3 * unit)) ** 2)) - 0.7 * np.exp(
            -(((grid - at * len(grid) - 2.6 * unit) / (1.6 * unit)) ** 2)
        )
        out[..., 0] += 0.035 * (fold[:, None] if down else fold[None])
    out += worded_as(lab, original.lab, 0.3, 0.8, 0.1)
    return np.asarray(out + (_WHITE - out) * chalk[..., None], f32)


LOOK = building(
    "blueprint",
    "Blueprint",
    "White lines on blue: edges ruled a little past their corners, shade hatched, vanishing lines left faint.",
    paint,
    0.3,
)
