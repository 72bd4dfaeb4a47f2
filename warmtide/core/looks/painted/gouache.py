"""Gouache: opaque matt colour from a small palette, flat brushes with square, dry-edged strokes.

Sources
-------
1. A. Hertzmann, "Painterly rendering with curved brush strokes of multiple sizes", 1998 (coarse to fine).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Float, f32, summed
from ...maths.blur import quick_blur
from ...maths.filters import brought_out, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ...understanding.palette import CHANNELS, colour_labels, palette
from ..shared.brush import Brush, at, lay, scattered, traced
from ..shared.flatten import crisp, flatten
from ..shared.flow import directions, turned_toward
from ..shared.ground import paper, stretch

_TONED_GROUND = np.array([0.66, 0.025, 0.055], f32)
_COLOURS = 14


@dataclass(frozen=True)
class _Layer:
    """One flat brush: its radius, the outlines it sees, when it is needed, how far its strokes go."""

    radius: float
    outlines: float
    error: float
    detail: float
    stride: float
    most: float
    dry: float
    half: bool


_LAYERS = (
    _Layer(19.0, 5.5, 0.0, 0.0, 0.75, 0.16, 0.55, True),
    _Layer(9.5, 2.8, 0.055, 0.0, 0.85, 0.10, 0.80, True),
    _Layer(4.8, 1.5, 0.060, 0.0, 0.95, 0.07, 0.80, False),
    _Layer(2.2, 0.9, 0.055, 0.010, 1.00, 0.05, 0.35, False),
)


def _mixed(colours: Float) -> Float:
    """The palette as gouache: chalky lights, no black, a little more chroma, lights warm and darks cool."""
    out = colours.copy()
    chroma = np.hypot(out[:, 1], out[:, 2])
    out[:, 1:] *= (0.17 * np.tanh(chroma * 1.22 / 0.17) / (chroma + 1e-6))[:, None]
    out[:, 0] = 0.10 + 0.86 * out[:, 0]
    out[:, 2] += 0.014 * (out[:, 0] - 0.35) - 0.018 * np.clip(0.5 - out[:, 0], 0, 1)
    return out.astype(f32)


def _hand(picture: Float, unit: float, sitting: Sitting) -> Float:
    """Where strokes run in calm places, whatever the brush: a slant of the hand, half turned to the broad forms."""
    height, width = picture.shape[:2]
    hand = cv2.resize(sitting.field("hand", 150 * sitting.scale), (width, height), interpolation=cv2.INTER_AREA)
    broad, _, _ = directions(quick_blur(picture, 5 * unit), 16 * unit)
    return turned_toward((0.35 + 0.5 * hand).astype(f32), broad, np.full_like(hand, 0.5))


def _lay_layer(
    layer: _Layer, name: str, picture: Float, target: Float, canvas: Float, edges: Float, tooth: Float, calm: Float,
    unit: float, sitting: Sitting,
) -> None:  # fmt: skip
    """One flat brush over a canvas whose marks measure `unit` pixels, where the colour is not right yet."""
    radius = layer.radius * unit
    height, width = canvas.shape[:2]
    random = sitting.random(name)
    form, coherence, magnitude = directions(picture, max(radius * 0.8, 2.5))
    follow = smoothstep(0.15, 0.55, coherence) * smoothstep(0.002, 0.008, quick_blur(magnitude, radius * 0.8))
    angles = turned_toward(calm, form, follow)
    xs, ys = scattered(height, width, radius * (0.85 if radius < 3 * unit else 0.95), random)
    if layer.error:
        difference = (target - canvas) * CHANNELS
        error = quick_blur(np.sqrt(summed(difference**2)), radius * 0.35)
        needed = at(error, xs, ys) > layer.error
        if layer.detail:
            needed &= at(quick_blur(magnitude, 2.5 * unit), xs, ys) > layer.detail
        xs, ys = xs[needed], ys[needed]
    if not len(xs):
        return
    strokes = traced(angles, target, xs, ys, 3, radius * layer.stride, layer.most, radius)
    long_enough = strokes.steps >= (2 if layer.half else 1)
    strokes, xs, ys = strokes.chosen(long_enough), xs[long_enough], ys[long_enough]
    count = len(xs)
    if not count:
        return
    colours = at(target, xs, ys).copy()
    colours[:, 0] += random.normal(0, 0.010, count)
    colours[:, 1:] += random.normal(0, 0.004, (count, 2))
    radii = radius * random.uniform(0.7, 1.1, count)
    brush = Brush(opacity=0.985, bristle=0.4, dry=layer.dry, square=True, streak=0.05, relief=0.3)
    lay(canvas, edges, strokes, colours, radii, random.integers(1, 1 << 20, count), brush, tooth)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as gouache. About .3 s at 512 px."""
    s = sitting.scale
    height, width = sitting.height, sitting.width
    source = brought_out(lab, 18 * s)
    source[..., 0] = stretch(np.ascontiguousarray(source[..., 0]), sitting, (0.5, 99.5), (0.08, 0.96), 0.75)
    flat = crisp(flatten(soften(source, 1, 0.06, 2 * s), 4.5 * s, 0.0007, 3), 1.2 * s)
    colours = palette(flat, _COLOURS)
    mixed = _mixed(colours)
    tooth = paper(sitting, 0.9)
    half = (max(width // 2, 8), max(height // 2, 8))
    small = cv2.resize(flat, half, interpolation=cv2.INTER_AREA)
    small_tooth = cv2.resize(tooth, half, interpolation=cv2.INTER_AREA)
    canvas = np.empty_like(small)
    canvas[:] = _TONED_GROUND
    canvas[..., 0] += 0.012 * small_tooth
    edges = np.zeros(small.shape[:2], f32)
    full, calm = False, _hand(small, s / 2, sitting)
    for k, layer in enumerate(_LAYERS):
        if not layer.half and not full:
            canvas = np.ascontiguousarray(cv2.resize(canvas, (width, height), interpolation=cv2.INTER_LINEAR))
            edges = cv2.resize(edges, (width, height), interpolation=cv2.INTER_LINEAR)
            full, calm = True, _hand(flat, s, sitting)
        picture, unit, grain = (flat, s, tooth) if full else (small, s / 2, small_tooth)
        slack = 0.012 if k == len(_LAYERS) - 1 else 0.022
        labels = colour_labels(picture, colours, layer.outlines * unit, 3, slack)
        target = np.ascontiguousarray(mixed[labels])
        _lay_layer(layer, f"layer{k}", picture, target, canvas, edges, grain, calm, unit, sitting)
    rims = np.clip(edges - quick_blur(edges, 2 * s), 0, 1)
    light = canvas[..., 0] - 0.05 * rims + 0.006 * tooth + 0.010 * sitting.field("matt", 30 * s)
    canvas[..., 0] = np.clip(light, 0, 0.985)
    return canvas.astype(f32)


LOOK = Look(
    name="gouache",
    title="Gouache",
    category="painted",
    kinds=("photo", "flat art", "render"),
    description="Opaque matt colour from a palette of fourteen, square flat-brush strokes with dry edges.",
    strengths=(0.35, 0.8),
    paint=paint,
    seconds=0.50,
    handling=Handling(deep_trust=0.75),
)
