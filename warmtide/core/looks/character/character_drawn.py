"""Character drawn: clean ink lines of varying width, two or three flat tones a part with a soft shadow side."""

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.flatten import flatten, soft_labels, tone_steps
from ..shared.flow import directions
from .eyes import draw_eyes
from .features import draw_brows, draw_glasses, draw_mouth
from .fill import along, filled_in, within
from .ink import INK, contour, draw_lines, folds
from .light import box_around
from .making import Making, begun, finished, hair_in_colour, hears, remarks, soft_ground
from .skin import bearded

# Tones of clothes and ground, and how soft the steps between them are.
_STEPS, _SHADOW = 5, (0.44, 0.60)


def _flat(making: Making) -> Float:
    """Clothes and ground in a few flat tones of their own colours."""
    seen, unit = making.seen, making.unit
    broad = flatten(seen.photo, 4.2 * unit, 0.0009, 3)
    light = np.ascontiguousarray(broad[..., 0])
    labels = tone_steps(light, _STEPS, 2.4 * unit)
    shares = soft_labels(labels, _STEPS, 1.0 * unit)
    out = np.zeros_like(broad)
    for step in range(_STEPS):
        own = within(broad, (labels == step).astype(f32), 7 * unit)
        own[..., 0] = 0.55 * own[..., 0] + 0.45 * (step + 0.5) / _STEPS
        out += shares[step][..., None] * own
    # What is behind the person keeps its own soft tones.
    ground = flatten(soft_ground(making), 3.0 * unit, 0.0008, 2)
    out = ground + smoothstep(0.3, 0.7, seen.body)[..., None] * (out - ground) if seen.people else out
    out[..., 1:] *= 1.18
    return out.astype(f32)


def _two_tones(colour: AnyArray, making: Making, deep: float, warm: tuple[float, float]) -> Float:
    """A colour lit and in shadow, (h, w, 3)."""
    lit = smoothstep(*_SHADOW, making.light.wrap)[..., None]
    shadow = np.asarray(colour) * np.array([deep, 1.06, 1.02]) + np.array([0, *warm])
    return np.asarray(shadow + lit * (np.asarray(colour) - shadow), f32)


def _skin(making: Making) -> Float:
    """Skin of everybody: the person's tone, its shadow, blood in the cheeks."""
    seen = making.seen
    out = np.zeros_like(seen.photo)
    total = np.full(seen.skin.shape, 1e-4, f32)
    for person, points in seen.people:
        tone = person.states.tone * np.array([1.02, 1.08, 1.08])
        painted = _two_tones(tone, making, 0.84, (0.012, 0.004))
        wide = person.head.width
        ys, xs = np.mgrid[0 : seen.skin.shape[0], 0 : seen.skin.shape[1]].astype(f32)
        for place in (50, 280):
            away = np.hypot(xs - points[place, 0], ys - points[place, 1]) / wide
            painted[..., 1] += 0.026 * np.exp(-((away / 0.13) ** 2))
        near = np.exp(-((np.hypot(xs - points[1, 0], ys - points[1, 1]) / (2.5 * wide)) ** 2)).astype(f32) + f32(1e-3)
        out += near[..., None] * painted
        total += near
    out /= total[..., None]
    # Folds and a beard stay as a darker tone.
    calm = within(flatten(seen.photo, 2.2 * making.unit, 0.0006, 3), seen.skin, 0.012 * making.wide)
    dark = within(calm, seen.skin, 0.12 * making.wide)[..., 0] - calm[..., 0]
    out[..., 0] -= 0.10 * smoothstep(0.05, 0.09, dark)
    for person, points in seen.people:
        if person.states.beard > 0.1:
            box = box_around(points, 0.5 * person.head.width, seen.skin.shape)
            own = points - np.array([box[1].start, box[0].start], f32)
            mask = bearded(seen.photo[box], seen.hair[box], person, own)
            colour = (seen.photo[box] * mask[..., None]).sum((0, 1)) / max(float(mask.sum()), 1.0)
            part = out[box]
            part += smoothstep(0.35, 0.65, mask)[..., None] * (_two_tones(colour, making, 0.82, (0, 0))[box] - part)
    return out.astype(f32)


def _hair(making: Making) -> Float:
    """Hair in its colour, its shadow and one band of light, broken by its own locks."""
    seen, wide = making.seen, making.wide
    mask = smoothstep(0.15, 0.6, seen.hair)
    filled = filled_in(seen.photo, mask, 0.05 * wide)
    usual = np.median(filled[mask > 0.5], 0) if (mask > 0.5).any() else np.array([0.3, 0.02, 0.03])
    out = _two_tones(usual * np.array([0.98, 1.15, 1.15]), making, 0.74, (0.002, 0.0))
    angle, _, _ = directions(filled, max(0.06 * wide, 2.0))
    long = along(np.ascontiguousarray(filled[..., 0]), angle, mask, 0.22 * wide, 3)
    locks = blur(long, 0.008 * wide) - within(long, mask, 0.05 * wide)
    locks = locks / (float(locks[mask > 0.5].std()) + 1e-4) * mask if (mask > 0.5).any() else locks
    out[..., 0] -= 0.06 * smoothstep(0.7, 1.2, -locks)
    band = np.exp(-(((making.light.gloss - 0.90) / 0.045) ** 2)) * smoothstep(-0.6, 0.8, locks)
    out[..., 0] += 0.10 * smoothstep(0.35, 0.75, blur(band.astype(f32), 0.01 * wide))
    return hair_in_colour(out.astype(f32), making.wishes.hair, mask)


def paint(lab: Float, sitting: Sitting) -> Float:
    """The drawn character of everybody in a portrait. About 1 s at 512 px with one face, the portrait read."""
    making = begun(sitting)
    seen = making.seen
    out = _flat(making)
    lines = folds(out, making)
    if seen.people:
        out += seen.skin[..., None] * (_skin(making) - out)
        out += smoothstep(0.3, 0.7, seen.hair)[..., None] * (_hair(making) - out)
        # Skin has no lines of its own: those that matter are drawn.
        lines = lines * (1 - smoothstep(0.3, 0.7, seen.skin)) * (1 - 0.55 * seen.hair)
        for mask, share in ((seen.body, 1.25), (seen.hair, 0.95)):
            lines = np.maximum(lines, contour(mask, making, share))
    out = np.ascontiguousarray(out + (0.9 * lines)[..., None] * (INK - out), dtype=f32)
    people = tuple(person for person, _ in seen.people)
    for person, points in seen.people:
        if not person.head.drawn:
            continue
        side = making.light.lamp.side
        draw_mouth(out, person, points, making.back)
        draw_eyes(out, person, points, making.eyes, side, making.sparkle, making.back)
        draw_brows(out, person, points, making.back)
        draw_lines(out, making, person, points)
        draw_glasses(out, people, person, making.form, side, making.back)
    return finished(out, making)


LOOK = Look(
    name="character-drawn",
    title="Character drawn",
    category="character",
    kinds=("photo",),
    description="A person as a drawn character: clean ink lines of varying width over flat tones with a soft shadow side.",
    strengths=(0.4, 0.9),
    paint=paint,
    seconds=1.1,
    handling=Handling(portrait=False, owns_colour=True, once=True, whole=True),
    placed=False,
    hears=hears,
    remarks=remarks,
)
