"""Gold: the art cast as one plate, polished, dirt in its grooves, on leather."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface
from ..shared.texture import over
from .casting import brushed, cast, scratched
from .look import material
from .workpiece import workpiece

_GOLDS = ((1.0, 0.64, 0.25), (1.0, 0.70, 0.34), (1.0, 0.58, 0.30))
_DIRT = np.array((0.035, 0.022, 0.012), f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in gold. About 1.2 s at 512 px, as long again once for a source's parts."""
    piece = workpiece(lab, sitting)
    plate = cast(piece)
    gold = np.array(_GOLDS[int(piece.random("alloy").choice(3, p=(0.6, 0.25, 0.15)))], f32)
    # How light a part is can be told in one metal too: dark parts are a deeper gold.
    tone = 0.80 + 0.24 * np.clip((piece.colours[:, 0] - 0.35) / 0.5, 0, 1)
    metal = gold * (piece.painted(tone)[..., None] * (0.94 + 0.06 * piece.clouds("tone", 120)[..., None]))
    dirt = smoothstep(0.16, 0.50, plate.hollow + 0.05 * piece.clouds("dirt", 30)) * (0.8 - 0.5 * piece.word("polish"))
    dirt = np.clip(dirt + 0.5 * plate.pits + 0.6 * scratched(piece), 0, 1)
    albedo = over(metal, np.broadcast_to(_DIRT, metal.shape), 0.92 * dirt)
    rough = 0.24 + 0.07 * piece.clouds("rough", 60) - 0.05 * np.clip(plate.ridge, 0, 1)
    thing = Surface(
        height=brushed(piece, plate.height),
        albedo=np.clip(albedo, 0, 1),
        rough=np.clip(piece.rough(0.24) / 0.24 * rough + 0.5 * dirt, 0.04, 0.95).astype(f32),
        metal=(1 - 0.92 * dirt).astype(f32),
    )
    lamp = piece.lamp("metal", (2.5, 2.35, 2.1), 0.9, 0.14)
    return piece.finished(piece.shaded(thing, piece.ground("leather"), lamp, 1.2), 0.92, 0.09)


LOOK = material(
    "gold",
    "Gold",
    "Cast and polished gold in relief, grooves between the parts, dark dirt in the hollows.",
    paint,
    1.2,
    own_colour=True,
)
