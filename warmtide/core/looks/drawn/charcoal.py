"""Charcoal: the side of a stick dragged over toothed paper, rubbed, accented, lights lifted out.

Sources
-------
1. G. Winkenbach, D. Salesin, 1994 (tone by layers of strokes); M. Sousa, J. Buchanan, "Observational models of
   graphite pencil materials", 2000 (what tooth and pressure do to a deposit).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.filters import brought_out, displaced, evened, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.flatten import flatten
from ..shared.flow import directions, ink_lines
from ..shared.ground import paper, stretch
from ..shared.hatching import hatch

_SLANT = -0.95


@dataclass(frozen=True)
class _Pass:
    """Strokes of one kind; `angle` is added to the hand's slant, None follows the form."""

    angle: float | None
    spacing: float
    length: float
    start: float
    reach: float
    pressure: float
    width: float


_PASSES = (
    _Pass(0.0, 5.2, 46, 0.10, 0.60, 0.95, 4.4),
    _Pass(0.28, 4.4, 34, 0.36, 0.50, 1.20, 3.8),
    _Pass(None, 3.6, 22, 0.55, 0.40, 1.50, 3.0),
)


def _strokes(tone: Float, picture: Float, sitting: Sitting) -> Float:
    """Broad strokes, laid at half size since they are soft."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    half = (max(width // 2, 4), max(height // 2, 4))
    small = cv2.resize(tone, half, interpolation=cv2.INTER_AREA)
    form, coherence, _ = directions(picture, 8 * s)
    total = np.zeros((height, width), f32)
    for k, kind in enumerate(_PASSES):
        random = sitting.random(f"pass{k}")
        angles = f32(_SLANT + (kind.angle or 0.0)) + f32(0.18) * sitting.field(f"hand{k}", 90 * s)
        if kind.angle is None:
            follow = smoothstep(0.2, 0.6, coherence)
            angles = 0.5 * np.arctan2(
                (1 - follow) * np.sin(2 * angles) + follow * np.sin(2 * form),
                (1 - follow) * np.cos(2 * angles) + follow * np.cos(2 * form),
            )
        count = int(height * width / (kind.spacing * s * kind.length * s * 0.95))
        xs, ys = random.uniform(0, width, count), random.uniform(0, height, count)
        rows, columns = ys.astype(int), xs.astype(int)
        lengths = kind.length * s / 2 * random.uniform(0.6, 1.3, count)
        widths = kind.width * s / 2 * random.uniform(0.5, 1.3, count)
        pressures = kind.pressure * random.uniform(0.6, 2.0, count)
        bends, seeds = random.normal(0, 0.02, count), random.integers(1, 1 << 20, count)
        on = tone[rows, columns] > kind.start - 0.05
        deposit = np.zeros(small.shape, f32)
        hatch(
            deposit, small, (xs[on] / 2).astype(f32), (ys[on] / 2).astype(f32),
            angles[rows, columns][on].astype(f32), lengths[on].astype(f32), bends[on].astype(f32),
            widths[on].astype(f32), pressures[on].astype(f32), seeds[on], kind.start, kind.reach,
        )  # fmt: skip
        total += cv2.resize(deposit, (width, height), interpolation=cv2.INTER_LINEAR)
    return np.tanh(total * f32(0.5)).astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a charcoal drawing. About .25 s at 512 px."""
    s = sitting.scale
    lab = brought_out(lab, 18 * s)
    flat = flatten(soften(lab, 1, 0.05, 1.8 * s), 3.2 * s, 0.0004, 3)
    light = stretch(np.ascontiguousarray(flat[..., 0]), sitting, (1, 98.5), (0.0, 1.0), 0.95)
    light = np.clip(light + f32(0.45) * (light - quick_blur(light, 24 * s)), 0, 1).astype(f32)
    tone = (np.clip(1 - light, 0, 1) ** 1.25).astype(f32)
    relief = paper(sitting, 0.6)
    ribs = np.sin(
        np.arange(sitting.height, dtype=f32)[:, None] * f32(2 * np.pi / (2.6 * s)) + 0.6 * sitting.field("ribs", 30 * s)
    )
    tooth = 0.75 * sitting.field("tooth", 1.5 * s) + 0.35 * sitting.field("tooth broad", 2.6 * s) + 0.30 * ribs

    rubbed = np.clip(0.55 * quick_blur(tone, 2.2 * s) + 0.45 * tone - 0.05, 0, 1) * (
        0.80 + 0.10 * sitting.field("rubbing", 50 * s)
    )
    body = rubbed * 0.62 + _strokes(tone, flat, sitting) * (0.35 + 0.75 * tone) * 0.85
    # The tooth catches a light touch; deep blacks fill it.
    filled = smoothstep(0.45, 0.95, body.astype(f32))
    cover = np.clip(body * (1 - 0.30 * tooth * (1 - 0.6 * filled)), 0, None)

    lines = ink_lines(
        evened(soften(lab, 1, 0.05, 1.8 * s), 14 * s), 1.25 * max(s, 0.8), 4.5 * s, 0.99, 2.4 * s, 45.0, -0.002
    )
    lines = displaced(lines, 0.6 * s * sitting.field("shake x", 4 * s), 0.6 * s * sitting.field("shake y", 4 * s))
    pressure = np.clip(0.75 + 0.5 * sitting.field("pressure", 22 * s), 0.1, 1.6) * (
        0.30 + 0.9 * quick_blur(tone, 3 * s)
    )
    cover += 1.25 * (1 - lines) * pressure * (1 - 0.30 * tooth)
    lifted = smoothstep(0.86, 0.97, light) * smoothstep(0.03, 0.10, light - quick_blur(light, 8 * s))
    cover *= 1 - 0.85 * quick_blur(lifted, 0.8 * s)

    covered = 1 - np.exp(-1.75 * np.clip(cover, 0, 3))
    sheet = 0.925 + 0.010 * relief + 0.006 * sitting.field("sheet", 60 * s)
    return np.dstack(
        [sheet * (1 - covered) + 0.17 * covered, 0.003 * (1 - covered) + 0.001, 0.020 * (1 - covered) + 0.004 * covered]
    ).astype(f32)


LOOK = Look(
    name="charcoal",
    title="Charcoal",
    category="drawn",
    kinds=("photo", "render", "sketch", "flat art"),
    description="The side of a charcoal stick on toothed paper: rubbed masses, dark accents, lights lifted out.",
    strengths=(0.3, 0.8),
    paint=paint,
    seconds=0.20,
    handling=Handling(owns_colour=True, deep_trust=0.55, deep_push=0.3),
)
