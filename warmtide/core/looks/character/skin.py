"""A character's skin: smooth lit forms in the person's own tone, blood in cheeks and nose, a beard where there is one."""

from dataclasses import dataclass

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...understanding.people.features import BROWS, EYES, JAW, LIPS, OVAL
from ...understanding.people.outlines import filled, ring_of
from ..shared.flatten import flatten
from .canvas import curve, ribbon
from .fill import along, filled_in, within
from .light import Box, Lit, box_around, relit, too_small
from .portrait import Person

# What light does to skin beside what the photograph has, and how far colours are evened.
_RELIT, _CHROMA = 0.72, 1.10
_UNDER_JAW = (172, 150, 148, 152, 377, 379, 397)


@dataclass(frozen=True, eq=False)
class Warped:
    """The photograph as it lies in the character: `photo` and `calm` (h, w, 3), `body`, `skin`, `hair` (h, w), and each
    person with its points."""

    photo: Float
    calm: Float
    body: Float
    skin: Float
    hair: Float
    people: tuple[tuple[Person, Float], ...]

    @property
    def widest(self) -> float:
        return max(person.head.width for person, _ in self.people)


@dataclass(frozen=True)
class Complexion:
    """`freckles` 0..1 keeps moles and freckles, `old` -1..1 deepens or smooths folds, `matt` 0..1 takes the gloss away."""

    freckles: float = 0.0
    old: float = 0.0
    matt: float = 0.0


def painted_skin(seen: Warped, light: Lit, how: Complexion) -> Float:
    """Skin of everybody, (h, w, 3); right only where `seen.skin` is."""
    wide = seen.widest
    base = seen.photo.copy()
    for person, points in seen.people:
        _features_make_room(base, seen.skin, person, points)
    calm = within(flatten(base, max(0.020 * wide, 1.2), 0.0005, 3), seen.skin, max(0.013 * wide, 0.6))
    broad = within(calm, seen.skin, 0.10 * wide)
    out = 0.6 * broad + 0.4 * calm
    # Lines of a smile and of age stay legible; the glare of a flash is no form.
    fold = calm[..., 0] - within(calm[..., 0], seen.skin, 0.04 * wide)
    form = calm[..., 0] - broad[..., 0]
    deep = (1 + 0.9 * how.old) * np.tanh(0.75 * np.minimum(fold, 0.3 * fold) / 0.05)
    out[..., 0] = broad[..., 0] + 0.09 * np.tanh(form * (1 - 0.4 * (form > 0)) / 0.09) + 0.05 * deep
    if how.freckles:
        marks = np.minimum(base - calm, 0) * (base[..., :1] < calm[..., :1])
        out[..., 0] += f32(1.3 * how.freckles) * marks[..., 0]
        out[..., 1:] -= f32(0.5 * how.freckles) * marks[..., :1] * np.array([0.5, 1.0], f32)
    before = out[..., 0].copy()
    out[..., 0] = relit(before, 1 + f32(_RELIT) * (light.shade - 1))
    # Light that went through skin comes out red.
    edge = np.exp(-(((light.wrap - 0.34) / 0.17) ** 2))
    red = np.dstack([0.012 * edge + 0.008 * (1 - light.shade).clip(0, 0.6), 0.006 * edge])
    out[..., 1:] = _CHROMA * (out[..., 1:] + red)
    gain = np.full(seen.skin.shape, 1.03, f32)
    for person, points in seen.people:
        _one(out, gain, before, seen, light, person, points)
    room = (1 - smoothstep(0.72, 0.92, out[..., 0])) * (1 - how.matt)
    shine = room * (0.085 * light.gloss**24 + 0.025 * light.gloss**6)
    out[..., 0] = out[..., 0] * gain + shine - 0.010 + 0.20 * light.rim
    return np.asarray(out, f32)


def _features_make_room(base: Float, skin: Float, person: Person, points: Float) -> None:
    """Skin where eyes, brows and mouth were, so that the drawn ones stand on skin."""
    wide = person.head.width
    box = box_around(points, 0.5 * wide, skin.shape)
    if not person.head.drawn or too_small(box, 4):
        return
    own = points - np.array([box[1].start, box[0].start], f32)
    part = base[box]
    rings = (
        [ring_of(eye, own, 1.6) for eye in EYES]
        + [ring_of(brow, own, 1.35) for brow in BROWS]
        + [ring_of(LIPS, own, 1.1)]
    )
    holes = filled(part.shape[:2], rings)
    holes = np.maximum(blur(holes, 0.012 * wide), holes)
    clean = filled_in(part, np.clip(skin[box] * (1 - 1.2 * holes), 0, 1), 0.035 * wide)
    part += blur(holes, 0.01 * wide)[..., None] * (clean - part)


def _one(out: Float, gain: Float, before: Float, seen: Warped, light: Lit, person: Person, points: Float) -> None:
    """What belongs to one face: its light evened, its tone mended, blush, shade under the jaw, tip of the nose, beard."""
    head, tone = person.head, person.states.tone
    wide, box = head.width, box_around(points, 1.3 * head.width, seen.skin.shape)
    if too_small(box, 4):
        return
    part, own = out[box], points - np.array([box[1].start, box[0].start], f32)
    ys, xs = np.mgrid[0 : part.shape[0], 0 : part.shape[1]].astype(f32)

    def away(place: AnyArray) -> Float:
        return np.asarray(np.hypot(xs - f32(place[0]), ys - f32(place[1])) / f32(wide), f32)

    near = 1 - smoothstep(0.9, 1.6, away(own[1]))
    if not head.drawn:
        part += (0.7 * near)[..., None] * (seen.calm[box] - part)
        return
    oval = filled(part.shape[:2], [own[list(OVAL)]])
    even = 1.03 * float((before[box] * oval).sum()) / max(float((part[..., 0] * oval).sum()), 1e-3)
    part[..., 0] *= 1 + near * (even - 1)
    gain[box] = 1
    # Odd light is half forgiven.
    hue = float(np.clip(np.arctan2(tone[2], tone[1]), 0.72, 1.12))
    chroma = float(np.clip(np.hypot(*tone[1:]), 0.050, 0.10))
    grey = float(np.hypot(*tone[1:])) < 0.01
    if not grey:
        mended = chroma * np.array([np.cos(hue), np.sin(hue)]) - tone[1:]
        part[..., 1:] += near[..., None] * (0.55 * mended).astype(f32)
        for place, radius, amount in ((50, 0.15, 0.020), (280, 0.15, 0.020), (4, 0.09, 0.020), (152, 0.10, 0.008)):
            blush = amount * np.exp(-((away(own[place]) / radius) ** 2))
            part[..., 1:] += blush[..., None] * np.array([1, 0.2], f32)
    under = curve(own[list(_UNDER_JAW)], 30) + head.down * 0.07 * wide
    part[..., 0] *= 1 - 0.18 * blur(filled(oval.shape, [ribbon(under, 0.12 * wide)]), 0.06 * wide) * (1 - oval)
    tip = away(own[4] - head.down * 0.03 * wide + head.right * light.lamp.side * 0.015 * wide)
    part[..., 0] += 0.085 * np.exp(-((tip / 0.035) ** 2)) + 0.03 * np.exp(-((tip / 0.08) ** 2))
    if person.states.beard > 0.1:
        _beard(part, box, seen, light, person, own, (xs, ys))


def bearded(photo: Float, hair: Float, person: Person, own: Float) -> Float:
    """Where hair grows on chin, jaw and upper lip of a part of a picture, (h, w) 0..1; `own` the points in that part."""
    head, states = person.head, person.states
    wide, shape = head.width, photo.shape[:2]
    ring = np.concatenate([own[list(JAW)] + head.down * 0.06 * wide, own[[425, 327, 2, 98, 205]]])
    zone = blur(filled(shape, [ring]), 0.015 * wide)
    lips = filled(shape, [ring_of(LIPS, own)])
    bare = filled_in(photo, 1 - lips, 0.03 * wide)
    deep = blur(np.ascontiguousarray(bare[..., 0]), 0.012 * wide) / f32(states.tone[0])
    chroma = blur(np.hypot(bare[..., 1], bare[..., 2]), 0.03 * wide) / f32(max(float(np.hypot(*states.tone[1:])), 0.02))
    hairy = np.maximum(1 - smoothstep(0.62, 0.84, deep), 1 - smoothstep(0.62, 0.86, chroma))
    mask = (hairy * zone * (1 - blur(lips, 0.006 * wide)) * (1 - hair)).astype(f32)
    return np.asarray(states.beard * smoothstep(0.25, 0.6, blur(mask, 0.012 * wide)), f32)


def _beard(
    part: Float, box: Box, seen: Warped, light: Lit, person: Person, own: Float, grid: tuple[Float, Float]
) -> None:
    """A beard in its own colour, combed away from the middle of the face."""
    photo, wide, (xs, ys) = seen.photo[box], person.head.width, grid
    mask = bearded(photo, seen.hair[box], person, own)
    colour = (photo * mask[..., None]).sum((0, 1)) / max(float(mask.sum()), 1.0)
    noise = blur(np.random.default_rng(7).normal(0, 1, mask.shape).astype(f32), 0.7)
    angle = np.arctan2(ys - own[0][1] + 0.25 * wide, 0.8 * (xs - own[0][0]))
    hairs = along(noise, angle, mask, 0.05 * wide)
    calm = np.ascontiguousarray(seen.calm[box][..., 0])
    tone = colour[0] + 0.8 * (calm - within(calm, mask, 0.12 * wide)) + 0.022 * hairs / (hairs.std() + 1e-4)
    tone = relit(np.asarray(tone, f32), 1 + 0.9 * (light.shade[box] - 1))
    drawn = np.dstack([tone, 0 * tone + 1.1 * colour[1], 0 * tone + 1.1 * colour[2]])
    part += (0.88 * mask)[..., None] * (drawn - part)
