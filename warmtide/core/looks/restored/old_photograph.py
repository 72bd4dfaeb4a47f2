"""Old photograph: cleaned, its tones restored, coloured by place, with nothing of its drawing changed."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.colour import lab_to_bytes
from ...model.cache import SharedCache
from ...model.face import Face
from ...model.look import shape_keeping
from ...model.sitting import Original, Sitting
from ...understanding.faces import face_mask, find_faces
from .colouring import coloured, is_grey, places_of_grey
from .damage import damage_of, mended

_ENDS, _TO = (0.6, 99.4), (0.05, 0.97)
# From which range of lightness on tones are restored, and from which on in full.
_TONES = (0.02, 0.08)


def _cleaned(original: Float, faces: tuple[Face, ...]) -> Float:
    """Lightness without scratches, specks and half of its grain, over its full range again."""
    light = np.ascontiguousarray(original[..., 0])
    spared = face_mask(faces, light.shape[0], light.shape[1], 1.1) > 0.3 if faces else None
    light = mended(light, damage_of(light, spared))
    calm = cv2.bilateralFilter(light, 0, 0.045, max(min(light.shape) / 512 * 1.6, 0.8))
    light = light + f32(0.65) * (calm - light)
    low, high = np.percentile(light[::2, ::2], _ENDS)
    full = _TO[0] + (_TO[1] - _TO[0]) * np.clip((light - low) / max(high - low, _TONES[1]), 0, 1)
    # What has hardly any tones keeps those it has: pulled apart they would be black.
    share = np.clip((high - low - _TONES[0]) / (_TONES[1] - _TONES[0]), 0, 1)
    return (light + share * (full - 0.015 * np.sin(2 * np.pi * full) - light)).astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Clean and colour an OKLab picture (h, w, 3). About .2 s at 512 px, .4 s more once for what a source shows."""
    original = sitting.original or Original(lab, None)

    def known() -> tuple[Float, dict[str, Float]]:
        faces = find_faces(lab_to_bytes(original.lab))
        light = _cleaned(original.lab, faces)
        return light, places_of_grey(np.dstack([light, np.zeros_like(light), np.zeros_like(light)]), faces)

    light, masks = known() if original.key is None else sitting.cache.get(("old photograph", original.key), known)
    amount = float((sitting.guidance / 7) ** 0.5)
    colour = coloured(light, masks, sitting.words, sitting.random("colours"), amount)
    if not is_grey(original.lab):
        # Faded colour is still the best witness: its cast goes, what is left of it is strengthened.
        own = original.lab[..., 1:] - np.median(original.lab[..., 1:].reshape(-1, 2), axis=0) * 0.7
        strength = np.clip(0.055 / max(float(np.hypot(own[..., 0], own[..., 1]).mean()), 0.01), 1, 2.2)
        named = sum((masks[p] for p in masks if f"{p}/toward1" in sitting.words), np.zeros_like(light))
        colour = own * f32(strength * amount**0.5) * (1 - named)[..., None] + colour * named[..., None]
    # Light that words and seed have changed is kept; the drawing is the photograph's own.
    change = cv2.GaussianBlur(lab[..., 0] - original.lab[..., 0], (0, 0), max(min(light.shape) / 20, 2))
    out = np.empty_like(lab)
    out[..., 0] = np.clip(light + 0.6 * change, 0, 1)
    out[..., 1:] = colour
    return out


def _remarks(original: Original, _cache: SharedCache) -> list[str]:
    low, high = np.percentile(original.lab[::2, ::2, 0], _ENDS)
    said = ["toneless"] if high - low < _TONES[1] else []
    return [*said, "guessed"] if is_grey(original.lab) else said


LOOK = shape_keeping(
    "old-photograph",
    "Old photograph, coloured",
    "restored",
    "photo",
    "Scratches, specks and fading mended, grey coloured by place. Sky, leaves, ground and skin are guessed as they usually are, "
    "all else is a warm grey until words name it: navy coat, red roof, blue sky.",
    paint,
    0.25,
    _remarks,
    push=0.15,
)
