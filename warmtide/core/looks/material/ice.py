"""Ice: a frosted body with clouds, cracks and bubbles, the art's colours frozen into it, thawing on slate."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.relief import normals, rounded
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Lamp, Surface, shade
from ..shared.texture import moved, over
from .clear import clear_colours, see
from .look import material
from .workpiece import Workpiece, workpiece

_EXPOSURE = 0.7
_FROST = np.array((0.86, 0.94, 0.99), f32)


def _cracks(piece: Workpiece) -> Float:
    """Planes of fracture: a bright line, a faint fan to one side."""
    u = piece.unit
    random = piece.random("cracks")
    dx, dy = 5 * u * piece.noise("crack x", 40), 5 * u * piece.noise("crack y", 40)
    found = np.zeros((piece.height, piece.width), f32)
    for k in range(3):
        field = piece.noise(f"crack {k}", 300, 190, float(random.uniform(0.1, 3)))
        plane = moved(field, dx, dy) - f32(random.uniform(-0.6, 0.6))
        shown = smoothstep(-0.3, 0.7, piece.noise(f"shown {k}", 160))
        line = np.exp(-np.abs(plane) / 0.012) * shown
        fan = (
            0.30
            * (1 - smoothstep(0, 0.22, plane))
            * smoothstep(0, 0.02, plane)
            * smoothstep(0, 0.7, piece.noise(f"fan {k}", 160))
        )
        found = np.maximum(found, line) + fan
    return np.clip(found, 0, 1).astype(f32)


def _bubbles(piece: Workpiece) -> Float:
    u = piece.unit
    random = piece.random("bubbles")
    found = np.zeros((piece.height, piece.width), f32)
    for x, y, size, bright in zip(*(random.uniform(0, 1, 160) for _ in range(4)), strict=True):
        column, row = int(x * piece.width), int(y * piece.height)
        if piece.art.deep[row, column] > 14 * u:
            radius = int((1 + 3.2 * size) * u * 8)
            cv2.circle(
                found, (column * 8, row * 8), radius, float(0.3 + 0.6 * bright), max(1, int(1.2 * u)), cv2.LINE_AA, 3
            )
    return found


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in ice. About 1.7 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    inside = smoothstep(0, 20 * u, art.deep)
    height = 42 * u * rounded(np.minimum(art.deep, 60 * u), 30 * u) + 0.30 * np.minimum(art.swelling, 110 * u)
    height = height - 6 * u * np.exp(-((art.within / (5 * u)) ** 2)) * (art.deep > 8 * u)
    facets = np.abs(piece.noise("facets", 70))
    height = height + inside * u * (2.2 * piece.noise("melted", 90) + 2.2 * facets)
    height = height - 4 * u * smoothstep(0.9, 2.6, piece.noise("hollows", 90)) * smoothstep(0, 8 * u, art.deep)
    height = np.where(art.solid, np.maximum(height * f32(piece.thick), 0.5), f32(0))
    height = blur(height, 1.6 * u).astype(f32)
    lamp = piece.lamp("window")
    seen = see(piece, height, clear_colours(piece, 0.42), lamp, "slate", None, _EXPOSURE, 2.2)
    body = seen.through + 1.15 * seen.gloss
    nx, ny, nz = seen.normal
    rim = np.exp(-((art.deep / (4.2 * u)) ** 2))
    far = np.clip(-nx * lamp.sun[0] - ny * lamp.sun[1], 0, 1) ** 1.5
    body = body * (1 - 0.5 * rim[..., None]) + (far * smoothstep(u, 10 * u, art.deep))[..., None] * seen.passes * 1.25
    clear = 1 - 0.6 * max(piece.word("polish"), 0)
    mist = piece.noise("mist", 60) + 0.35 * piece.noise("mist fine", 5)
    frost = smoothstep(-0.6, 2.2, mist + 2.1 * np.exp(-art.deep / (9 * u)) + 0.8 * piece.word("rough"))
    core = piece.noise("core", 170) + 0.45 * piece.noise("core mid", 50) + 0.2 * piece.noise("core fine", 12)
    core = smoothstep(0.1, 2.2, core) * smoothstep(14 * u, 60 * u, art.deep)
    toward = np.clip(nx * lamp.sun[0] + ny * lamp.sun[1] + nz * lamp.sun[2], 0, 1)[..., None]
    white = (0.45 * _FROST + 0.55 * seen.passes) * (0.35 + 0.75 * toward)
    body = over(body, 0.95 * white, np.clip(clear * (0.10 + 0.32 * frost + 0.36 * core), 0, 0.74))
    body = body + (0.55 * _cracks(piece) * smoothstep(0, 12 * u, art.deep) + 0.6 * _bubbles(piece))[..., None]
    ground = seen.ground
    if piece.backdrop is None:
        # It thaws: a wet rim on what it lies on.
        wet = smoothstep(-14 * u, -2 * u, -art.away + 6 * u * piece.noise("wet", 50)) * (1 - art.cover)
        slope = normals(blur(wet, 2 * u) * 10 * u)
        full = np.ones_like(wet)
        film = Surface(wet, np.zeros_like(ground), 0.06, 0.0, 0.04, 0.0, slope)
        gloss = shade(film, Lamp(lamp.sun, (2, 2, 2), lamp.room), u, lit=full, seen=full)
        ground = ground * (1 - 0.45 * wet[..., None]) + gloss * wet[..., None]
    return piece.finished(over(ground, body, art.cover), _EXPOSURE, 0.10, chroma=0.96)


LOOK = material(
    "ice",
    "Ice",
    "Frosted, cracked ice with bubbles, the colours frozen in, thawing on slate.",
    paint,
    1.7,
)
