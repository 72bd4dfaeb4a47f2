"""What the three characters share: the portrait read once, its form changed, its light; and how the take is finished."""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import quick_blur
from ...maths.colour import lab_to_bytes
from ...maths.steps import smoothstep
from ...model.cache import SharedCache
from ...model.face import Face
from ...model.sitting import Original, Sitting
from ...understanding.faces import find_faces
from ..shared.flatten import flatten
from .fill import within
from .form import Proportions, back_map, moved
from .light import Lamp, Lit, lit
from .portrait import Person, Portrait, portrait_of
from .skin import Complexion, Warped
from .wishes import Wishes, wishes_in

# Strength at which the form is a character's, and how its growth begins.
_FULL, _EASE = 0.8, 0.8
_MIX = 1.15
# Proportions by guidance: at the usual one as they are.
_USUAL, _PER, _FORM = 5.0, 0.09, (0.5, 1.6)
# The faces' hold bears on proportions only from here on: up to it, it is their places that are kept.
_FIRM = 0.9
_EVENED = 0.0006


@dataclass(frozen=True, eq=False)
class Making:
    """One character under way: the portrait as warped into its form, its light, what was asked."""

    sitting: Sitting
    portrait: Portrait
    seen: Warped
    light: Lit
    back: Float
    form: Proportions
    wishes: Wishes
    complexion: Complexion
    sparkle: float
    eyes: float

    @property
    def unit(self) -> float:
        return self.portrait.unit

    @property
    def wide(self) -> float:
        """Width of the largest head, or what stands for it where there is none."""
        return self.seen.widest if self.seen.people else 0.25 * min(self.seen.skin.shape)


def portrait_for(original: Original, cache: SharedCache, faces: tuple[Face, ...] | None = None) -> Portrait:
    """The portrait read, once a source; `faces` where they are known."""

    def read() -> Portrait:
        rgb = lab_to_bytes(original.lab)
        return portrait_of(rgb, find_faces(rgb) if faces is None else faces)

    return cache.get(("portrait", original.key), read)


def remarks(original: Original, cache: SharedCache) -> list[str]:
    """What a source makes a character look say: faces in profile, nobody."""
    portrait = portrait_for(original, cache)
    if not portrait.people:
        return ["nobody"]
    return ["profile"] if not all(person.head.drawn for person in portrait.people) else []


def hears(phrase: str) -> tuple[str, ...]:
    return wishes_in(phrase)[1]


def _worded(portrait: Portrait, wishes: Wishes) -> tuple[Person, ...]:
    """The people with eyes of the colour that words ask for."""
    if wishes.iris is None:
        return portrait.people
    iris = np.array(wishes.iris)
    return tuple(replace(person, states=replace(person.states, iris=iris)) for person in portrait.people)


def begun(sitting: Sitting) -> Making:
    """A character begun: the form changed by strength, guidance, holds and words, everything warped, lit."""
    original = sitting.original
    assert original is not None
    portrait = portrait_for(original, sitting.cache, sitting.faces)
    wishes, _ = wishes_in(sitting.prompt)
    chance = sitting.random("person")
    people = _worded(portrait, wishes)
    form, eyes = _proportions(sitting, wishes, chance)
    height, width = portrait.body.shape
    grid = np.dstack(np.meshgrid(np.arange(width, dtype=f32), np.arange(height, dtype=f32)))
    back = back_map(grid, people, form)
    mx, my = np.ascontiguousarray(back[..., 0]), np.ascontiguousarray(back[..., 1])

    def warped(plane: Float, how: int = cv2.INTER_LINEAR) -> Float:
        return cv2.remap(plane, mx, my, how, borderMode=cv2.BORDER_REPLICATE)

    points = moved(np.concatenate([p.head.xy for p in people]), people, form) if people else np.zeros((0, 2), f32)
    meshes = list(zip(people, np.split(points, max(len(people), 1)), strict=False)) if people else []
    photo = warped(portrait.lab, cv2.INTER_CUBIC)
    calm = flatten(photo, 2.6 * portrait.unit, _EVENED, 3)
    body = warped(portrait.body)
    seen = Warped(photo, calm, body, warped(portrait.skin), warped(portrait.hair), tuple(meshes))
    lamp = _lamp(photo, seen, wishes, chance)
    light = lit(body, seen.hair, [(person.head, mesh) for person, mesh in meshes], lamp)
    age = wishes.get("age", 0.0)
    complexion = Complexion(wishes.get("freckles", 0.0), age, wishes.get("clay", 0.0))
    return Making(sitting, portrait, seen, light, back, form, wishes, complexion, float(chance.uniform(-1, 1)), eyes)


def _proportions(sitting: Sitting, wishes: Wishes, chance: np.random.Generator) -> tuple[Proportions, float]:
    """The form of this take, and how far eyes have grown in it."""
    pushed = float(np.clip(1 + _PER * (sitting.guidance - _USUAL), *_FORM)) * wishes.get("form", 1.0)
    held = 1 - 0.85 * sitting.holds.shapes**2
    amount = pushed * held * min(sitting.strength / _FULL, 1.25) ** _EASE
    firm = 1 - 0.5 * max(sitting.holds.faces - _FIRM, 0) / (1 - _FIRM)
    young = max(-wishes.get("age", 0.0), 0.0)
    eyes = sitting.weight * wishes.get("eyes", 1.0) * firm * (1 + 0.15 * young) * float(chance.uniform(0.92, 1.08))
    jaw = wishes.get("jaw", 1.0) * firm * float(chance.uniform(0.8, 1.2))
    return Proportions(amount, eyes, jaw, wishes.get("round", 0.0), young), eyes * min(amount, 1.2)


def _lamp(photo: Float, seen: Warped, wishes: Wishes, chance: np.random.Generator) -> Lamp:
    """Light from the side that the photograph has it from, unless seed or words say otherwise."""
    turned, strength, rim = chance.uniform() < 0.45, float(chance.uniform(0.7, 1.3)), float(chance.uniform(0.6, 1.7))
    side = wishes.get("side", 0.0)
    if not side:
        side = -1.0
        if seen.people:
            _, mesh = seen.people[0]
            even = quick_blur(np.ascontiguousarray(photo[..., 0]), max(0.06 * seen.widest, 1))
            left, right = (_value_at(even, mesh[i]) for i in (50, 280))
            side = -1.0 if left >= right - 0.01 else 1.0
        side = -side if turned else side
    return Lamp(float(np.clip(side, -1, 1)), strength, rim * wishes.get("rim", 1.0), min(wishes.get("soft", 0.0), 1.5))


def _value_at(plane: Float, place: AnyArray) -> float:
    height, width = plane.shape
    return float(plane[int(np.clip(place[1], 0, height - 1)), int(np.clip(place[0], 0, width - 1))])


def soft_ground(making: Making) -> Float:
    """What is behind the person, out of focus; it takes none of the person's colours."""
    seen, depth = making.seen, making.wishes.get("depth", 1.0)
    unit = making.unit
    away = np.clip(1 - seen.body, 0, 1) ** 2
    ground = within(seen.calm, away, max(4.6 * unit * depth, 0.3)) * np.array([0.97, 1.06, 1.06], f32)
    lights = np.clip(seen.calm[..., 0] - 0.7, 0, 1)
    ground[..., 0] += 0.35 * within(lights, away, 9 * unit * depth + 0.3)
    return ground.astype(f32)


def hair_in_colour(hair: Float, wished: tuple[float, float, float] | None, mask: Float) -> Float:
    """Hair in the colour that words ask for; its locks and light stay."""
    if wished is None or not (mask > 0.5).any():
        return hair
    usual = np.median(hair[mask > 0.5], 0)
    out = hair.copy()
    out[..., 0] = wished[0] + (hair[..., 0] - usual[0]) * (0.75 + 0.5 * wished[0])
    ratio = np.clip(out[..., 0] / max(wished[0], 0.1), 0.5, 1.5)
    out[..., 1:] = np.array(wished[1:], f32) * ratio[..., None]
    return out.astype(f32)


def finished(out: Float, making: Making) -> Float:
    """The character as strength, holds and words leave it: toward the warped photograph the less of it is asked."""
    sitting, photo, holds = making.sitting, making.seen.photo, making.sitting.holds
    warm = making.wishes.get("warm", 0.0)
    if warm:
        lightness = np.clip(out[..., :1], 0, 1)
        tint = np.array([0.016, 0.050], f32) if warm > 0 else np.array([-0.010, -0.045], f32)
        out[..., 1:] += abs(warm) * tint * (0.4 + 0.6 * lightness)
        out[..., 0] *= 1 + (0.02 if warm > 0 else -0.14) * abs(warm)
    mix = min(1.0, _MIX * sitting.strength**_EASE)
    out = photo + f32(mix) * (out - photo)
    if holds.lines > 0:
        # Fine edges of the photograph, as it lies in the character; not over features that were drawn anew.
        reach = max(0.9 * making.unit, 0.5)
        free = 1 - quick_blur(making.seen.skin, 3 * making.unit)
        detail = (photo - quick_blur(photo, reach)) - (out - quick_blur(out, reach))
        out = out + (f32(0.55 * holds.lines) * free)[..., None] * detail
    if holds.colours > 0:
        reach = 0.05 * max(photo.shape[:2])
        broad = quick_blur(photo[..., 1:], reach) - quick_blur(np.ascontiguousarray(out[..., 1:]), reach)
        out[..., 1:] += f32(0.7 * holds.colours) * broad
    if float(np.hypot(photo[..., 1], photo[..., 2]).mean()) < 0.012 and making.wishes.hair is None:
        out[..., 1:] = photo[..., 1:]
    return np.asarray(out, f32)


def graded(out: Float, unit: float) -> None:
    """A gentle curve, a glow about lights, warm lights and cool darks; in place."""
    light = np.clip(out[..., 0], 0, 1)
    light = light + 0.10 * (light - 0.5) * (1 - (2 * light - 1) ** 2)
    glow = quick_blur(np.clip(light - 0.80, 0, 1).astype(f32), 8 * unit)
    out[..., 0] = light + 0.10 * glow * (1 - light)
    out[..., 1:] += smoothstep(0.4, 0.9, light)[..., None] * np.array([0.004, 0.008], f32)
    out[..., 2] -= 0.006 * (1 - smoothstep(0.1, 0.45, light))
