"""Balloon: every part blown up, wrinkled toward its seams, with a lacquered skin."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.nearest import from_nearest
from ...maths.relief import broad, normals
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface
from .casting import scratched
from .look import material
from .workpiece import Workpiece, workpiece


def _wrinkles(piece: Workpiece) -> Float:
    """Folds that run in from a part's border: noise along the border, carried inward."""
    art, u = piece.art, piece.unit
    along = piece.noise("folds", 15) + 0.7 * piece.noise("broad folds", 34)
    carried, distance = from_nearest(along.astype(f32), ~art.solid | art.border)
    folds = blur(carried, 1.6 * u)
    return np.asarray(folds * np.exp(-distance / (17 * u)) * (1 - np.exp(-distance / (4 * u))), f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as balloons. About 1.1 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    most = max(float(art.pillows.max()), 1.0)
    full = piece.thick * (0.55 + 0.45 * min(1.0, 150 * u / most))
    height = 0.92 * full * art.pillows + 0.12 * art.swelling
    height = height + f32(3.6 * u * (1 - 0.6 * max(piece.word("polish"), 0))) * _wrinkles(piece)
    height = height + 1.3 * u * piece.noise("pressure", 160) * smoothstep(0, 40 * u, art.within)
    height = blur(np.where(art.solid & ~art.border, height, f32(0)), 1.5 * u) + 7 * u * blur(art.solid.astype(f32), u)
    colour = piece.painted(piece.albedo(1.12, 0.03, 0.90), 1.0)
    worn = scratched(piece)
    thing = Surface(
        height=height.astype(f32),
        albedo=np.clip(colour * (1 + 0.25 * worn[..., None]), 0.02, 0.9),
        rough=np.clip(piece.rough(0.16) + 0.5 * worn, 0.03, 0.95).astype(f32),
        base=0.05,
        coat=np.clip((0.9 + 0.9 * min(piece.word("polish"), 0)) * (1 - worn), 0, 1).astype(f32),
    )
    ground = piece.ground("paper")
    light = piece.shaded(thing, ground, piece.lamp("studio", (2.1, 2.05, 1.95), 1.0, 0.20), 0.8)
    # Thin rubber glows at its rims and throws its colour on what lies around.
    spill = broad(colour * art.solid[..., None], 26 * u) * (1 - art.cover)[..., None]
    _, _, facing = normals(height.astype(f32))
    light = light + 0.22 * spill * ground.albedo + (art.cover * (1 - facing) ** 2 * 0.22)[..., None] * colour
    return piece.finished(light, 0.60, 0.09)


LOOK = material(
    "balloon",
    "Balloon",
    "Every part blown up, tight and glossy, with folds toward the seams.",
    paint,
    1.1,
)
