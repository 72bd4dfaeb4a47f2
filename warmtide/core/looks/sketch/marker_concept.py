"""Marker concept: a sketch filled with layers of marker in three tones, whites left open, gel pen on the edges."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.streaks import marker_streaks
from .sitting import board, concept


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a sketch (h, w, 3) OKLab in marker. About .4 s at 512 px, 1 s more once for its areas."""
    desk = board(lab, sitting)
    sketch, u = desk.sketch, desk.unit
    tone = desk.tone()
    random = sitting.random("angle")
    angle = float(-0.62 + random.normal(0, 0.12)) * (-1 if random.random() < 0.3 else 1)
    first, second = (
        marker_streaks(sitting, name, desk.height, desk.width, u, angle + turn)
        for name, turn in (("first", 0.0), ("second", 0.25))
    )
    colour = desk.by_area(desk.colours, 0.4)
    # A marker doesn't stop at the line to a hair: it ends a little before it here, a little after it there.
    reach = (sketch.border + 2.0 * u * desk.noise("edge", 22)) / u
    filled = smoothstep(0.4, 1.8, reach) * (sketch.areas > 0)
    spill = blur(((sketch.areas > 0) & (sketch.border < 3 * u)).astype(f32), u) * smoothstep(
        0.9, 1.6, desk.noise("spill", 34)
    )
    lit = smoothstep(0.74, 0.84, tone + 0.05 * desk.noise("left", 44, 10, angle))
    dense = 1.0 + first
    dense = dense + (0.55 + second) * (1 - smoothstep(0.46, 0.54, tone + 0.04 * desk.noise("mid", 30, 8, angle)))
    dense = dense + (0.60 + second) * (1 - smoothstep(0.26, 0.34, tone + 0.04 * desk.noise("deep", 26, 8, angle)))
    amount = np.clip(filled * (1 - 0.86 * lit) + 0.6 * spill, 0, 1) * dense
    paper = np.zeros_like(colour)
    paper[..., 0] = 0.975 + 0.004 * desk.noise("tooth", 2.2)
    paper[..., 2] = 0.004
    # Ink lies over ink: each layer takes its share of the light again.
    base = np.clip(colour[..., 0], 0.2, 0.97)
    out = paper.copy()
    out[..., 0] = paper[..., 0] * np.power(base / 0.975, np.clip(amount * 0.9, 0, 2.6))
    out[..., 1:] += colour[..., 1:] * np.clip(amount, 0, 1.35)[..., None]
    shadow = smoothstep(0.25, 0.5, desk.ground_shadow() + 0.10 * first)
    out[..., 0] -= 0.22 * shadow * (1 + first)
    out[..., 2] -= 0.006 * shadow
    ink = smoothstep(0.18, 0.62, sketch.strokes.ink) * smoothstep(0.10, 0.32, sketch.strokes.line)
    outer = blur(((sketch.areas > 0) != (blur((sketch.areas > 0).astype(f32), 1.4 * u) > 0.5)).astype(f32), 0.6)
    nx, ny, _ = sketch.normal
    turned = smoothstep(-0.1, 0.4, -(nx * desk.sun[0] + ny * desk.sun[1]))
    ink = np.maximum(
        ink, np.exp(-((sketch.border / ((1.0 + 0.9 * turned) * u)) ** 2)) * (0.75 + 0.15 * desk.noise("hand", 60))
    )
    ink = np.clip(np.maximum(ink, outer), 0, 1)
    out[..., 0] += (0.14 - out[..., 0]) * 0.92 * ink
    out[..., 1:] *= (1 - 0.9 * ink)[..., None]
    # White gel on edges that face the light.
    gel = (
        np.exp(-(((sketch.border - 3.2 * u) / (0.8 * u)) ** 2))
        * smoothstep(0.66, 0.8, tone)
        * smoothstep(0.2, 0.9, desk.noise("gel", 70))
        * (sketch.areas > 0)
    )
    out[..., 0] += (0.99 - out[..., 0]) * 0.9 * gel * (1 - ink)
    return np.asarray(out, f32)


LOOK = concept(
    "marker-concept",
    "Marker concept",
    "Your sketch filled with layers of marker in three tones, whites left open, highlights in gel pen.",
    paint,
    0.4,
)
