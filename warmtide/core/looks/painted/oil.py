"""Oil: loaded brushes from broad to fine, wet paint that stands and catches the light.

Sources
-------
1. A. Hertzmann, "Painterly rendering with curved brush strokes of multiple sizes", 1998 (coarse to fine).
2. J. Hays, I. Essa, "Image and video based painterly animation", 2004 (relief lit from the side).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Float, f32, summed
from ...maths.blur import quick_blur
from ...maths.filters import brought_out, soften
from ...maths.steps import smoothstep
from ...model.look import Look
from ...model.sitting import Sitting
from ...understanding.palette import CHANNELS
from ..shared.brush import Brush, at, lay, scattered, traced
from ..shared.flatten import flatten
from ..shared.flow import directions, turned_toward
from ..shared.ground import paper, stretch

_TONED_GROUND = np.array([0.42, 0.03, 0.05], f32)


@dataclass(frozen=True)
class _Layer:
    """One brush size: where it goes over the paint beneath, and how its strokes run.

    error : colour difference that asks for a stroke; detail : contrast that does; extra : share laid anyway.
    """

    radius: float
    error: float
    detail: float
    extra: float
    stride: float
    most: float
    dry: float
    half: bool


_LAYERS = (
    _Layer(17.0, 0.0, 0.0, 1.0, 0.75, 0.40, 0.80, True),
    _Layer(9.0, 0.045, 0.003, 0.35, 0.90, 0.22, 0.85, True),
    _Layer(4.6, 0.050, 0.008, 0.10, 1.00, 0.15, 0.80, False),
    _Layer(2.3, 0.050, 0.012, 0.0, 1.05, 0.11, 0.55, False),
)


def _lay_layer(
    k: int, picture: Float, detail: Float, canvas: Float, relief: Float, unit: float, sitting: Sitting
) -> None:
    """One brush size over a canvas whose marks measure `unit` pixels; error is read on the blurred canvas,
    so that a layer doesn't chase the bristles of the one beneath."""
    layer = _LAYERS[k]
    radius = layer.radius * unit
    height, width = canvas.shape[:2]
    random = sitting.random(f"layer{k}")
    reference = np.ascontiguousarray(quick_blur(picture, radius * 0.28), dtype=f32)
    form, coherence, magnitude = directions(reference, max(radius * 0.9, 2.5))
    follow = smoothstep(0.15, 0.5, coherence) * smoothstep(0.002, 0.008, quick_blur(magnitude, radius))
    grown = max(sitting.scale, 1e-3)
    flow = 0.5 + 1.1 * cv2.resize(sitting.field("flow", 130 * grown), (width, height), interpolation=cv2.INTER_AREA)
    wander = 0.35 * cv2.resize(sitting.field("wander", 60 * grown), (width, height), interpolation=cv2.INTER_AREA)
    angles = turned_toward(flow.astype(f32), form, follow) + (wander * (1 - 0.6 * follow)).astype(f32)
    xs, ys = scattered(height, width, radius * (1.0 if k == 0 else 0.85), random)
    if k:
        difference = quick_blur(picture - canvas, radius * 0.45) * CHANNELS
        error = np.sqrt(summed(difference**2))
        needed = (at(error, xs, ys) > layer.error) & (at(quick_blur(magnitude, radius * 0.8), xs, ys) > layer.detail)
        needed |= random.random(len(xs)) < layer.extra * at(detail, xs, ys)
        needed |= random.random(len(xs)) < (0.10 if k == 1 else 0.0)
        xs, ys = xs[needed], ys[needed]
    if not len(xs):
        return
    strokes = traced(angles.astype(f32), reference, xs, ys, 4, radius * layer.stride, layer.most, radius)
    count = len(xs)
    # Strokes of one layer differ in length: some are cut short.
    cut = random.integers(0, 4, count)
    strokes.first[:] = np.minimum(strokes.first + cut // 2, 4)
    strokes.last[:] = np.maximum(strokes.last - (cut + 1) // 2, 4)
    colours = at(reference, xs, ys).copy()
    vary = 0.35 + 0.65 * at(detail, xs, ys)
    colours[:, 0] += random.normal(0, 0.020, count) * vary
    colours[:, 1:] += random.normal(0, 0.009, (count, 2)) * vary[:, None]
    radii = radius * np.exp(random.normal(-0.08, 0.30, count)).clip(0.45, 1.5)
    brush = Brush(opacity=0.96, bristle=layer.dry, dry=layer.dry)
    lay(canvas, relief, strokes, colours, radii, random.integers(1, 1 << 20, count), brush, np.zeros_like(relief))


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as an oil painting. About .25 s at 512 px."""
    s = sitting.scale
    height, width = sitting.height, sitting.width
    lab = brought_out(lab, 18 * s)
    source = lab.copy()
    source[..., 0] = stretch(np.ascontiguousarray(lab[..., 0]), sitting, (0.5, 99.5), (0.06, 0.97), 0.6)
    source[..., 1:] *= f32(1.25)
    picture = flatten(soften(source, 1, 0.08, 2 * s), 3 * s, 0.0004, 2)
    _, _, magnitude = directions(source, 9 * s)
    detail = smoothstep(0.004, 0.014, quick_blur(magnitude, 4 * s))

    half = (max(width // 2, 8), max(height // 2, 8))
    small = cv2.resize(picture, half, interpolation=cv2.INTER_AREA)
    small_detail = cv2.resize(detail, half, interpolation=cv2.INTER_AREA)
    canvas = np.empty_like(small)
    canvas[:] = _TONED_GROUND
    relief = np.zeros(small.shape[:2], f32)
    full = False
    for k, layer in enumerate(_LAYERS):
        if not layer.half and not full:
            canvas = np.ascontiguousarray(cv2.resize(canvas, (width, height), interpolation=cv2.INTER_LINEAR))
            relief = cv2.resize(relief, (width, height), interpolation=cv2.INTER_LINEAR)
            full = True
        if full:
            _lay_layer(k, picture, detail, canvas, relief, s, sitting)
        else:
            _lay_layer(k, small, small_detail, canvas, relief, s / 2, sitting)

    thick = quick_blur(relief, 0.6)
    slope = cv2.Sobel(thick, cv2.CV_32F, 1, 0) * f32(0.65 / 8) + cv2.Sobel(thick, cv2.CV_32F, 0, 1) * f32(0.75 / 8)
    slope = slope * (0.45 + 0.55 * quick_blur(detail, 4 * s))
    shade = np.tanh(slope * 1.5) * 0.085
    gloss = np.clip(np.tanh(slope * 1.4) - 0.45, 0, 1) ** 1.5 * 0.16
    light = canvas[..., 0] * (1 + shade * 1.3) + shade * 0.25 + gloss * (0.3 + 0.7 * canvas[..., 0])
    weave = f32(0.004) * paper(sitting, 0.7)
    canvas[..., 0] = np.clip(light + weave, 0, 1)
    return canvas.astype(f32)


LOOK = Look(
    name="oil",
    title="Oil",
    category="painted",
    kinds=("photo", "flat art", "render"),
    description="Loaded brushes from broad to fine on a toned ground; the paint stands and catches light from the left.",
    strengths=(0.3, 0.75),
    paint=paint,
    seconds=0.25,
)
