"""Chrome: every part blown up and plated, mirroring horizon and lamps; colours are tinted lacquer over the plating."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.relief import rounded
from ...model.sitting import Sitting
from ..shared.shading import Surface
from .casting import brushed, scratched
from .look import material
from .workpiece import workpiece

_SILVER = np.array((0.88, 0.90, 0.93), f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in chrome. About 1.1 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    level = art.by_part(art.levels.astype(f32))
    most = max(float(art.pillows.max()), 1.0)
    # Liquid shapes: what is broad is not higher without end, or it would mirror nothing but the room's ceiling.
    dome = art.pillows * (0.55 + 0.45 * min(1.0, 110 * u / most))
    height = 16 * u * rounded(art.deep, 22 * u) + 0.62 * dome + 4 * u * level + 0.10 * art.swelling
    height = height - 5 * u * np.exp(-((art.within / (4 * u)) ** 2)) * (art.deep > 6 * u)
    height = height + 0.9 * u * piece.noise("swell", 150) * rounded(art.within, 30 * u)
    height = blur(np.where(art.solid, height * f32(0.85 * piece.thick), f32(0)), 2.2 * u)
    # Lacquer lets the plating through: the lighter the colour, the clearer.
    tint = piece.colours.copy()
    grey = np.hypot(tint[:, 1], tint[:, 2]) < 0.035
    tint[:, 0] = np.where(grey, 0.62 + 0.36 * np.clip(tint[:, 0], 0, 1) ** 0.7, 0.50 + 0.42 * np.clip(tint[:, 0], 0, 1))
    tint[:, 1:] *= np.where(grey, 0.3, 1.25)[:, None]
    lacquer = piece.painted(np.clip(linear_of(tint), 0.02, 0.97)) * _SILVER
    worn = scratched(piece)
    thing = Surface(
        height=brushed(piece, height.astype(f32)),
        albedo=np.clip(lacquer * (1 - 0.5 * worn[..., None]), 0.02, 0.97),
        rough=np.clip(piece.rough(0.07) + 0.35 * worn + 0.22 * max(piece.word("brushed"), 0), 0.03, 0.8).astype(f32),
        metal=1.0,
    )
    lamp = piece.lamp("horizon", (2.3, 2.25, 2.15), 0.9, 0.16)
    ground = piece.ground(
        "paper", ("24272c", "d4d6d6", "3a3f47", "c9c2b8")[int(piece.random("ground tone").integers(4))]
    )
    return piece.finished(piece.shaded(thing, ground, lamp, 0.9, view=0.5), 0.80, 0.12)


LOOK = material(
    "chrome",
    "Chrome",
    "Liquid, mirror-plated shapes with tinted lacquer, the horizon and the lamps in them.",
    paint,
    1.1,
    own_colour=True,
)
