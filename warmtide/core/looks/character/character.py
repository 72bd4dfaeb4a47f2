"""Character 3-D: smooth lit forms, large eyes in the person's own colour, hair in locks with a sheen, a soft ground."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from .eyes import draw_eyes
from .features import draw_brows, draw_glasses, draw_mouth, draw_nose
from .hair import painted_hair
from .light import box_around, relit
from .making import Making, begun, finished, graded, hair_in_colour, hears, remarks, soft_ground
from .skin import painted_skin


def _cloth(making: Making) -> Float:
    """Clothes without texture, their folds kept, lit."""
    seen, light = making.seen, making.light
    cloth = seen.calm * np.array([1, 1.14, 1.14], f32)
    detail = 0.35 + 0.4 * making.sitting.holds.subject
    cloth[..., 0] += f32(detail) * blur(seen.photo[..., 0] - seen.calm[..., 0], 1.1 * making.unit)
    lit = relit(np.ascontiguousarray(cloth[..., 0]), 1 + f32(0.55) * (light.shade - 1))
    cloth[..., 0] = lit + 0.14 * light.rim * smoothstep(0.3, 0.7, seen.body)
    return cloth.astype(f32)


def _with_hair(out: Float, making: Making) -> None:
    seen, light = making.seen, making.light
    side, wide = light.lamp.side, making.wide
    # Its shadow on the brow.
    by = np.array([[1, 0, -side * 0.015 * wide], [0, 1, 0.035 * wide]], f32)
    cast = blur(cv2.warpAffine(seen.hair, by, seen.hair.shape[::-1]), 0.03 * wide) * seen.skin * (1 - seen.hair)
    out[..., 0] *= 1 - 0.22 * cast
    out[..., 1] += 0.012 * cast
    if float(seen.hair.max()) <= 0.3:
        return
    box = box_around(np.argwhere(seen.hair > 0.1)[:, ::-1], 0.2 * wide, seen.hair.shape)
    mask = np.ascontiguousarray(seen.hair[box])
    flow = 0.22 * np.ascontiguousarray(making.sitting.field("hair", max(0.5 * wide, 4))[box])
    hair = painted_hair(np.ascontiguousarray(seen.photo[box]), mask, wide, light.part(box), making.unit, flow)
    hair = hair_in_colour(hair, making.wishes.hair, mask)
    out[box] += mask[..., None] * (hair - out[box])


def draw_faces(out: Float, making: Making) -> None:
    """Eyes, brows, noses, mouths and glasses of everybody whose points are known."""
    side = making.light.lamp.side
    for person, points in making.seen.people:
        if not person.head.drawn:
            continue
        draw_nose(out, person, points, making.back)
        draw_mouth(out, person, points, making.back)
        draw_eyes(out, person, points, making.eyes, side, making.sparkle, making.back)
        draw_brows(out, person, points, making.back)
        draw_glasses(out, tuple(p for p, _ in making.seen.people), person, making.form, side, making.back)


def paint(lab: Float, sitting: Sitting) -> Float:
    """The character of everybody in a portrait. About 1 s at 512 px with one face, the portrait read."""
    making = begun(sitting)
    seen = making.seen
    cloth, body = _cloth(making), seen.body if seen.people else np.ones_like(seen.body)
    ground = soft_ground(making)
    out = np.ascontiguousarray(ground + body[..., None] * (cloth - ground))
    if seen.people:
        skin = painted_skin(seen, making.light, making.complexion)
        out += seen.skin[..., None] * (skin - out)
        _with_hair(out, making)
        draw_faces(out, making)
    graded(out, making.unit)
    return finished(out, making)


LOOK = Look(
    name="character",
    title="Character 3-D",
    category="character",
    kinds=("photo",),
    description="A person as the character of an animated film: smooth lit forms, large eyes, hair in locks; still that person.",
    strengths=(0.4, 0.9),
    paint=paint,
    seconds=1.1,
    handling=Handling(portrait=False, owns_colour=True, once=True, whole=True),
    placed=False,
    hears=hears,
    remarks=remarks,
)
