"""Mosaic: square stones that follow the outlines, grout between them.

Sources
-------
1. A. Hausner, "Simulating decorative mosaics", 2001 (square cells along a direction field, by repeated centring).
"""

import math

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.filters import brought_out
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ..shared.areas import enlarged_labels, few_labels, shapes
from ..shared.brush import at, scattered
from ..shared.flow import directions, turned_toward
from ..shared.ground import stretch
from ..shared.owners import owners

_STONE = 9.5
_GROUT = np.array([0.30, 0.004, 0.012], f32)
_ROUNDS = 7
# Size of marks from which joints are as dark as they are; below, stones are too small for it.
_LEAST_JOINTED = 0.48


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a mosaic. About .3 s at 512 px."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    found = shapes(lab, sitting, 12, 1.6, 60, 0.05)
    flat = cv2.resize(found.flat, (width, height), interpolation=cv2.INTER_LINEAR)
    areas = enlarged_labels(few_labels(found.ids), 1.2 * found.scale, (width, height))
    form, coherence, magnitude = directions(flat, 5 * s)
    broad, _, _ = directions(quick_blur(flat, 4 * s), 22 * s)
    follow = smoothstep(0.15, 0.5, coherence) * smoothstep(0.001, 0.006, quick_blur(magnitude, 4 * s))
    angles = turned_toward(broad, form, follow)

    stone = _STONE * s * float(np.exp(sitting.random("size").normal(0, 0.06)))
    random = sitting.random("stones")
    xs, ys = scattered(height, width, stone, random, 0.35)
    turned, belongs = at(angles, xs, ys), at(areas, xs, ys)
    for _ in range(_ROUNDS):
        owner, _ = owners(xs, ys, turned, belongs, areas, stone, 2, 1)
        mine = areas[::2, ::2] == belongs[owner]
        number = owner[mine]
        rows_in, columns_in = np.nonzero(mine)
        size = np.maximum(np.bincount(number, minlength=len(xs)), 1e-6)
        some = size >= 1
        xs = np.where(some, 2 * np.bincount(number, columns_in, len(xs)) / size, xs).astype(f32)
        ys = np.where(some, 2 * np.bincount(number, rows_in, len(ys)) / size, ys).astype(f32)
        turned, belongs = at(angles, xs, ys), at(areas, xs, ys)
    owner, edge = owners(xs, ys, turned, belongs, areas, stone, 1, 2)
    rows_of, columns_of = np.mgrid[0:height, 0:width]

    count = len(xs)
    size = np.maximum(np.bincount(owner.ravel(), minlength=count), 1)
    glass = brought_out(lab, 18 * s)
    glass[..., 0] = stretch(np.ascontiguousarray(glass[..., 0]), sitting, (1, 99), (0.04, 0.98), 0.7)
    glass[..., 1:] *= f32(1.25)
    means = np.stack([np.bincount(owner.ravel(), glass[..., k].ravel(), count) / size for k in range(3)], 1)
    # Stones are cut from a few slabs, and no two of one slab are quite alike.
    means[:, 0] = 0.06 + 0.92 * means[:, 0] + random.normal(0, 0.018, count)
    means[:, 1:] += random.normal(0, 0.006, (count, 2))
    tilt = random.normal(0, 1, (count, 2)) * 0.018
    # In a narrow area the nearest stone of its own may lie far off.
    dx, dy = (np.clip((at_ - middle[owner]) / stone, -0.8, 0.8) for at_, middle in ((columns_of, xs), (rows_of, ys)))
    # A joint far narrower than pixels can show is drawn paler instead.
    gap = 0.95 * max(s, 0.7)
    solid = 1 - f32(min(s / _LEAST_JOINTED, 1.0)) * (1 - smoothstep(0.55 * gap, 1.45 * gap, edge))
    bevel = 1 - smoothstep(1.2 * gap, 2.6 * gap, edge)
    out = means[owner].astype(f32)
    lit = (-0.6 * dx - 0.75 * dy) * bevel * 0.16 + tilt[owner, 0] * dx * 4 + tilt[owner, 1] * dy * 4
    gloss = np.exp(-(((dx + 0.18) ** 2 + (dy + 0.2) ** 2) / 0.05)) * 0.05 * (math.pi / 3)
    out[..., 0] = np.minimum(out[..., 0] + lit + gloss + 0.012 * sitting.field("stone", 2 * s), 1.05)
    grout = _GROUT
    if sitting.ground is not None:
        # On a calm ground dark grout would be the loudest thing in the picture.
        grout = np.median(lab[sitting.ground], axis=0) * f32(0.86)
    bed = grout + np.array([1, 0, 0], f32) * (0.03 * sitting.field("grout", 1.8 * s))[..., None]
    return (bed + (out - bed) * solid[..., None]).astype(f32)


LOOK = Look(
    name="mosaic",
    title="Mosaic",
    category="made",
    kinds=("photo", "render"),
    description="Small square stones in rows that follow the outlines, each a little tilted, dark grout between.",
    strengths=(0.45, 0.9),
    paint=paint,
    seconds=0.30,
    handling=Handling(portrait=False, deep_trust=0.75),
)
