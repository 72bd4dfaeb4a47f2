"""Marker presentation: a building ruled in ink, its faces filled with warm greys in layers, one part in an accent colour."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.sitting import Original, Sitting
from ...understanding.building.parts import GROUND, SKY
from ...understanding.building.planes import built_of
from ..shared.relight import worded_as
from ..shared.streaks import marker_streaks
from .look import building
from .ruled import ruled

_ACCENTS = ((0.58, 0.125, 0.085), (0.72, 0.035, 0.12), (0.55, -0.05, -0.07), (0.60, -0.085, 0.075))


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a render (h, w, 3) OKLab in marker. About .5 s at 512 px, .4 s more once for its planes."""
    original = sitting.original or Original(lab, None)
    built = built_of(original, sitting.cache)
    light = np.ascontiguousarray(original.lab[..., 0])
    height, width = light.shape
    unit = built.parts.unit
    random = sitting.random("draughtsman")
    heavy = float((sitting.guidance / 7) ** 0.3)
    angle = float(-0.55 + random.normal(0, 0.1))
    first, second = (
        marker_streaks(sitting, name, height, width, unit, angle + turn)
        for name, turn in (("first", 0), ("second", 0.3))
    )
    thing = built.owner != SKY
    inside = light[thing]
    low, high = np.percentile(inside, (5, 90)) if len(inside) else (0.2, 0.8)
    tone = np.clip((blur(light, unit) - low) / max(high - low, 0.05), 0, 1)
    dense = (1 - smoothstep(0.70, 0.80, tone)) * (0.55 + first)
    dense = (
        dense
        + (1 - smoothstep(0.40, 0.50, tone)) * (0.60 + second)
        + (1 - smoothstep(0.14, 0.24, tone)) * (0.65 + second)
    )
    dense = np.clip(dense, 0, 2.4) * thing * heavy
    # The ground is left white toward the edge of the sheet.
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    edge = np.minimum(np.minimum(xs, width - xs) / width, (height - ys) / height)
    loose = smoothstep(0.02, 0.14, edge + 0.03 * first)
    dense = np.where(built.owner == GROUND, dense * loose, dense)
    grey = np.array((0.66, 0.004, 0.010), f32)
    roofs = [k for k, f in built.faces.items() if f.kind == "roof"] if built.sure else []
    coloured = np.zeros((height, width), f32)
    for k in roofs:
        coloured = np.maximum(coloured, (built.owner == k).astype(f32))
    for opening in built.openings if not roofs else []:
        if opening.kind == "door":
            mask = np.zeros((height, width), np.uint8)
            cv2.fillPoly(mask, [np.round(opening.corners).astype(np.int32)], 1)
            coloured = np.maximum(coloured, mask.astype(f32))
    coloured = blur(coloured, 0.6)
    accent = np.array(_ACCENTS[int(random.integers(len(_ACCENTS)))], f32)
    ink = np.maximum(dense, coloured * (0.85 + first))
    colour = grey + (accent - grey) * coloured[..., None]
    out = np.zeros((height, width, 3), f32)
    out[..., 0] = 0.975 * np.power(colour[..., 0] / 0.975, np.clip(ink, 0, 2.4))
    out[..., 1:] = colour[..., 1:] * np.clip(ink, 0, 1.3)[..., None]
    rows = np.linspace(0, 1, height, dtype=f32)[:, None]
    # A few strokes of sky behind the roof, so that the building stands before something.
    horizon = built.view.horizon / height if built.view is not None else 0.5
    sky = (~thing) * smoothstep(0.1, 0.5, second * 3 + 0.55 - 2.2 * np.abs(rows - 0.55 * horizon)) * loose
    out[..., 0] -= 0.12 * sky * (1 + first)
    out[..., 1] -= 0.018 * sky
    out[..., 2] -= 0.045 * sky
    lines = cv2.resize(ruled(built, light, random, 0.95 * heavy, 0.12), (width, height), interpolation=cv2.INTER_AREA)
    out[..., 0] *= 1 - 0.86 * np.clip(1.15 * lines, 0, 1)
    out[..., 1:] *= (1 - 0.8 * np.clip(lines, 0, 1))[..., None]
    out += worded_as(lab, original.lab, 0.2, 0.6, 0.1)
    return out.astype(f32)


LOOK = building(
    "marker-presentation",
    "Marker presentation",
    "The building ruled in ink, filled with layers of warm grey marker, its roof in one colour, sky in a few strokes.",
    paint,
    0.5,
)
