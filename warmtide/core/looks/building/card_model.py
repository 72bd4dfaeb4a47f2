"""Card model: a building cut from white card, in soft lamp light on a grey base, edges crisp, windows cut out."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.sitting import Original, Sitting
from ...understanding.building.parts import GROUND, SKY
from ...understanding.building.planes import built_of
from ...understanding.sketch.areas import border_of
from ..shared.relight import developed, worded_as
from ..shared.texture import clouded, grain
from .look import building

_CARDS = ((0.80, 0.785, 0.75), (0.72, 0.63, 0.50), (0.78, 0.79, 0.80))
_BASES = ((0.30, 0.30, 0.31), (0.46, 0.36, 0.25), (0.60, 0.60, 0.58))


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a render (h, w, 3) OKLab as a card model. About .3 s at 512 px, .4 s more once for its planes."""
    original = sitting.original or Original(lab, None)
    built = built_of(original, sitting.cache)
    light = np.ascontiguousarray(original.lab[..., 0])
    height, width = light.shape
    unit = built.parts.unit
    random = sitting.random("model")
    card = np.array(_CARDS[int(random.choice(3, p=(0.6, 0.2, 0.2)))], f32)
    base = np.array(_BASES[int(random.integers(3))], f32)
    # Which grey is wall and which is ground is only known where the planes are.
    thing = built.owner >= 0 if built.sure else built.owner != SKY
    lamp = (light**3).astype(f32)
    inside = lamp[thing] if thing.any() else lamp.ravel()
    top = max(float(np.percentile(inside, 95)), 0.05)
    depth = 0.75 + 0.35 * float(min(sitting.guidance / 7, 2.0)) * (0.5 + 0.5 * sitting.strength)
    lit = np.clip(lamp / top, 0.02, 1.4) ** (0.95 * depth)
    warm = (
        np.array((1.04, 1.0, 0.93), f32) * lit[..., None]
        + np.array((0.94, 0.97, 1.04), f32) * (0.13 * (1 - lit))[..., None]
    )
    tooth = clouded(height, width, 7 * unit, sitting.random("tooth"), 3, 0.7)
    albedo = np.where(thing[..., None], card, base) * (1 + 0.014 * tooth + 0.012 * grain(height, width, 90 * unit, sitting.random("sheet")))[..., None]  # fmt: skip
    out = albedo * warm
    # A sheet's edge catches the lamp; where two meet there is a hair of shadow.
    seam = blur(border_of(np.where(thing, built.owner, -1).astype(np.int32)).astype(f32), 0.55 * unit)
    shine = blur(np.roll(seam, (1, 1), (0, 1)), 0.4)
    out = out * (1 - 0.34 * np.clip(1.5 * seam, 0, 1))[..., None] + (0.10 * shine * thing)[..., None]
    for opening in built.openings:
        mask = np.zeros((height * 2, width * 2), np.uint8)
        cv2.fillPoly(mask, [np.round(opening.corners * 2).astype(np.int32)], 255)
        hole = cv2.resize(mask, (width, height), interpolation=cv2.INTER_AREA).astype(f32) / 255
        cut = np.clip(hole - np.roll(hole, (round(2.2 * unit), round(2.2 * unit)), (0, 1)), 0, 1)
        dark = 0.10 + 0.05 * smoothstep(0, 1, blur(hole, 6 * unit))
        out = (
            out + (card * dark[..., None] - out) * (0.92 * hole)[..., None] + (card * 0.42)[None, None] * cut[..., None]
        )
    ys = np.linspace(0, 1, height, dtype=f32)[:, None]
    wall = np.array((0.36, 0.365, 0.37), f32) * (0.72 + 0.40 * ys)[..., None] * np.ones((1, width, 1), f32)
    above = blur((built.owner == SKY).astype(f32), 0.6)[..., None]
    out = out + (wall - out) * above
    ground = (built.owner == GROUND) & built.sure
    if ground.any():
        # What stands on the base takes a little of its light away all around.
        out = out * (1 - 0.30 * blur(thing.astype(f32), 9 * unit) * ground)[..., None]
    out = out * f32(0.74)
    return (developed(out) + worded_as(lab, original.lab, 0.5, 1.0)).astype(f32)


LOOK = building(
    "card-model",
    "Card model",
    "The building cut from card and set on a base, in soft lamp light, its windows cut out.",
    paint,
    0.3,
)
