"""Character clay: the same forms as a modelled figure, with finger marks, matt."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur, quick_blur
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.flatten import flatten
from ..shared.flow import directions
from .character import draw_faces
from .fill import along, filled_in, within
from .light import relit
from .making import Making, begun, finished, hair_in_colour, hears, remarks
from .skin import Complexion, painted_skin

# Depth of finger marks, and of what is pressed and rolled.
_PRINTS, _DENTS = 0.11, 0.24


def _relief(making: Making) -> Float:
    """How marks of fingers on the clay take light, a factor about 1."""
    wide, sitting = making.wide, making.sitting
    dents = sitting.field("dents", max(0.16 * wide, 3)) + 0.5 * sitting.field("dents, small", max(0.07 * wide, 2))
    # Prints are fine ridges that bend, only here and there.
    bend = 2.2 * sitting.field("prints", max(0.20 * wide, 3))
    height, width = dents.shape
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    pitch = max(0.030 * wide, 2.2 * making.unit)
    turn = 2.5 * sitting.field("turn", max(0.5 * wide, 4))
    ridges = np.sin(2 * np.pi * (xs * np.cos(turn) + ys * np.sin(turn)) / pitch + 3 * bend)
    here = smoothstep(0.4, 1.2, sitting.field("where", max(0.22 * wide, 3)))
    surface = _DENTS * 0.05 * wide * dents + _PRINTS * 0.06 * pitch * ridges * here
    gx, gy = cv2.Sobel(surface.astype(f32), cv2.CV_32F, 1, 0) / 8, cv2.Sobel(surface.astype(f32), cv2.CV_32F, 0, 1) / 8
    way = making.light.lamp.way
    most = 0.35 + 0.65 * making.seen.body if making.seen.people else 1.0
    return np.asarray(1 - 0.9 * most * (gx * way[0] + gy * way[1]), f32)


def _modelled(making: Making) -> Float:
    """Clothes and ground rolled and pressed of coloured clay: broad forms, few colours."""
    seen, unit = making.seen, making.unit
    broad = flatten(seen.photo, 4.0 * unit, 0.0010, 3)
    # Edges of things are rolled: dark in the joint, light on the shoulder.
    step = np.ascontiguousarray(broad[..., 0]) - quick_blur(np.ascontiguousarray(broad[..., 0]), 3.5 * unit)
    broad[..., 0] = broad[..., 0] + 0.55 * np.clip(step, -0.10, 0.10)
    broad[..., 1:] *= 1.12
    return broad.astype(f32)


def _hair(making: Making) -> Float:
    """Hair as strands of clay: the person's own locks, thick and matt."""
    seen, wide = making.seen, making.wide
    mask = smoothstep(0.15, 0.6, seen.hair)
    filled = filled_in(seen.photo, mask, 0.05 * wide)

    angle, _, _ = directions(filled, max(0.06 * wide, 2.0))
    noise = quick_blur(making.sitting.field("locks", max(0.05 * wide, 2)), 0.5)
    rolled = along(noise, angle, mask, 0.22 * wide, 2)
    rolled = rolled / (float(rolled[mask > 0.5].std()) + 1e-4) if (mask > 0.5).any() else rolled
    broad = within(filled, mask, 0.10 * wide)
    out = broad * np.array([1, 1.1, 1.1], f32)
    out[..., 0] = relit(broad[..., 0], 1 + 0.9 * (making.light.shade - 1)) * (1 + 0.16 * np.tanh(1.3 * rolled))
    return hair_in_colour(out.astype(f32), making.wishes.hair, mask)


def paint(lab: Float, sitting: Sitting) -> Float:
    """The figure of everybody in a portrait. About 1 s at 512 px with one face, the portrait read."""
    making = begun(sitting)
    seen, light = making.seen, making.light
    out = _modelled(making)
    out[..., 0] = relit(np.ascontiguousarray(out[..., 0]), 1 + 1.15 * seen.body * (light.shade - 1))
    if seen.people:
        matt = Complexion(making.complexion.freckles, making.complexion.old, 1.0)
        skin = painted_skin(seen, light, matt)
        even = within(skin, seen.skin, 0.03 * making.wide)
        skin = 0.35 * skin + 0.65 * even
        skin[..., 0] = relit(np.ascontiguousarray(skin[..., 0]), 1 + 0.45 * (light.shade - 1))
        skin[..., 1:] *= 1.06
        out += seen.skin[..., None] * (skin - out)
        out += seen.hair[..., None] * (_hair(making) - out)
        # Where hair meets skin and the body its ground, clay casts a small shadow.
        for mask, depth in ((seen.hair, 0.10), (seen.body, 0.07)):
            rim = blur(mask, 0.03 * making.wide) * (1 - mask)
            out[..., 0] *= 1 - depth * smoothstep(0.05, 0.4, rim)
        out = np.ascontiguousarray(out, dtype=f32)
        draw_faces(out, making)
    marks = _relief(making)
    # Eyes are glazed: no finger was on them.
    spared = np.zeros_like(marks)
    for person, points in seen.people:
        for eye in (159, 386):
            away = np.hypot(*(np.indices(marks.shape)[::-1].astype(f32) - points[eye][:, None, None]))
            spared = np.maximum(spared, np.exp(-((away / (0.13 * person.head.width)) ** 4)).astype(f32))
    out[..., 0] = relit(np.ascontiguousarray(out[..., 0]), 1 + (1 - spared) * (marks - 1))
    return finished(out, making)


LOOK = Look(
    name="character-clay",
    title="Character clay",
    category="character",
    kinds=("photo",),
    description="A person as a modelled clay figure: the same forms, matt, with the marks of the fingers that made it.",
    strengths=(0.4, 0.9),
    paint=paint,
    seconds=1.2,
    handling=Handling(portrait=False, owns_colour=True, once=True, whole=True),
    placed=False,
    hears=hears,
    remarks=remarks,
)
