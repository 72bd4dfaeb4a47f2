"""Stitch: long and short satin threads along the form, sewn on twill.

Sources
-------
1. X. Chen et al., "Embroidery modeling and rendering", 2012 (see `looks.shared.thread`).
"""

import numpy as np

from ...maths.arrays import Float, Mask, f32
from ...maths.blur import quick_blur
from ...maths.filters import brought_out, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ...understanding.palette import colour_labels, palette
from ..shared.brush import at, scattered, traced
from ..shared.flatten import crisp, flatten
from ..shared.flow import directions, turned_toward
from ..shared.ground import stretch
from ..shared.thread import sew, weave

_COLOURS = 18
_RADIUS, _LENGTH = 1.75, 18.0


def _row_angles(picture: Float, sitting: Sitting) -> Float:
    """Direction of the stitches: one slant all over on calm areas, along the form where there is one."""
    s = sitting.scale
    form, coherence, magnitude = directions(picture, 6 * s)
    slant = np.full(picture.shape[:2], f32(0.6 + sitting.random("slant").normal(0, 0.15)))
    slant += f32(0.15) * sitting.field("slant", 120 * s)
    follow = smoothstep(0.2, 0.6, coherence) * smoothstep(0.002, 0.008, quick_blur(magnitude, 3 * s))
    return turned_toward(slant, form, 0.35 * follow if sitting.flat else follow)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as embroidery. About .3 s at 512 px."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    source = brought_out(lab, 18 * s)
    source[..., 0] = stretch(np.ascontiguousarray(source[..., 0]), sitting, (1, 99), (0.08, 0.94), 0.7)
    source[..., 1:] *= f32(1.2)
    picture = crisp(flatten(soften(source, 1, 0.06, 2 * s), 3.5 * s, 0.0005, 2), 1.2 * s)
    colours = palette(picture, _COLOURS)
    labels = colour_labels(picture, colours, 1.1 * s, 4, 0.012)
    target = np.ascontiguousarray(colours[labels])

    cloth_colour = np.array([0.36, 0.004, 0.012], f32)
    bare: Mask = np.zeros((height, width), bool)
    if sitting.ground is not None:
        # A calm ground stays cloth, in its own colour.
        cloth_colour = np.median(lab[sitting.ground], axis=0).astype(f32)
        bare = sitting.ground & (quick_blur(sitting.ground.astype(f32), 1.2 * s) > 0.75)
    canvas = weave(height, width, max(2.2 * s, 2.0), cloth_colour)
    relief = np.zeros((height, width), f32)
    random = sitting.random("threads")
    angles = _row_angles(picture, sitting)
    # Long stitches fill, short ones then bring the details back.
    for length, radius, most, share in ((_LENGTH, _RADIUS, 0.30, 1.0), (_LENGTH * 0.58, 0.78 * _RADIUS, 0.10, 1.0)):
        xs, ys = scattered(height, width, 0.5 * (2 * radius * s * length * s) ** 0.5, random)
        keep = ~at(bare, xs, ys) & (random.random(len(xs)) < share)
        if length < _LENGTH:
            _, _, magnitude = directions(target, 2 * s)
            keep &= at(quick_blur(magnitude, 1.5 * s), xs, ys) > 0.010
        xs, ys = xs[keep], ys[keep]
        if not len(xs):
            continue
        stride = length * s / 6 * random.uniform(0.8, 1.1)
        strokes = traced(angles, target, xs, ys, 3, stride, most, 2)
        used = strokes.steps >= 1
        strokes, xs, ys = strokes.chosen(used), xs[used], ys[used]
        count = len(xs)
        threads = at(target, xs, ys).copy()
        threads[:, 0] += random.normal(0, 0.012, count)
        radii = max(radius * s, 0.8) * random.uniform(0.85, 1.15, count)
        sew(canvas, relief, strokes, threads, radii, random.uniform(0, 6.28, count), 1.1 / s)
    # Threads shade the cloth and each other.
    shadow = np.clip(quick_blur(relief, 2.2 * s) - relief, 0, 1)
    canvas[..., 0] = np.clip(canvas[..., 0] - 0.16 * shadow, 0, 1)
    return canvas.astype(f32)


LOOK = Look(
    name="stitch",
    title="Stitch",
    category="made",
    kinds=("photo",),
    description="Satin threads along the form, lit and sewn close; a calm ground stays twill.",
    strengths=(0.45, 0.9),
    paint=paint,
    seconds=0.30,
    handling=Handling(portrait=False, finer=True, deep_trust=0.8),
)
