"""Pencil presentation: a building ruled and shaded in pencil on toothed paper, a wash of one colour in the sky and glass."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.sitting import Original, Sitting
from ...understanding.building.parts import SKY
from ...understanding.building.planes import built_of
from ..shared.relight import worded_as
from ..shared.texture import clouded, grain
from .look import building
from .ruled import hatched, ruled

_WASHES = ((-0.02, -0.055), (0.02, 0.045), (-0.045, 0.01), (0.035, 0.02))


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a render (h, w, 3) OKLab in pencil. About .4 s at 512 px, .4 s more once for its planes."""
    original = sitting.original or Original(lab, None)
    built = built_of(original, sitting.cache)
    light = np.ascontiguousarray(original.lab[..., 0])
    height, width = light.shape
    unit = built.parts.unit
    random = sitting.random("draughtsman")
    heavy = float((sitting.guidance / 7) ** 0.3)
    lines = np.maximum(0.92 * ruled(built, light, random, 0.85 * heavy, 0.26), hatched(built, light, 4.6, 0.5))
    lead = cv2.resize(lines, (width, height), interpolation=cv2.INTER_AREA)
    tooth = clouded(height, width, 3.2 * unit, sitting.random("tooth"), 3, 0.7)
    lead = np.clip(lead * (1.15 + 0.22 * tooth), 0, 1)
    inside = light[built.owner != SKY]
    low, high = np.percentile(inside, (4, 92)) if len(inside) else (0.2, 0.8)
    shade = np.clip((high - blur(light, unit)) / max(high - low, 0.05), 0, 1) * (built.owner != SKY)
    # The side of the lead, in strokes one way.
    angle = float(-0.75 + random.normal(0, 0.1))
    strokes = grain(height, width, 46 * unit, sitting.random("strokes"), 2.4 * unit, angle)
    rubbed = shade * (0.40 + 0.10 * strokes + 0.09 * tooth)
    out = np.zeros((height, width, 3), f32)
    out[..., 0] = 0.965 + 0.006 * tooth
    out[..., 2] = 0.006
    a, b = _WASHES[int(random.integers(len(_WASHES)))]
    rows = np.linspace(0, 1, height, dtype=f32)[:, None]
    sky = blur((built.owner == SKY).astype(f32), 2 * unit) * np.clip(1 - 1.3 * rows, 0, 1)
    sky = sky * smoothstep(-1.0, 0.9, clouded(height, width, 190 * unit, sitting.random("wash"), 4))
    glass = np.zeros((height, width), np.uint8)
    for opening in built.openings:
        if opening.kind == "window":
            cv2.fillPoly(glass, [np.round(opening.corners).astype(np.int32)], 255)
    wash = np.maximum(0.9 * sky, 0.8 * blur(glass.astype(f32) / 255, unit))
    out[..., 0] -= 0.15 * wash
    out[..., 1] += a * wash
    out[..., 2] += b * wash
    out[..., 0] *= (1 - 0.60 * np.clip(rubbed, 0, 1)) * (1 - 0.74 * lead)
    out += worded_as(lab, original.lab, 0.2, 0.6, 0.1)
    return out.astype(f32)


LOOK = building(
    "pencil-presentation",
    "Pencil presentation",
    "The building ruled and shaded in pencil, lines of construction left in, one wash of colour in sky and glass.",
    paint,
    0.4,
)
