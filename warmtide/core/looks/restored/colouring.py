"""Colours for a grey picture: what words name, else what sky, leaves, water and skin usually are, else a warm grey."""

import math
from collections.abc import Mapping

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.edge_aware import guided_plane
from ...maths.steps import smoothstep
from ...model.face import Face
from ...understanding.faces import face_mask
from ...understanding.places import find_places

# OKLab a and b at middle lightness.
_USUAL = {
    "sky": (-0.018, -0.055), "foliage": (-0.040, 0.050), "ground": (-0.012, 0.034),
    "skin": (0.036, 0.040), "clothes": (0.002, -0.022), "rest": (0.014, 0.026),
}  # fmt: skip
_GREY_SPREAD = 0.014
# Variance of lightness below which colours follow it no more.
_CLOSE = 0.002


def is_grey(lab: Float) -> bool:
    """Whether a picture (h, w, 3) OKLab has no colour but one tint all over, as sepia has."""
    small = lab[::4, ::4, 1:].reshape(-1, 2)
    return float(np.hypot(*(small - np.median(small, axis=0)).T).mean()) < _GREY_SPREAD


def _leafy(light: Float, unit: float) -> Float:
    """Fine disorder, as leaves have and walls have not, 0..1."""
    dx, dy = cv2.Sobel(light, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(light, cv2.CV_32F, 0, 1, scale=0.125)
    reach = 9 * unit
    xx, yy, xy = blur(dx * dx, reach), blur(dy * dy, reach), blur(dx * dy, reach)
    whole = xx + yy
    ordered = np.sqrt((xx - yy) ** 2 + 4 * xy * xy) / (whole + 1e-6)
    busy = smoothstep(0.020, 0.045, np.sqrt(whole))
    return (busy * (1 - smoothstep(0.18, 0.42, ordered)) * (1 - smoothstep(0.55, 0.80, blur(light, reach)))).astype(f32)


def places_of_grey(lab: Float, faces: tuple[Face, ...]) -> dict[str, Float]:
    """Masks (h, w) 0..1 of what can be told in a grey picture; together 1, `rest` is what is left.

    Water and grass are both grey and low: what lies low is `ground`, and water only where words say so.
    """
    height, width = lab.shape[:2]
    unit = min(height, width) / 512
    light = cv2.bilateralFilter(np.ascontiguousarray(lab[..., 0]), 0, 0.10, max(2.2 * unit, 0.8))
    calm = blur(light, 1.6 * unit)
    grey = np.dstack([calm, np.zeros_like(light), np.zeros_like(light)])
    found = find_places(grey, ("sky", "water", "clothes"), faces)
    masks: dict[str, Float] = {}
    left = np.ones((height, width), f32)

    def take(name: str, mask: AnyArray) -> None:
        nonlocal left
        masks[name] = (left * np.clip(mask, 0, 1)).astype(f32)
        left = (left - masks[name]).astype(f32)

    if faces:
        face = face_mask(faces, height, width, 1.15)
        tone = float(np.median(light[face > 0.6])) if (face > 0.6).any() else 0.6
        take("skin", smoothstep(0.1, 0.5, face) * (1 - smoothstep(0.20, 0.34, np.abs(light - tone))))
    if "clothes" in found:
        take("clothes", found["clothes"])
    if "sky" in found:
        take("sky", found["sky"])
    # Leaves come in masses; what is finely broken for a few pixels is railings and hands.
    leafy = _leafy(light, unit)
    mass = max(int(13 * unit), 3) | 1
    core = cv2.morphologyEx(leafy, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (mass, mass)))
    take("foliage", np.minimum(leafy, cv2.dilate(core, np.ones((mass, mass), np.uint8))))
    if "sky" in found and "water" in found:
        take("ground", found["water"])
    masks["rest"] = left
    return masks


def _asked(words: Mapping[str, float]) -> dict[str, tuple[float, float]]:
    """Colours (a, b) that words give to places; what they name without a place goes to the rest."""
    found = {}
    for name, pull in words.items():
        place, _, what = name.rpartition("/")
        if what == "toward1" and pull > 0:
            hue = words.get(f"{place}/toward2" if place else "toward2", 0.0)
            chroma = min(0.75 * pull, 0.13)
            found["ground" if place == "water" else place if place in _USUAL else "rest"] = (
                chroma * math.cos(hue),
                chroma * math.sin(hue),
            )
    return found


def coloured(
    light: Float, masks: dict[str, Float], words: Mapping[str, float], random: np.random.Generator, amount: float = 1.0
) -> Float:
    """Colour (h, w, 2) for a lightness (h, w).

    Parameters
    ----------
    words : amounts by `place/toward1`, `place/toward2` (strength and hue). random : varies what is guessed. amount :
    factor on all colour.
    """
    asked = _asked(words)
    out = np.zeros((*light.shape, 2), f32)
    for place, mask in masks.items():
        turn, rich = random.normal(0, 0.16), math.exp(random.normal(0, 0.18))
        a, b = _USUAL[place]
        if place in asked:
            a, b = asked[place]
        else:
            a, b = rich * (a * math.cos(turn) - b * math.sin(turn)), rich * (a * math.sin(turn) + b * math.cos(turn))
        out += mask[..., None] * np.array((a, b), f32)
    unit = min(light.shape) / 512
    # Colours change only where the lightness does.
    radius = max(int(7 * unit), 2)
    out = np.dstack([guided_plane(light, np.ascontiguousarray(out[..., k]), radius, _CLOSE) for k in range(2)])
    # Black and white take no colour; the middle takes most.
    room = np.clip(4 * light * (1 - light), 0, 1) ** 0.7
    return (f32(amount) * out * room[..., None]).astype(f32)
