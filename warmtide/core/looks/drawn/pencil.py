"""Pencil: four layers of hatching over a rubbed tone, with searching contours.

Sources
-------
1. C. Lu, L. Xu, J. Jia, "Combining sketch and tone for pencil drawing production", 2012 (line and tone apart).
2. G. Winkenbach, D. Salesin, "Computer-generated pen-and-ink illustration", 1994 (layers of strokes by tone).
"""

from dataclasses import dataclass

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.filters import brought_out, displaced, evened, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.flow import directions, ink_lines
from ..shared.ground import paper, stretch
from ..shared.hatching import hatch

_SLANT = -0.85


@dataclass(frozen=True)
class _Layer:
    spacing: float
    length: float
    start: float
    reach: float
    pressure: float
    width: float


_LAYERS = (
    _Layer(2.6, 34, 0.10, 0.55, 0.55, 0.85),
    _Layer(2.4, 20, 0.22, 0.50, 0.70, 0.85),
    _Layer(2.6, 24, 0.42, 0.40, 0.75, 0.90),
    _Layer(2.0, 14, 0.60, 0.35, 1.10, 1.00),
)


def _at(field: Float, xs: Float, ys: Float) -> Float:
    rows, columns = field.shape
    return field[np.clip(ys, 0, rows - 1).astype(int), np.clip(xs, 0, columns - 1).astype(int)]


def _hatching(tone: Float, form: Float, coherence: Float, sitting: Sitting) -> Float:
    """Strokes in loose parallel rows; alternate layers follow the form where it is clear."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    deposit = np.zeros((height, width), f32)
    drift = 0.16 * sitting.field("drift", 80 * s)
    follow = smoothstep(0.2, 0.6, coherence) * 0.75
    along = 0.5 * np.arctan2(
        (1 - follow) * np.sin(2 * _SLANT) + follow * np.sin(2 * form),
        (1 - follow) * np.cos(2 * _SLANT) + follow * np.cos(2 * form),
    )
    angles = (_SLANT + drift, along + 0.5 * drift, _SLANT + 1.15 + drift, along + 0.45)
    for k, (layer, field) in enumerate(zip(_LAYERS, angles, strict=True)):
        random = sitting.random(f"layer{k}")
        spacing, length = layer.spacing * s, layer.length * s
        count = int(height * width / (spacing * length * 0.62))
        xs, ys = random.uniform(0, width, count).astype(f32), random.uniform(0, height, count).astype(f32)
        angle = _at(field.astype(f32), xs, ys)
        position = -xs * np.sin(angle) + ys * np.cos(angle)
        to_row = (np.round(position / spacing) * spacing - position) * 0.75
        xs, ys = (xs - np.sin(angle) * to_row).astype(f32), (ys + np.cos(angle) * to_row).astype(f32)
        angle = angle + random.normal(0, 0.05, count).astype(f32)
        lengths = (length * random.uniform(0.6, 1.25, count)).astype(f32)
        widths = (layer.width * s**0.6 * random.uniform(0.8, 1.25, count)).astype(f32)
        pressures = (layer.pressure * random.uniform(0.7, 1.3, count)).astype(f32)
        bends, seeds = random.normal(0, 0.02, count).astype(f32), random.integers(1, 1 << 20, count)
        on = _at(tone, xs, ys) > layer.start - 0.12
        hatch(
            deposit, tone, xs[on].astype(f32), ys[on].astype(f32), angle[on].astype(f32), lengths[on], bends[on],
            widths[on], pressures[on], seeds[on], layer.start, layer.reach,
        )  # fmt: skip
    return deposit


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a pencil drawing. About .2 s at 512 px."""
    s = sitting.scale
    lab = brought_out(lab, 18 * s)
    soft = soften(lab, 2, 0.05, 2.5 * s)
    light = stretch(np.ascontiguousarray(soft[..., 0]), sitting, (1, 98), (0.02, 1.0), 0.95)
    light = np.clip(light + f32(0.25) * (light - quick_blur(light, 20 * s)), 0, 1).astype(f32)
    tone = (np.clip(1 - light, 0, 1) ** 1.35).astype(f32)
    form, coherence, _ = directions(soft, 7 * s)
    strokes = _hatching(tone, form, coherence, sitting)
    rubbed = np.clip(tone - 0.06, 0, 1) * 0.62
    relief = paper(sitting, 0.8)

    edges = evened(soften(lab, 1, 0.05, 1.8 * s), 14 * s)
    ink = ink_lines(edges, 0.9 * max(s, 0.8), 4 * s, 0.99, 2.4 * s, 38.0, -0.003)
    contours = np.zeros_like(tone)
    for k, weight in enumerate((1.0, 0.5)):
        reach = (0.5 + 0.7 * k) * s
        dx, dy = sitting.field(f"search{k} x", 26 * s), sitting.field(f"search{k} y", 26 * s)
        pressure = np.clip(0.85 + 0.4 * sitting.field(f"search{k}", 30 * s), 0.2, 1.4)
        contours += (1 - displaced(ink, dx * reach, dy * reach)) * f32(weight) * pressure
    graphite = (0.85 * strokes + rubbed + 1.35 * contours) * np.clip(1 - 0.30 * relief, 0.15, 1.9)
    covered = 1 - np.exp(-0.78 * graphite)
    sheet = 0.962 + 0.006 * relief
    return np.dstack(
        [sheet * (1 - covered) + 0.29 * covered, 0.001 - 0.001 * covered, 0.009 * (1 - covered) - 0.003 * covered]
    ).astype(f32)


LOOK = Look(
    name="pencil",
    title="Pencil",
    category="drawn",
    kinds=("photo", "render", "sketch", "flat art"),
    description="Graphite on white paper: hatching in layers that follow the form, rubbed tone, searching contours.",
    strengths=(0.3, 0.75),
    paint=paint,
    seconds=0.12,
    handling=Handling(owns_colour=True, deep_trust=0.55, deep_push=0.25),
)
