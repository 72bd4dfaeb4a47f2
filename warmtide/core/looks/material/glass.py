"""Glass: the art poured as one clear body, coloured by part, throwing coloured light on what it lies on."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.relief import rounded
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.texture import over
from .casting import scratched
from .clear import clear_colours, see
from .look import material
from .workpiece import workpiece

_EXPOSURE = 0.64
_BOARDS = ("b98a5c", "c79d6c", "a57a52")


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in glass. About 1.5 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    thick = f32(piece.thick)
    height = 33 * u * rounded(np.minimum(art.deep, 60 * u), 30 * u) + 0.30 * np.minimum(art.swelling, 110 * u)
    height = height - 6 * u * np.exp(-((art.within / (5 * u)) ** 2)) * (art.deep > 8 * u)
    height = height + 0.5 * u * piece.noise("poured", 90) * smoothstep(0, 30 * u, art.deep)
    hammered = max(piece.word("rough"), 0)
    if hammered:
        height = height + 1.6 * hammered * u * piece.noise("hammered", 26) * smoothstep(0, 20 * u, art.deep)
    height = blur(np.where(art.solid, np.maximum(height * thick, 0.5), f32(0)), 1.6 * u).astype(f32)
    lamp = piece.lamp("window")
    frosted = max(-piece.word("polish"), 0)
    seen = see(
        piece,
        height,
        clear_colours(piece),
        lamp,
        "planks",
        _BOARDS[int(piece.random("boards").integers(3))],
        _EXPOSURE,
        6 * frosted + 2 * hammered,
    )
    body = seen.through + 1.15 * seen.gloss * (1 - 0.7 * frosted)
    rim = np.exp(-((art.deep / (4.2 * u)) ** 2))
    # The side away from the lamp collects what went in.
    nx, ny, _ = seen.normal
    far = np.clip(-nx * lamp.sun[0] - ny * lamp.sun[1], 0, 1) ** 1.5
    body = body * (1 - 0.5 * rim[..., None]) + (far * smoothstep(u, 10 * u, art.deep))[..., None] * seen.passes * 1.25
    veil = np.clip(0.34 * frosted + 0.4 * scratched(piece), 0, 0.8)
    body = over(body, 0.55 + 0.35 * seen.passes, np.broadcast_to(veil, art.cover.shape))
    return piece.finished(over(seen.ground, body, art.cover), _EXPOSURE, 0.10, chroma=0.95)


LOOK = material(
    "glass",
    "Glass",
    "One clear body, coloured by part, that bends what lies under it and throws coloured light.",
    paint,
    1.5,
)
