"""Neon sign: a glass tube bent along every part's outline, shining on a brick wall."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.relief import broad
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface, shade
from ..shared.texture import grain, over
from .look import material
from .workpiece import Workpiece, workpiece

_INSET, _TUBE = 9.0, 4.2
_WALLS = ((0.115, 0.070, 0.058), (0.060, 0.066, 0.075), (0.095, 0.088, 0.080))


def _bricks(piece: Workpiece) -> tuple[Float, Float]:
    """Albedo and height of a wall of bricks in running bond."""
    u, height, width = piece.unit, piece.height, piece.width
    random = piece.random("wall")
    tall, long, joint = 62 * u, 150 * u, 7 * u
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    xs = xs + 2 * u * piece.noise("laid", 90)
    ys = ys + 2 * u * piece.noise("laid too", 90) + tall * f32(random.uniform())
    row = np.floor(ys / tall)
    along = xs + 0.5 * long * np.mod(row, 2)
    column = np.floor(along / long)
    edge = np.minimum(
        np.minimum(along - column * long, (column + 1) * long - along),
        np.minimum(ys - row * tall, (row + 1) * tall - ys),
    )
    brick = smoothstep(0.5 * joint, 0.5 * joint + 4 * u, edge)
    tones = random.normal(1, 0.16, 4096)[(row * 37 + column * 11).astype(int) % 4096]
    base = np.array(_WALLS[int(random.integers(len(_WALLS)))], f32)
    colour = base * (tones * (1 + 0.16 * piece.clouds("fired", 50)))[..., None]
    albedo = over(np.full_like(colour, 0.10) * (base / base.max() * 0.5 + 0.5), np.clip(colour, 0.01, 1), brick)
    relief = (brick * (6 + 0.9 * piece.noise("rough", 5) + 0.8 * piece.noise("chipped", 22)) * u).astype(f32)
    return albedo, relief


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a neon sign. About 1.2 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    # A tube lies inside its part; a part that is too narrow for two has one along its middle.
    room = blur(art.pillows, 3 * u)
    inset = np.minimum(_INSET * u, 0.70 * np.maximum(room, 1.2 * u))
    tube = _TUBE * u * (0.7 + 0.3 * piece.thick)
    off = np.where(art.solid, np.abs(art.within - inset), f32(99 * u))
    lit = smoothstep(-0.7 * u, 0.7 * u, 0.5 * tube - off)
    gas = piece.colours.copy()
    gas[:, 0] = np.clip(0.56 + 0.22 * gas[:, 0], 0.52, 0.78)
    chroma = np.hypot(gas[:, 1], gas[:, 2])
    gas[:, 1:] *= np.where(chroma > 0.015, np.clip(0.20 / np.maximum(chroma, 1e-3), 1, 4), 1)[:, None]
    colour = piece.painted(linear_of(gas), 1.5)
    # A tired tube flickers along its length.
    tired = 1 - 0.75 * max(piece.word("wear"), 0) * smoothstep(
        0.4, 1.4, grain(piece.height, piece.width, 90 * u, piece.random("tired"))
    )
    core = np.exp(-((off / (0.26 * tube)) ** 2))[..., None]
    shine = (lit * tired)[..., None] * (3.2 * colour + 2.6 * core * (0.35 + 0.65 * colour))
    light = shine.astype(f32)
    thrown = 2.4 * broad(light, 16 * u) + 3.6 * broad(light, 55 * u) + 4.5 * broad(light, 150 * u)
    if piece.backdrop is not None:
        wall = piece.behind(0.85) * 0.75
        wall = wall + 0.10 * thrown * wall
    else:
        albedo, relief = _bricks(piece)
        seen = shade(Surface(relief, albedo, 0.8), piece.lamp("studio", (0.34, 0.38, 0.46), 0.24), u, 1.4)
        facing = 0.75 + 0.25 * np.clip(1 + blur(relief, u) / (6 * u) - 1, 0, 1)
        wall = seen + 0.55 * albedo * thrown * facing[..., None]
    # The glass itself, and the black paint where the tube turns back into the wall.
    glass = smoothstep(-0.7 * u, 0.7 * u, 0.5 * tube + 1.2 * u - off)
    wall = wall * (1 - 0.55 * (glass - lit).clip(0, 1))[..., None]
    out = (
        wall * (1 - lit)[..., None]
        + light
        + 0.22 * broad(light, 7 * u)
        + 0.13 * broad(light, 24 * u)
        + 0.10 * broad(light, 80 * u)
    )
    return piece.finished(np.asarray(out, f32), 0.85, 0.05, 0.25)


LOOK = material(
    "neon-sign",
    "Neon sign",
    "Glass tubes bent along every outline, shining on a brick wall at night.",
    paint,
    1.2,
)
