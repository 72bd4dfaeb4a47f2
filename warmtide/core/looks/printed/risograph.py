"""Risograph: three transparent inks, two dot screens and one of grain, printed slightly out of register.

Sources
-------
1. J. Yule, "Principles of color reproduction", 1967 (densities of transparent inks add).
2. D. Lee, H. Seung, "Algorithms for non-negative matrix factorization", 2001 (projected steps for amounts that
   can't be negative).
"""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.colour import to_lab, to_rgb
from ...maths.filters import brought_out, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.flatten import flatten
from ..shared.ground import paper, stretch

_SETS = (
    ((1.00, 0.28, 0.62), (0.00, 0.40, 0.72), (1.00, 0.88, 0.10)),
    ((0.95, 0.25, 0.22), (0.00, 0.45, 0.45), (1.00, 0.80, 0.25)),
    ((1.00, 0.42, 0.18), (0.16, 0.25, 0.55), (1.00, 0.84, 0.30)),
)
_PAPER = np.array([0.965, 0.955, 0.925], f32)
# Screen of each drum: angle, or None for grain; how strongly the drum prints.
_DRUMS = ((0.26, 1.05), (1.31, 0.95), (None, 0.90))
_PITCH = 3.2
_OVERSAMPLED = 2


def _separated(rgb: Float, inks: Float) -> Float:
    """Amount of each ink (h, w, 3) whose densities add up to the picture's, none negative."""
    densities = -np.log(np.clip(inks, 0.06, 0.97))
    wanted = -np.log(np.clip(rgb, 0.02, 1)).reshape(-1, 3)
    amounts = np.maximum(wanted @ np.linalg.inv(densities), 0)
    rate = 0.63 / np.trace(densities @ densities.T)
    for _ in range(14):
        amounts = np.maximum(amounts - rate * ((amounts @ densities - wanted) @ densities.T), 0)
    return amounts.reshape(rgb.shape).astype(f32)


def _screen(drum: int, angle: float | None, sitting: Sitting) -> Float:
    """Threshold 0..1 at twice the size: a grid of dots, or grain."""
    height, width = sitting.height * _OVERSAMPLED, sitting.width * _OVERSAMPLED
    fine = Sitting(sitting.look, sitting.seed, height, width, cache=sitting.cache)
    pitch = _PITCH * sitting.scale**0.5
    if angle is None:
        return f32(0.5) + f32(0.22) * fine.field("grain", 1.3 * _OVERSAMPLED * sitting.scale**0.5)
    ys, xs = np.mgrid[0:height, 0:width].astype(f32) / f32(_OVERSAMPLED)
    u = (xs * np.cos(angle) + ys * np.sin(angle)) / pitch
    v = (ys * np.cos(angle) - xs * np.sin(angle)) / pitch
    dots = np.cos(2 * np.pi * u) + np.cos(2 * np.pi * v)
    return (0.5 + 0.25 * dots + 0.05 * fine.field(f"dots{drum}", 2.0 * _OVERSAMPLED)).astype(f32)


def _printed(amount: Float, drum: int, relief: Float, sitting: Sitting) -> Float:
    """Cover 0..1 of one drum: screened, shifted against the others, with the film's unevenness and pinholes."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    angle, strength = _DRUMS[drum]
    tone = np.clip(amount * f32(strength), 0, 1) ** 0.85
    size = (width * _OVERSAMPLED, height * _OVERSAMPLED)
    large = cv2.resize(tone.astype(f32), size, interpolation=cv2.INTER_LINEAR)
    dots = smoothstep(-0.10, 0.10, large * f32(1.12) - f32(0.03) - _screen(drum, angle, sitting))
    cover = cv2.resize(dots, (width, height), interpolation=cv2.INTER_AREA) * smoothstep(0.02, 0.06, tone.astype(f32))
    random = sitting.random(f"register{drum}")
    (dx, dy), turn = random.normal(0, 1.1 * s, 2), random.normal(0, 0.0025)
    shift = np.array([[1, -turn, dx + turn * height / 2], [turn, 1, dy - turn * width / 2]], f32)
    cover = cv2.warpAffine(cover, shift, (width, height), borderMode=cv2.BORDER_REPLICATE)
    film = 0.90 + 0.07 * sitting.field(f"film{drum}", 3 * s) + 0.05 * sitting.field(f"film{drum} broad", 40 * s)
    holes = smoothstep(2.5, 3.0, sitting.field(f"holes{drum}", 1.6 * s) + f32(0.3) * relief)
    return (cover * np.clip(film - 0.05 * relief, 0, 1) * (1 - 0.8 * holes)).astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a three-ink print. About .25 s at 512 px."""
    s = sitting.scale
    source = brought_out(lab, 18 * s)
    source[..., 0] = stretch(np.ascontiguousarray(source[..., 0]), sitting, (1, 98), (0.06, 1.0), 0.9)
    flat = flatten(soften(source, 1, 0.05, 1.5 * s), 3 * s, 0.0004, 3)
    picture = flat + f32(0.35) * (source - flat)
    light = np.ascontiguousarray(picture[..., 0])
    picture[..., 0] = np.clip(light + f32(0.3) * (light - quick_blur(light, 20 * s)), 0, 1)
    picture[..., 1:] *= f32(1.15)
    inks = np.array(_SETS[int(sitting.random("inks").integers(0, len(_SETS)))], f32)
    amounts = _separated(to_rgb(picture), inks)
    relief = paper(sitting, 0.8)
    sheet = _PAPER * (1 + f32(0.008) * relief)[..., None]
    for drum in range(len(_DRUMS)):
        cover = _printed(np.ascontiguousarray(amounts[..., drum]), drum, relief, sitting)[..., None]
        # Ink is transparent: it filters what lies beneath.
        sheet = sheet * (1 - cover + cover * inks[drum])
    return to_lab(np.clip(sheet, 0, 1).astype(f32))


LOOK = Look(
    name="risograph",
    title="Risograph",
    category="printed",
    kinds=("photo", "flat art", "render"),
    description="Three bright transparent inks in dots and grain on cream paper, a little out of register; the seed picks the inks.",
    strengths=(0.35, 0.8),
    paint=paint,
    seconds=0.20,
    handling=Handling(owns_colour=True, least_scale=0.12),
)
