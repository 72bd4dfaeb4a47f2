"""Ink comic: a few flat tones, printed dots in the shadow, brushed lines and spotted blacks.

Sources
-------
1. H. Winnemoeller, S. Olsen, B. Gooch, "Real-time video abstraction", 2006 (soft tone steps).
2. H. Kang et al., 2007 (`looks.shared.flow`); L. Xu et al., 2012 (`looks.shared.flatten`).
"""

import cv2
import numpy as np

from ...maths.arrays import Float, Int, f32, summed
from ...maths.blur import quick_blur
from ...maths.colour import to_lab, to_rgb
from ...maths.filters import brought_out, evened, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.features import features
from ..shared.flatten import flatten, soft_labels, tone_steps, without_islands
from ..shared.flow import ink_lines
from ..shared.ground import stretch

_TONES = 5
_PAPER = np.array([0.985, 0.975, 0.945], f32)
_INK = np.array([0.055, 0.05, 0.07], f32)


def _flat_colour(flat: Float, broad: Float, labels: Int, scale: float) -> Float:
    """Tone by label, chroma pulled to a printed range and driven by tone.

    A step between two tones is cut hard only where the picture has an edge; across a slow gradient (sky, wood,
    fur out of focus) the tone runs on, or its contour would lie there as a blot.
    """
    weights = soft_labels(labels, _TONES, 1.3 * scale**0.5)
    steps = sum(weights[k] * f32((k + 0.30) / _TONES + 0.11) for k in range(_TONES))
    gx, gy = cv2.Scharr(broad, cv2.CV_32F, 1, 0) / 32, cv2.Scharr(broad, cv2.CV_32F, 0, 1) / 32
    reach = int(3 * scale) * 2 + 1
    steep = quick_blur(cv2.dilate(np.hypot(gx, gy) * f32(scale), np.ones((reach, reach), np.uint8)), 4 * scale)
    cut = smoothstep(0.004, 0.014, steep)
    running = f32(0.5) * (quick_blur(broad, 2 * scale) * f32(0.95) + f32(0.06)) + f32(0.5) * steps
    tone = cut * steps + (1 - cut) * running
    ab = quick_blur(np.ascontiguousarray(flat[..., 1:]), 0.8 * scale)
    chroma = np.sqrt(summed(ab**2)) + f32(1e-6)
    clipped = np.clip(tone, 0, 1)
    printed = 0.22 * np.tanh(chroma * 1.65 / 0.22) * (0.75 + clipped * (1.15 - clipped))
    ratio = printed / chroma
    return np.dstack([0.09 + 0.90 * clipped, ab[..., 0] * ratio, ab[..., 1] * ratio]).astype(f32)


def _dots(light: Float, scale: float) -> Float:
    """Round dots on a 45 degree screen, growing with the shadow."""
    pitch = 4.4 * scale
    height, width = light.shape
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    half = np.sqrt(0.5)
    u, v = (xs * half + ys * half) / pitch, (ys * half - xs * half) / pitch
    distance = np.sqrt((u - np.round(u)) ** 2 + (v - np.round(v)) ** 2)
    shadow = 1 - smoothstep(0.26, 0.46, light)
    radius = 0.42 * np.sqrt(shadow)
    return (smoothstep(-0.11, 0.11, (radius - distance).astype(f32)) * (shadow > 0.02)).astype(f32)


def _without_specks(ink: Float, texture: Float, scale: float) -> Float:
    """Drop short strokes, and in rough texture longer ones too: fur and leaves are not drawn hair by hair."""
    parts, ids, stats, _ = cv2.connectedComponentsWithStats((ink < 0.5).astype(np.uint8), connectivity=8)
    extent = np.maximum(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT])
    rough = np.bincount(ids.ravel(), texture.ravel(), minlength=parts) / np.maximum(stats[:, cv2.CC_STAT_AREA], 1)
    short = extent < (9 + 380 * np.clip(rough - 0.018, 0, 0.06)) * scale
    short[0] = False
    gone = quick_blur(short[ids].astype(f32), 1.2) > 0.08
    return np.where(gone, f32(1), ink)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as an inked and printed panel. About .35 s at 512 px."""
    s = sitting.scale
    lab = brought_out(lab, 18 * s)
    flat = flatten(soften(lab, 1, 0.06, 2 * s), 4.5 * s, 0.0007)
    broad = stretch(np.ascontiguousarray(flat[..., 0]), sitting, (1, 99), (0.03, 1.0), 0.85)
    labels = tone_steps(quick_blur(broad, 0.8 * s) - f32(0.02), _TONES, 2.6 * s)
    labels = without_islands(labels, _TONES, 170 * s * s)
    colour = _flat_colour(flat, broad, labels, s)
    colour[..., 0] -= f32(0.055) * _dots(quick_blur(broad, 3 * s), s)

    fine = flatten(soften(lab, 1, 0.05, 1.8 * s), 1.8 * s, 0.00006, 2)
    fine = evened(fine, 14 * s)
    thin = ink_lines(fine, 1.05 * s, 4.5 * s, 0.99, 2.4 * s, 60.0, 0.004)
    thick = ink_lines(flat, 2.0 * s, 8 * s, 0.98, 4 * s, 45.0, -0.008)
    ink = np.minimum(smoothstep(0.25, 0.75, thin), smoothstep(0.2, 0.6, thick))
    texture = quick_blur(np.abs(lab[..., 0] - flat[..., 0]), 9 * s)
    ink = _without_specks(ink, texture, s)
    ink *= smoothstep(0.12, 0.15, quick_blur(broad, 1.2 * s))
    if sitting.inset:
        # An eye that the tones have closed is opened again.
        ink = np.minimum(ink, 1 - features(lab, sitting.faces[0]).ink)

    rgb = to_rgb(colour) * _PAPER
    rgb = rgb * ink[..., None] + (1 - ink[..., None]) * _INK
    rgb *= 1 + f32(0.008) * sitting.field("grain", 1.2)[..., None]
    return to_lab(np.clip(rgb, 0, 1).astype(f32))


LOOK = Look(
    name="ink-comic",
    title="Ink comic",
    category="printed",
    kinds=("photo", "render", "flat art", "sketch"),
    description="Brushed ink lines, five flat tones, printed dots in the shadow, spotted blacks.",
    strengths=(0.35, 0.75),
    paint=paint,
    seconds=0.20,
    handling=Handling(least_scale=0.12),
)
