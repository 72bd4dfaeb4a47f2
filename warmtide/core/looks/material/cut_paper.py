"""Cut paper: every part a sheet of its own, lying on the ones below, edges a little lifted, two soft shadows."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.outline import distance_in
from ...maths.relief import broad
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface
from ..shared.texture import grain
from .look import material
from .workpiece import Workpiece, workpiece


def _sheets(piece: Workpiece) -> Float:
    """Heights of the stacked sheets, each lifted at its edge by its own amount."""
    art, u = piece.art, piece.unit
    sheet = 14 * u * piece.thick
    random = piece.random("lift")
    height = np.zeros((piece.height, piece.width), f32)
    lift = grain(piece.height, piece.width, 240 * u, random)
    level = art.by_part(art.levels.astype(f32))
    for k in range(1, int(art.levels.max(initial=1)) + 1):
        stack = level >= k
        edge = distance_in(stack)
        curl = np.exp(-edge / (26 * u)) * (2.0 + 1.6 * lift) * u * piece.thick
        height += np.where(stack, sheet + np.maximum(curl, 0), 0)
    # Two sheets of one height meet in a cut: a hair between them, no step.
    return np.asarray(height - 1.2 * u * np.exp(-((art.within / (1.4 * u)) ** 2)) * art.solid, f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in cut paper. About 1.0 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    tooth = piece.clouds("tooth", 13, 4, 0.7)
    fibres = smoothstep(1.9, 2.6, piece.noise("fibres", 30, 2.2, 0.5)) - smoothstep(
        1.9, 2.6, piece.noise("fibres too", 30, 2.2, 2.0)
    )
    height = blur(_sheets(piece), 0.7 * u)
    height = height + art.cover * 0.34 * u * tooth * float(np.exp(0.8 * piece.word("rough")))
    colour = piece.painted(piece.albedo(1.0, 0.02, 0.88), 0.5)
    colour = colour * (1 + 0.020 * tooth + 0.03 * fibres + 0.02 * piece.noise("dyed", 200))[..., None]
    worn = max(piece.word("wear"), 0)
    if worn > 0:
        # Rubbed edges show the paper's white core, folds run across.
        white = worn * np.exp(-art.within / (4 * u)) * smoothstep(-0.5, 1.2, piece.noise("rubbed", 30))
        white = np.maximum(white, worn * smoothstep(0.988, 1.0, 1 - np.abs(piece.noise("folds", 420)) * 0.35))
        colour = colour + (0.8 - colour) * np.clip(white, 0, 1)[..., None]
    ground = piece.ground("paper")
    thing = Surface(height.astype(f32), np.clip(colour, 0.01, 0.92), piece.rough(0.95), 0.0, 0.02)
    sharp = piece.lamp("window", (1.5, 1.45, 1.36), 1.05, 0.12)
    soft = piece.lamp("window", (0.75, 0.74, 0.75), 0.0, 0.55)
    light = piece.shaded(thing, ground, sharp, 1.3) + piece.shaded(thing, ground, soft, 0.0, reach=400)
    light = light + 0.05 * broad(light, 30 * u)
    return piece.finished(light, 0.66, 0.0)


LOOK = material(
    "cut-paper",
    "Cut paper",
    "Coloured sheets cut out and laid on each other, edges lifted, soft shadows between.",
    paint,
    1.2,
)
