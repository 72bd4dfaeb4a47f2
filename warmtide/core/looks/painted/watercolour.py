"""Watercolour: layered glazes on paper.

Sources
-------
1. C. Curtis et al., "Computer-generated watercolor", 1997 (what pigment does: rims, granulation, back-runs).
2. A. Bousseau et al., "Interactive watercolor rendering with temporal coherence and abstraction", 2006
   (pigment density as C - (C - C^2)(d - 1)).
"""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.colour import to_lab, to_rgb
from ...maths.filters import brought_out, displaced, evened, soften
from ...maths.steps import eased, smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.flow import directions, ink_lines
from ..shared.ground import paper, stretch

_GLAZES = ((0.93, 0.085), (0.80, 0.115), (0.66, 0.13), (0.52, 0.135), (0.38, 0.14), (0.25, 0.13))
_PAPER = np.array([0.975, 0.965, 0.935], f32)
_UNDERDRAWING = 0.35


def _glaze(light: Float, relief: Float, wet: Float, sitting: Sitting) -> tuple[Float, Float]:
    """Six glazes, each with its own wobble and wet or dry edge: lightness and the dark rims they leave."""
    s = sitting.scale
    tone = np.ones_like(light)
    rims = np.zeros_like(light)
    for k, (threshold, opacity) in enumerate(_GLAZES):
        dx = 1.6 * s * sitting.field(f"glaze{k} x", 16 * s) + 1.2 * s * sitting.field(f"glaze{k} x broad", 60 * s)
        dy = 1.6 * s * sitting.field(f"glaze{k} y", 16 * s) + 1.2 * s * sitting.field(f"glaze{k} y broad", 60 * s)
        here = displaced(light, (dx + 0.45 * relief) * 0.6, (dy + 0.45 * relief) * 0.6)
        here = here + f32(0.018) * sitting.field(f"glaze{k} tone", 24 * s)
        width = 0.025 + 0.16 * wet * (0.5 if k > 3 else 1)
        t = np.clip(((threshold - here) / width + 1) / 2, 0, 1)
        mask = eased(t).astype(f32)
        rim = np.clip(mask - quick_blur(mask, 2.6 * s), 0, 1) * mask + 0.6 * np.clip(
            mask - quick_blur(mask, 1.2 * s), 0, 1
        )
        tone -= f32(opacity) * mask * (1 + f32(0.10) * sitting.field(f"glaze{k} pool", 40 * s))
        strength = 0.75 + 0.25 * sitting.field(f"glaze{k} rim", 50 * s)
        rims += rim * (1 - 0.85 * wet) * strength * (1.0 if k < 4 else 0.6)
    return tone, (0.34 * np.tanh(rims / 0.34)).astype(f32)


def _turbulence(sitting: Sitting) -> Float:
    total = np.zeros((sitting.height, sitting.width), f32)
    for octave in range(4):
        total += f32(0.65**octave) * sitting.field(f"turbulence{octave}", max(80 * sitting.scale / 2**octave, 1))
    return (total / total.std()).astype(f32)


def _bare_paper(soft: Float, light: Float, relief: Float, sitting: Sitting) -> Float:
    """Where the brush left paper: gaps along edges, dry brush in the lights. On a flat ground, none."""
    s = sitting.scale
    _, _, magnitude = directions(soft, 1.5 * s)
    edge = smoothstep(0.035, 0.085, quick_blur(magnitude, 0.9 * s))
    gap = edge * smoothstep(0.35, 1.1, sitting.field("gaps", 34 * s) + f32(0.25) * relief)
    dry = smoothstep(2.5, 3.1, f32(0.75) * relief + f32(1.1) * sitting.field("dry", 34 * s))
    dry *= smoothstep(0.45, 0.8, light)
    return np.clip(0.85 * gap + 0.5 * dry, 0, 1).astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as watercolour. About .3 s at 512 px."""
    s = sitting.scale
    lab = brought_out(lab, 18 * s)
    soft = soften(soften(lab, 2, 0.06, 3.5 * s), 1, 0.045, 3 * s)
    light = stretch(np.ascontiguousarray(soft[..., 0]), sitting, (1, 96), (0.17, 1.0), 0.85)
    relief = paper(sitting, 0.9)
    wet = smoothstep(-0.2, 1.1, sitting.field("wet", 70 * s))
    tone, rims = _glaze(light, relief, wet, sitting)

    # Wet paint runs, but a small figure must not run away: little where the wash is dry.
    spread = (0.10 + 0.45 * wet)[..., None]
    diffused = (1 - spread) * soft + spread * quick_blur(soft, 4 * s)
    dx, dy = 2.2 * s * sitting.field("bleed x", 30 * s), 2.2 * s * sitting.field("bleed y", 30 * s)
    chroma = displaced(np.ascontiguousarray(diffused[..., 1:], dtype=f32), dx, dy) * f32(1.28)
    body = displaced((diffused[..., 0] * 0.5 + light * 0.5).astype(f32), dx * 0.5, dy * 0.5)
    light_out = np.clip(tone * 0.42 + (0.06 + 0.94 * body) * 0.58, 0, 1)
    # Two pigments part a little; chroma goes to paper in the highlights.
    a = chroma[..., 0] + 0.010 * sitting.field("pigment a", 55 * s)
    b = chroma[..., 1] + 0.010 * sitting.field("pigment b", 45 * s)
    keep = 1 - 0.6 * smoothstep(0.90, 0.985, light_out.astype(f32))
    wash = np.dstack([light_out, a * keep, b * keep]).astype(f32)

    colour = np.clip(to_rgb(wash), 0.005, 0.995)
    ring = np.exp(-(((sitting.field("back-run", 95 * s) - 0.5) / 0.05) ** 2))
    ring *= smoothstep(-0.3, 0.8, sitting.field("back-run where", 120 * s))
    dark = 1 - wash[..., 0]
    density = 0.93 + 0.15 * _turbulence(sitting) - 0.12 * relief * (0.14 + 0.95 * dark) + 2.0 * rims + 0.30 * ring
    density = np.clip(density, 0.15, 2.1)[..., None]
    colour = np.clip(colour - (colour - colour * colour) * (density - 1), 0, 1)

    bare = _bare_paper(soft, wash[..., 0], relief, sitting)[..., None]
    colour = (colour * (1 - bare) + bare * _PAPER) * _PAPER
    drawing = ink_lines(evened(soften(lab, 1, 0.05, 1.6 * s), 14 * s), max(s, 0.8), 3.5, 0.99, 2.0, 45.0, -0.003)
    drawing = displaced(drawing, dx * 0.25, dy * 0.25)
    lead = (1 - drawing) * _UNDERDRAWING * np.clip(0.75 - 0.25 * relief, 0, 1)
    colour = colour * (1 - lead[..., None] * np.array([0.78, 0.80, 0.78], f32))
    shade = cv2.Sobel(relief, cv2.CV_32F, 1, 0) + cv2.Sobel(relief, cv2.CV_32F, 0, 1)
    colour = np.clip(colour * (1 + f32(0.007) * shade[..., None]), 0, 1)
    return to_lab(colour.astype(f32))


LOOK = Look(
    name="watercolour",
    title="Watercolour",
    category="painted",
    kinds=("photo", "render", "sketch", "flat art"),
    description="Transparent washes on rough paper, with dark rims, granulation and a light pencil drawing.",
    strengths=(0.3, 0.7),
    paint=paint,
    seconds=0.16,
    handling=Handling(least_scale=0.12),
)
