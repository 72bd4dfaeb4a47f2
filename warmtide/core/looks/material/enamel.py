"""Enamel pin: parts filled with hard enamel between raised metal walls, pinned on denim."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.relief import rounded
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface
from ..shared.texture import over
from .casting import scratched
from .look import material
from .workpiece import workpiece

_METALS = ((1.0, 0.70, 0.34), (0.90, 0.89, 0.86), (0.86, 0.52, 0.36), (0.16, 0.16, 0.17))
# Half the width of a wall, and of the rim around the whole, in units.
_WALL, _RIM = 4.6, 9.0


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as an enamel pin. About 1.2 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    thick = f32(piece.thick)
    # In a part that is hardly wider than its walls the walls give way, or there would be no colour left.
    room = np.minimum(1, blur(np.minimum(art.pillows, 40 * u), 6 * u) / (14 * u) + 0.25)
    wall = np.maximum(_WALL * u * room - art.within, _RIM * u * np.maximum(room, 0.6) - art.deep)
    metal = smoothstep(-0.9 * u, 0.9 * u, wall) * art.cover
    plate = 15 * u * rounded(art.deep, 9 * u)
    # Enamel climbs its walls a little and sinks in the middle as it sets.
    dip = 2.2 * u * np.exp(-np.maximum(-wall, 0) / (7 * u)) - 1.3 * u
    walls = 3.4 * u * rounded(np.maximum(wall, 0), 3.6 * u)
    height = (plate + metal * walls + (1 - metal) * dip) * thick
    height = height + art.cover * 0.35 * u * piece.noise("set", 120)
    height = blur(np.where(art.solid, height, f32(0)), 0.9 * u)
    colour = piece.painted(piece.albedo(1.12, 0.012, 0.86), 0.6)
    colour = colour * (1 + 0.03 * piece.noise("pigment", 90))[..., None]
    bubbles = smoothstep(2.7, 3.2, piece.noise("bubbles", 5))
    alloy = np.array(_METALS[int(piece.random("walls").choice(4, p=(0.5, 0.25, 0.15, 0.1)))], f32)
    worn = scratched(piece)
    bright = alloy * (0.95 + 0.05 * piece.clouds("metal", 40)[..., None])
    albedo = over(colour * (1 - 0.25 * bubbles[..., None]), bright, metal)
    fill = (1 - metal) * (1 - worn)
    thing = Surface(
        height=height.astype(f32),
        albedo=np.clip(albedo * (1 - 0.15 * worn[..., None]), 0.008, 0.98),
        rough=np.clip(metal * piece.rough(0.20) + (1 - metal) * piece.rough(0.10) + 0.4 * worn, 0.03, 0.9).astype(f32),
        metal=metal.astype(f32),
        coat=np.clip(fill * (1 + 0.9 * min(piece.word("polish"), 0)), 0, 1).astype(f32),
    )
    lamp = piece.lamp("studio", (2.2, 2.12, 2.0), 1.0, 0.16)
    return piece.finished(piece.shaded(thing, piece.ground("denim"), lamp, 1.0, view=0.5), 0.66, 0.10)


LOOK = material(
    "enamel",
    "Enamel pin",
    "Glossy enamel between raised metal lines, as a pin on cloth.",
    paint,
    1.2,
)
