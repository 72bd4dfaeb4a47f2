"""Building materials, by the metre: boards, brick, plaster, concrete, stone, zinc, tiles, slate; paving, gravel, grass.

Each is drawn in the coordinates of its plane, and fades to its mean where it is finer than the picture can show.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.steps import eased

Random = np.random.Generator


@dataclass(frozen=True)
class Place:
    """Where on its plane every pixel of a face lies: u along, v up (metres), and metres a pixel spans."""

    u: Float
    v: Float
    span: Float


Colours = tuple[Float, Float]
Draw = Callable[[Place, Random, AnyArray | None], Float]


def _shown(period: float, span: Float) -> Float:
    """1 where a pattern of that period can be seen, 0 where it is finer than two pixels."""
    t = np.clip((period / np.maximum(span, 1e-6) - 1.6) / 2.4, 0, 1)
    return np.asarray(eased(t), f32)


def _groove(x: Float, wide: float, span: Float) -> Float:
    """1 at whole numbers, soft over the width of a pixel; x in periods, `wide` in periods."""
    off = np.abs(x - np.round(x))
    soft = np.maximum(span, wide * 0.5)
    return np.clip(1 - (off - 0.5 * wide) / soft, 0, 1).astype(f32)


def _hash(number: AnyArray, salt: float) -> Float:
    """A number 0..1 for each whole number."""
    return np.mod(np.sin(number * 127.1 + salt) * 43758.5453, 1).astype(f32)


def _mottled(place: Place, random: Random, size: float) -> Float:
    """Slow unevenness, about -1..1, features of `size` metres."""
    total = np.zeros_like(place.u)
    for k in range(4):
        a, b = random.normal(0, 1, 2) * 2 * np.pi / size * (1 + 0.6 * k)
        total += np.sin(a * place.u + b * place.v + random.uniform(0, 6.28)) / (1 + 0.5 * k)
    return (total / 2.2).astype(f32)


def _coloured(base: AnyArray, amount: AnyArray) -> Float:
    return np.clip(np.asarray(base, f32) * np.asarray(amount, f32)[..., None], 0.004, 0.95).astype(f32)


def _pick(tint: AnyArray | None, random: Random, own: tuple[tuple[float, float, float], ...]) -> AnyArray:
    return np.array(own[int(random.integers(len(own)))]) if tint is None else np.asarray(tint)


def boards(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Upright timber boards, 14 cm."""
    colour = _pick(tint, random, ((0.36, 0.20, 0.10), (0.42, 0.27, 0.15), (0.20, 0.15, 0.12), (0.34, 0.31, 0.28)))
    x = place.u / 0.14
    span = place.span / 0.14
    board = np.floor(x)
    tone = 0.80 + 0.40 * _hash(board, 1.7)
    grain = 0.07 * np.sin(place.v * 9 + 20 * _hash(board, 3.1) + 2.5 * np.sin(place.v * 2.3)) * _shown(0.05, place.span)
    fade = _shown(0.14, place.span)
    amount = 1 + fade * (tone - 1 + grain) + 0.06 * _mottled(place, random, 2.5)
    return _coloured(colour, amount * (1 - 0.62 * fade * _groove(x, 0.09, span)))


def brick(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Running bond, 25 by 8 cm with its joints."""
    colour = _pick(tint, random, ((0.36, 0.115, 0.065), (0.42, 0.18, 0.10), (0.30, 0.10, 0.07), (0.45, 0.34, 0.22)))
    row = np.floor(place.v / 0.08)
    x = place.u / 0.25 + 0.5 * np.mod(row, 2)
    number = np.floor(x) + 57 * row
    fade = _shown(0.08, place.span)
    tone = 1 + fade * (0.5 * _hash(number, 0.3) - 0.25)
    joint = np.maximum(_groove(x, 0.045, place.span / 0.25), _groove(place.v / 0.08, 0.13, place.span / 0.08)) * fade
    # Where joints can't be seen any more the wall is a little paler for them.
    mortar = np.array((0.46, 0.43, 0.39))
    flat = _coloured(colour, tone + 0.06 * _mottled(place, random, 3))
    share = (joint + (1 - fade) * 0.16)[..., None]
    return (flat + (mortar.astype(f32) - flat) * share).astype(f32)


def plaster(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Lime plaster."""
    colour = _pick(tint, random, ((0.78, 0.75, 0.69), (0.72, 0.62, 0.48), (0.66, 0.66, 0.64), (0.74, 0.56, 0.44)))
    fine = 0.02 * np.sin(31 * place.u + 17 * place.v) * np.sin(23 * place.v - 11 * place.u) * _shown(0.15, place.span)
    return _coloured(colour, 1 + 0.05 * _mottled(place, random, 2.2) + fine)


def concrete(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Cast against boards of 2.4 by 1.2 m, with the holes of its ties."""
    colour = _pick(tint, random, ((0.46, 0.455, 0.44), (0.38, 0.375, 0.365), (0.52, 0.50, 0.47)))
    x, y = place.u / 2.4, place.v / 1.2
    panel = np.floor(x) + 13 * np.floor(y)
    joint = np.maximum(_groove(x, 0.008, place.span / 2.4), _groove(y, 0.016, place.span / 1.2))
    joint = joint * _shown(0.3, place.span)
    tie_x, tie_y = (place.u / 1.2 + 0.25) % 1 - 0.5, (place.v / 0.6 + 0.5) % 1 - 0.5
    holes = (np.hypot(tie_x * 1.2, tie_y * 0.6) < 0.022) * _shown(0.05, place.span)
    amount = 1 + 0.10 * (_hash(panel, 2.2) - 0.5) + 0.07 * _mottled(place, random, 3.5)
    return _coloured(colour, amount * (1 - 0.30 * joint) * (1 - 0.5 * holes))


def stone(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Coursed rubble."""
    colour = _pick(tint, random, ((0.40, 0.37, 0.32), (0.33, 0.32, 0.31), (0.48, 0.42, 0.32)))
    row = np.floor(place.v / 0.24)
    x = place.u / (0.34 + 0.22 * _hash(row, 5.0)) + 3 * _hash(row, 9.0)
    number = np.floor(x) + 71 * row
    fade = _shown(0.24, place.span)
    joint = np.maximum(_groove(x, 0.08, place.span / 0.34), _groove(place.v / 0.24, 0.09, place.span / 0.24)) * fade
    amount = 1 + fade * 0.5 * (_hash(number, 4.4) - 0.5) + 0.08 * _mottled(place, random, 0.6) * fade
    return _coloured(colour, amount * (1 - 0.45 * joint))


def zinc(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Sheet with standing seams every 50 cm."""
    colour = _pick(tint, random, ((0.30, 0.32, 0.34), (0.22, 0.235, 0.25), (0.40, 0.42, 0.43)))
    x = place.u / 0.5
    seam = _groove(x, 0.05, place.span / 0.5) * _shown(0.16, place.span)
    beside = np.clip(1 - np.abs((x + 0.09) - np.round(x + 0.09)) * 9, 0, 1) * _shown(0.3, place.span)
    amount = 1 + 0.10 * (_hash(np.floor(x), 8.0) - 0.5) + 0.05 * _mottled(place, random, 4)
    return _coloured(colour, amount * (1 + 0.5 * seam) * (1 - 0.28 * beside))


def tiles(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Clay tiles, 20 by 28 cm, each row over the one below."""
    colour = _pick(tint, random, ((0.44, 0.16, 0.08), (0.36, 0.14, 0.09), (0.28, 0.13, 0.10)))
    row = np.floor(place.v / 0.28)
    x = place.u / 0.20 + 0.5 * np.mod(row, 2)
    down = place.v / 0.28 - row
    fade = _shown(0.20, place.span)
    tone = 1 + fade * (0.34 * _hash(np.floor(x) + 41 * row, 6.0) - 0.17)
    shade = fade * (0.45 * np.clip(1 - down / 0.16, 0, 1) + 0.30 * _groove(x, 0.08, place.span / 0.2))
    return _coloured(colour, (tone + 0.05 * _mottled(place, random, 3)) * (1 - shade))


def slate(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Slates, 25 by 18 cm to the weather."""
    return tiles(place, random, _pick(tint, random, ((0.105, 0.115, 0.13), (0.14, 0.135, 0.15), (0.12, 0.13, 0.125))))


def paving(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Slabs of 60 by 40 cm."""
    colour = _pick(tint, random, ((0.40, 0.385, 0.36), (0.34, 0.335, 0.33), (0.45, 0.41, 0.35)))
    row = np.floor(place.v / 0.4)
    x = place.u / 0.6 + 0.5 * np.mod(row, 2)
    fade = _shown(0.4, place.span)
    joint = np.maximum(_groove(x, 0.02, place.span / 0.6), _groove(place.v / 0.4, 0.03, place.span / 0.4)) * fade
    amount = 1 + fade * 0.22 * (_hash(np.floor(x) + 31 * row, 7.0) - 0.5) + 0.06 * _mottled(place, random, 5)
    return _coloured(colour, amount * (1 - 0.42 * joint))


def gravel(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Fine loose stone."""
    colour = _pick(tint, random, ((0.46, 0.42, 0.35), (0.40, 0.385, 0.37)))
    grains = (_hash(np.floor(place.u / 0.03) + 91 * np.floor(place.v / 0.03), 1.0) - 0.5) * _shown(0.03, place.span)
    return _coloured(colour, 1 + 0.35 * grains + 0.09 * _mottled(place, random, 4))


def grass(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Mown grass."""
    colour = _pick(tint, random, ((0.10, 0.17, 0.045), (0.13, 0.19, 0.06), (0.16, 0.18, 0.07)))
    tufts = (_hash(np.floor(place.u / 0.12) + 53 * np.floor(place.v / 0.2), 2.0) - 0.5) * _shown(0.12, place.span)
    return _coloured(colour, 1 + 0.40 * tufts + 0.14 * _mottled(place, random, 6) + 0.08 * _mottled(place, random, 1.5))


def snow(place: Place, random: Random, tint: AnyArray | None) -> Float:
    """Fresh snow."""
    return _coloured(_pick(tint, random, ((0.84, 0.86, 0.90),)), 1 + 0.04 * _mottled(place, random, 5))


SURFACES: dict[str, Draw] = {
    "boards": boards, "brick": brick, "plaster": plaster, "concrete": concrete, "stone": stone, "zinc": zinc,
    "tiles": tiles, "slate": slate, "paving": paving, "gravel": gravel, "grass": grass, "snow": snow,
}  # fmt: skip
