"""Wood inlay: every part a veneer of the nearest wood, its own grain, sand-scorched at an edge, varnished."""

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.colour import to_lab
from ...maths.light import linear_of, shown
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.grounds import board, linear
from ..shared.shading import Surface, shade
from ..shared.texture import over
from .casting import scratched
from .look import material
from .workpiece import Workpiece, workpiece

# Light and dark wood of each: maple, ash, oak, cherry, walnut, wenge, padauk, olive, holly, ebony.
_WOODS = (
    ("e8d3ac", "c9a877"), ("dcc39a", "b08d5e"), ("c49a66", "8c6338"), ("b3683f", "7d3f25"), ("7a5335", "472d1b"),
    ("4a3527", "261a13"), ("b5492c", "702314"), ("a08a52", "66522b"), ("efe6d2", "d9c9ab"), ("2b2420", "14100e"),
)  # fmt: skip
_PANEL = 4
# Colours that no wood has are stained: the grain shows through.
_STAINED = 0.11


def _wood_of(colour: AnyArray) -> tuple[Float, Float]:
    """Light and dark of the veneer for an OKLab colour."""
    pairs = [(linear(a), linear(b)) for a, b in _WOODS]
    means = np.array([(np.asarray(a) * 0.6 + np.asarray(b) * 0.4) for a, b in pairs])
    known = to_lab(shown(means)[None])[0]
    apart = np.abs((known - colour) * (1, 1.6, 1.6)).sum(1)
    early, late = pairs[int(apart.argmin())]
    chroma, far = float(np.hypot(colour[1], colour[2])), float(apart.min())
    if chroma > 0.07 and far > _STAINED:
        dyed = linear_of(np.array([[np.clip(colour[0], 0.25, 0.92), colour[1] * 0.95, colour[2] * 0.95]]))[0]
        share = min((far - _STAINED) / 0.12 + 0.45, 0.92)
        early, late = early + (dyed - early) * share, late + (dyed * 0.55 - late) * share
    return np.asarray(early, f32), np.asarray(late, f32)


def _veneers(piece: Workpiece) -> tuple[Float, Float]:
    """Albedo and relief of all parts: each is cut from one sheet of its wood, at its own angle."""
    art, u = piece.art, piece.unit
    random = piece.random("veneers")
    albedo = np.zeros((piece.height, piece.width, 3), f32)
    relief = np.zeros((piece.height, piece.width), f32)
    for k in range(art.count):
        x, y, wide, tall = (int(v) for v in art.boxes[k])
        angle = float(random.uniform(-0.5, 0.5) + (np.pi / 2 if tall > 1.3 * wide else 0) + random.choice((0, 0, 0.8)))
        tone = random.uniform(0.88, 1.1)
        seed = np.random.default_rng(int(random.integers(1 << 62)))
        view = np.s_[y : y + tall, x : x + wide]
        mine = art.parts[view] == k
        early, late = _wood_of(piece.colours[k])
        if wide * tall < 900 * u * u:
            albedo[view][mine] = early * tone
            continue
        colours, heights = board(tall, wide, seed, early * tone, late * tone, 0.95 * u, angle)
        albedo[view][mine], relief[view][mine] = colours[mine], heights[mine]
    return albedo, relief


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as wood inlay. About 1.5 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    albedo, relief = _veneers(piece)
    early, late = (linear(c) for c in _WOODS[_PANEL])
    tint = piece.random("panel").uniform(0.8, 1.25)
    panel, panel_relief = board(
        piece.height, piece.width, piece.random("panel grain"), early * tint, late * tint, 1.6 * u, 0.02
    )
    # Veneers are shaded by dipping an edge in hot sand: darker toward one side.
    side = np.exp(-art.within / (16 * u)) * smoothstep(-0.4, 1.0, blur(np.sign(piece.noise("scorched", 180)), 10 * u))
    albedo = albedo * (1 - 0.48 * side * art.solid)[..., None]
    seam = np.exp(-((art.within / (1.5 * u)) ** 2))
    whole = over(panel, albedo, art.cover) * (1 - 0.62 * seam * art.cover)[..., None]
    worn = scratched(piece)
    height = (
        np.where(art.solid, relief, panel_relief) * 0.5
        - 0.9 * u * seam * art.cover
        + 0.3 * u * piece.noise("varnish", 90)
    )
    gloss = float(np.clip(0.75 + 0.6 * piece.word("polish"), 0, 1))
    thing = Surface(
        height=blur(height, 0.6 * u).astype(f32),
        albedo=np.clip(whole * (1 - 0.3 * worn[..., None]), 0.004, 0.9),
        rough=np.clip(piece.rough(0.46) + 0.4 * worn, 0.1, 0.95).astype(f32),
        coat=(gloss * (1 - worn)).astype(f32),
    )
    lamp = piece.lamp("window", (2.0, 1.94, 1.82), 1.05, 0.2)
    light = shade(thing, lamp, u, 0.8, view=0.9, reach=60)
    return piece.finished(light, 0.70, 0.05)


LOOK = material(
    "inlay",
    "Wood inlay",
    "Veneers of the nearest woods let into a panel, each with its own grain, scorched at an edge, varnished.",
    paint,
    1.5,
)
