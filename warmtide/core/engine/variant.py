"""What a seed changes beyond grain: light, palette and size of marks, the more the higher the strength.

Two seeds should be two proposals that an artist would choose between, not one picture with other noise. How the
seed bends the layout is in `noise.bend_fields`; which way strokes and screens run is each look's own draw.
"""

import math
from dataclasses import dataclass

import numpy as np

from ..maths.arrays import Float, f32

_STREAM = 79
# Standard deviations at strength 1 without holds: lightness from side to side, hue in radians, OKLab b, log
# chroma. The size of marks is the seed's at every strength, so that the takes of a sweep share their fields.
_LIGHT, _HUE, _WARMTH, _CHROMA, _MARKS = 0.10, 0.20, 0.020, 0.18, 0.16
_MOST = 2.0


@dataclass(frozen=True)
class Variant:
    """Changes of the painter's view of the picture.

    Attributes
    ----------
    light : lightness added towards the side at `direction` (radians), taken at the other. hue : turn in radians.
    warmth : added to OKLab b. chroma, marks : factors.
    """

    light: float
    direction: float
    hue: float
    warmth: float
    chroma: float
    marks: float


def variant_of(seed: int, strength: float, shapes: float, colours: float, flat: bool) -> Variant:
    """The variant that a seed proposes.

    Parameters
    ----------
    shapes, colours : holds; they also hold light and palette. flat : a flat ground takes no light of its own.
    """
    random = np.random.default_rng([seed, _STREAM])
    drawn = np.clip(random.normal(0, 1, 5), -_MOST, _MOST)
    direction = float(random.uniform(0, 2 * math.pi))
    grown = strength**1.5
    free = grown * (1 - 0.8 * colours)
    light = 0.0 if flat else _LIGHT * grown * (1 - 0.5 * shapes) * float(drawn[0])
    return Variant(
        light, direction, _HUE * free * float(drawn[1]), _WARMTH * free * float(drawn[2]),
        math.exp(_CHROMA * free * float(drawn[3])), math.exp(_MARKS * float(drawn[4])),
    )  # fmt: skip


def varied(lab: Float, variant: Variant) -> Float:
    """An OKLab picture (h, w, 3) in the light and palette of a variant. About 4 ms at 512 px."""
    height, width = lab.shape[:2]
    out = np.empty_like(lab)
    across = np.linspace(-1, 1, width, dtype=f32)[None] * f32(math.cos(variant.direction))
    down = np.linspace(-1, 1, height, dtype=f32)[:, None] * f32(math.sin(variant.direction))
    light = lab[..., 0]
    # Most in the middle tones: black stays black and white white.
    room = f32(4) * light * (1 - light)
    out[..., 0] = light + f32(variant.light) * np.clip(across + down, -1, 1) * np.clip(room, 0, 1)
    cosine, sine = f32(variant.chroma * math.cos(variant.hue)), f32(variant.chroma * math.sin(variant.hue))
    out[..., 1] = cosine * lab[..., 1] - sine * lab[..., 2]
    out[..., 2] = sine * lab[..., 1] + cosine * lab[..., 2] + f32(variant.warmth) * np.clip(room, 0, 1)
    return out
