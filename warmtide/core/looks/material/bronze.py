"""Bronze: the art cast as one plate, green patina where air stands still, bare metal where hands have been, on slate."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface
from ..shared.texture import over
from .casting import brushed, cast
from .look import material
from .workpiece import workpiece

_METAL = np.array((0.72, 0.43, 0.20), f32)
_BARE = np.array((0.95, 0.66, 0.36), f32)
_PATINAS = ((0.10, 0.24, 0.20), (0.07, 0.17, 0.19), (0.13, 0.19, 0.11), (0.06, 0.055, 0.05))


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in bronze. About 1.3 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    plate = cast(piece, 1.15)
    tone = 0.72 + 0.34 * np.clip((piece.colours[:, 0] - 0.3) / 0.6, 0, 1)
    worn = smoothstep(0.2, 1.1, plate.ridge)
    metal = (
        over(_METAL * (0.92 + 0.08 * piece.clouds("tone", 120)[..., None]), _BARE, worn)
        * piece.painted(tone)[..., None]
    )
    # Patina gathers in hollows and is rubbed off ridges; a polished cast has little, an old one much.
    age = 0.8 + 0.7 * piece.word("wear") - 0.7 * piece.word("polish")
    spread = piece.clouds("patina", 150, 5, 0.5) + 2.2 * plate.hollow - 1.6 * plate.ridge
    patina = np.clip(smoothstep(0.16, 0.50, plate.hollow + 0.05 * piece.clouds("dirt", 30)) + 0.5 * plate.pits, 0, 1)
    patina = np.clip(patina * min(age + 0.2, 1) + max(age, 0) * smoothstep(-0.1, 1.3, spread), 0, 1)
    colour = np.array(_PATINAS[int(piece.random("patina colour").choice(4, p=(0.5, 0.2, 0.2, 0.1)))], f32)
    salts = np.clip(colour * (1 + 0.3 * piece.clouds("salts", 40)[..., None]), 0.005, 1)
    rough = 0.26 + 0.07 * piece.clouds("rough", 60) - 0.05 * np.clip(plate.ridge, 0, 1)
    thing = Surface(
        height=brushed(piece, plate.height),
        albedo=np.clip(over(metal, salts, 0.92 * patina), 0, 1),
        rough=np.clip(piece.rough(0.26) / 0.26 * rough + 0.5 * patina, 0.05, 0.95).astype(f32),
        metal=(1 - 0.92 * patina).astype(f32),
    )
    lamp = piece.lamp("metal", (2.5, 2.35, 2.1), 0.9, 0.14)
    return piece.finished(piece.shaded(thing, piece.ground("slate"), lamp, 1.2), 0.92, 0.09)


LOOK = material(
    "bronze",
    "Bronze",
    "Cast bronze in relief, patina in the hollows, rubbed bare on the ridges.",
    paint,
    1.3,
    own_colour=True,
)
