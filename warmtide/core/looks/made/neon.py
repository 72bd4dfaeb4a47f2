"""Neon: the picture's lines as glowing glass tubes on a dark wall.

Sources
-------
1. G. Spencer et al., "Physically-based glare effects for digital images", 1995 (glow as a sum of falling radii).
"""

from itertools import pairwise

import cv2
import numpy as np

from ...maths.arrays import Float, Int, f32
from ...maths.blur import quick_blur
from ...maths.colour import to_lab, to_rgb
from ...maths.filters import brought_out, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.areas import outlines
from ..shared.brush import at
from ..shared.features import features
from ..shared.flatten import flatten
from ..shared.pen import chains, drawn_lines, pen, runs, smoothed, tapered

# Gases and coatings: hue angles in OKLab that glass tubes are sold in.
_HUES = np.array([0.25, 0.60, 1.20, 1.85, 2.55, -2.85, -1.75, -0.75])
_WALL = np.array([0.024, 0.020, 0.040], f32)
_SPACING = 4.2
# Contrast of areas that count as one, contrast from which their outline burns in full, and how low it burns at least.
_ALIKE, _FULL, _LOWEST = 0.10, 0.25, 0.3
# How bent a small line is that is a thing of its own, as a window is.
_ROUND = 0.5
# Chroma below which a line burns white; in marks, how far along a line its colour is taken together, and how long a
# tube of one colour is at least.
_GREY, _BLEND, _LEAST_TUBE = 0.025, 14, 36


def _lights() -> Float:
    """Linear light of the tubes (n, 3): warm white, ice blue, then those of `_HUES`."""
    hues = np.stack([np.full(len(_HUES), 0.76), 0.20 * np.cos(_HUES), 0.20 * np.sin(_HUES)], 1)
    lab = np.concatenate([[[0.86, 0.015, 0.045], [0.78, -0.03, -0.09]], hues])
    linear: Float = np.clip(to_rgb(lab[None].astype(f32))[0], 0.02, 1) ** f32(2.2)
    return linear


def _tube(colours: Float, turn: float) -> Int:
    """For colours (n, 3) the tube nearest in hue; greys burn warm white or ice blue."""
    hue = np.arctan2(colours[:, 2], colours[:, 1]) + turn
    nearest = np.abs(np.angle(np.exp(1j * (_HUES - hue[:, None])))).argmin(1) + 2
    grey = np.hypot(colours[:, 1], colours[:, 2]) < _GREY
    return np.where(grey, (colours[:, 0] <= 0.5).astype(int), nearest)


def _by_tube(piece: Float, rich: Float, turn: float, s: float) -> list[tuple[int, int, int]]:
    """Where a line goes over from one tube to the next: (first, last, tube), each of some length."""
    colours = at(rich, piece[:, 0], piece[:, 1])
    reach = max(round(_BLEND * s), 1)
    if len(piece) > 2 * reach:
        colours = cv2.blur(colours, (1, 2 * reach + 1), borderType=cv2.BORDER_REFLECT)
    else:
        colours = np.broadcast_to(colours.mean(0), colours.shape)
    numbers = _tube(colours, turn)
    runs: list[tuple[int, int, int]] = []
    cuts = [0, *(np.flatnonzero(np.diff(numbers)) + 1).tolist(), len(piece)]
    for a, b in pairwise(cuts):
        number = int(numbers[a])
        if runs and (b - a < _LEAST_TUBE * s or runs[-1][2] == number):
            runs[-1] = (runs[-1][0], b, runs[-1][2])
        elif runs and runs[-1][1] - runs[-1][0] < _LEAST_TUBE * s:
            runs[-1] = (runs[-1][0], b, number)
        else:
            runs.append((a, b, number))
    return runs


def _bent(line: Float) -> float:
    """How far a line comes back toward where it began: 0 straight, 1 closed."""
    return 1 - float(np.hypot(*(line[-1] - line[0]))) / max(len(line), 1)


def _burning(contrast: Float) -> np.float32:
    """How brightly a tube burns: where areas hardly differ it burns low, since the next draft may not have it at all."""
    found = np.asarray(np.median(contrast), f32)
    return f32(_LOWEST + (1 - _LOWEST) * float(smoothstep(_ALIKE, _FULL, found))) if found > 0 else f32(1)


def _length(found: tuple[Float, bool]) -> int:
    return -len(found[0])


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as neon tubes. About .2 s at 512 px."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    calm = flatten(soften(brought_out(lab, 18 * s), 1, 0.06, 2 * s), 3 * s, 0.0005, 3)
    # Rims take the colour of what they outline: its stronger side.
    rich = quick_blur(calm, 2.5 * s)
    chroma = np.hypot(rich[..., 1], rich[..., 2])
    for k in (1, 2):
        rich[..., k] = quick_blur((rich[..., k] * chroma).astype(f32), 3 * s) / (quick_blur(chroma, 3 * s) + f32(1e-4))
    turn = float(sitting.random("gas").normal(0, 0.18))
    lights = _lights()
    tubes = np.zeros((height, width, 3), f32)
    core = np.zeros((height, width), f32)
    taken = np.zeros((height, width), f32)
    inner = sorted((smoothed(chain, 2.6 * s) for chain in drawn_lines(calm, s, 1.05, -0.001, 11)), key=_length)
    # Where nothing is drawn, the outlines of broad areas are bent in glass.
    borders, contrast = outlines(lab, sitting, 500, _ALIKE, 22)
    areas = sorted((smoothed(chain, 3 * s) for chain in borders), key=_length)
    # Small closed lines, windows mostly, would lose a side to the outline of what they are in.
    small = [(line, closed) for line, closed in inner if len(line) < 80 * s and _bent(line) > _ROUND]
    drawn = small + areas + inner
    shortest = 11 * s
    if sitting.inset:
        face = features(lab, sitting.faces[0])
        drawn = [(line, closed) for line, closed in drawn if at(face.core, line[:, 0], line[:, 1]).mean() < 0.3]
        shortest = 7 * s
        drawn = sorted((smoothed(chain, 2.2 * s) for chain in chains(face.ink > 0.5, 7 * s)), key=_length) + drawn
    for line, closed in drawn:
        # A tube can't run beside another: what is left of a line is split where it comes too near.
        free = at(taken, line[:, 0], line[:, 1]) < 0.5
        for a, b in runs(free):
            piece = line[a:b]
            if len(piece) < shortest:
                continue
            bright = _burning(at(contrast, piece[:, 0], piece[:, 1]))
            for first, last, number in _by_tube(piece, rich, turn, s):
                part, whole = piece[first:last], closed and last - first == len(line)
                radius = 1.15 * s * (1 if whole else 0.35 + 0.65 * tapered(len(part), 3 * s))
                glow = np.zeros((height, width), f32)
                pen(glow, part, radius)
                x0, x1 = int(max(part[:, 0].min() - 4 * s, 0)), int(part[:, 0].max() + 4 * s) + 1
                y0, y1 = int(max(part[:, 1].min() - 4 * s, 0)), int(part[:, 1].max() + 4 * s) + 1
                here = glow[y0:y1, x0:x1]
                tubes[y0:y1, x0:x1] = np.maximum(tubes[y0:y1, x0:x1], here[..., None] * bright * lights[number])
                core[y0:y1, x0:x1] = np.maximum(core[y0:y1, x0:x1], here * np.sqrt(bright))
            pen(taken, piece, _SPACING * s)
    # The wall: brick-dark plaster that shows the picture's masses faintly where light falls.
    ghost = np.clip(to_rgb(calm), 0, 1) ** f32(2.2)
    plaster = 1 + 0.10 * sitting.field("plaster", 2.2 * s) + 0.10 * sitting.field("plaster broad", 40 * s)
    light = np.zeros_like(tubes)
    for radius, share in ((1.6, 0.9), (4.5, 1.3), (12, 1.5), (34, 1.7)):
        light += f32(share) * quick_blur(tubes, radius * s)
    wall = _WALL * plaster[..., None] * (0.30 + light * 2.2) + ghost * (0.025 + 0.16 * quick_blur(tubes, 26 * s))
    linear = wall + light * 0.30
    burning = quick_blur(core, 0.5 * s)[..., None]
    linear = linear * (1 - 0.6 * burning) + (tubes * 1.5 + 0.55 * smoothstep(0.5, 1.0, core)[..., None]) * burning
    shown = 1 - np.exp(-1.6 * np.clip(linear, 0, None))
    return to_lab(np.clip(shown, 0, 1).astype(f32) ** f32(1 / 2.2))


LOOK = Look(
    name="neon",
    title="Neon",
    category="made",
    kinds=("photo", "render"),
    description="The picture's lines bent from glowing glass on a dark wall, in the nearest colours that tubes burn in.",
    strengths=(0.45, 0.9),
    paint=paint,
    seconds=0.30,
    handling=Handling(owns_colour=True, deep_trust=0.55, deep_push=0.3),
)
