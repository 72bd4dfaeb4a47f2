"""Modelling clay: soft parts pressed onto each other, finger marks, a dull sheen."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.relief import broad, normals, rounded
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface
from ..shared.texture import over
from .casting import scratched
from .look import material
from .workpiece import Workpiece, workpiece


def _finger_marks(piece: Workpiece) -> Float:
    """Prints: patches of fine, bent ridges, each the other way."""
    u = piece.unit
    random = piece.random("prints")
    found = np.zeros((piece.height, piece.width), f32)
    if not piece.art.solid.any():
        return found
    rows, columns = np.nonzero(piece.art.deep > 12 * u)
    if not len(rows):
        return found
    for _ in range(22):
        k = int(random.integers(len(rows)))
        x, y = float(columns[k]), float(rows[k])
        wide, turn = random.uniform(30, 46) * u, random.uniform(0, np.pi)
        x0, x1 = max(int(x - 2 * wide), 0), min(int(x + 2 * wide), piece.width)
        y0, y1 = max(int(y - 2 * wide), 0), min(int(y + 2 * wide), piece.height)
        ys, xs = np.mgrid[y0:y1, x0:x1].astype(f32)
        p, q = (xs - x) * np.cos(turn) + (ys - y) * np.sin(turn), (ys - y) * np.cos(turn) - (xs - x) * np.sin(turn)
        shown = smoothstep(0, 1, 1.4 - 1.4 * np.sqrt((p / wide) ** 2 + (q / (0.72 * wide)) ** 2))
        ridge = np.sin(np.hypot(p + 0.4 * wide, 1.5 * q) * (2 * np.pi / (5.2 * u)))
        found[y0:y1, x0:x1] += shown * (0.30 * ridge - 1.1) * f32(u)
    return found


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in modelling clay. About 1.1 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    level = art.by_part(art.levels.astype(f32))
    dome = np.minimum(art.pillows, 60 * u)
    height = 15 * u * rounded(art.deep, 15 * u) + 11 * u * level + 12 * u * rounded(art.within, 16 * u) + 0.20 * dome
    height = height - 4 * u * np.exp(-((art.within / (3.5 * u)) ** 2)) * (art.deep > 6 * u)
    uneven = 2.2 * piece.noise("kneaded", 75) + 1.0 * piece.noise("pressed", 28) + 0.16 * piece.noise("skin", 5)
    uneven = uneven * float(np.exp(0.7 * piece.word("rough") - 0.8 * max(piece.word("polish"), 0)))
    height = height + art.cover * (u * uneven * rounded(art.within, 12 * u)) + art.cover * _finger_marks(piece)
    height = blur(np.where(art.solid, height * f32(piece.thick), f32(0)), 1.7 * u).astype(f32)
    colour = piece.painted(piece.albedo(1.05, 0.02, 0.80), 1.2)
    colour = colour * (1 + 0.05 * piece.noise("mixed", 60, 18, 0.7) + 0.03 * piece.noise("dust", 4))[..., None]
    colour = over(colour, np.broadcast_to(np.array((0.55, 0.52, 0.48), f32), colour.shape), 0.6 * scratched(piece))
    thing = Surface(np.asarray(height), np.clip(colour, 0.01, 0.9), piece.rough(0.52), 0.0, 0.045, 0.05)
    light = piece.shaded(thing, piece.ground("paper"), piece.lamp("window", (2.1, 2.03, 1.9), 1.1, 0.26), 1.25)
    # Light that went in comes out again near by: edges of soft stuff are never quite dark.
    _, _, facing = normals(height)
    light = light + (art.cover * (1 - facing) ** 2 * 0.16)[..., None] * broad(colour, 8 * u)
    return piece.finished(light, 0.70, 0.04)


LOOK = material(
    "clay",
    "Modelling clay",
    "Soft coloured clay pressed together by hand: rounded edges, finger marks, a dull sheen.",
    paint,
    1.1,
)
