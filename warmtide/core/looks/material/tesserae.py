"""Stone mosaic: cut stones in rows along every outline, tilted a little each, set in mortar."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.colour import to_lab
from ...maths.light import linear_of, shown
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.brush import at, scattered
from ..shared.owners import owners
from ..shared.shading import Surface, shade
from ..shared.texture import over
from .look import material
from .workpiece import Workpiece, workpiece

_STONE, _ROUNDS, _JOINT = 24.0, 7, 2.3


def _angles(piece: Workpiece) -> Float:
    """Direction across the rows: square to the nearest outline, turning slowly where none is near."""
    art, u = piece.art, piece.unit
    distance = blur(np.where(art.solid, art.within, art.away), 3.5 * u)
    dx, dy = cv2.Sobel(distance, cv2.CV_32F, 1, 0), cv2.Sobel(distance, cv2.CV_32F, 0, 1)
    angle, weight = np.arctan2(dy, dx), np.hypot(dx, dy)
    # A square looks the same after a quarter turn, so four angles are averaged as one.
    cosine, sine = (blur((f(4 * angle) * weight).astype(f32), 8 * u) for f in (np.cos, np.sin))
    return np.asarray(np.arctan2(sine, cosine) / 4, f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a stone mosaic. About 2 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    areas = (art.parts + 1).astype(np.int32)
    angles = _angles(piece)
    random = piece.random("stones")
    stone = _STONE * u * float(np.exp(random.normal(0, 0.06)) * np.exp(0.25 * piece.word("thick")))
    xs, ys = scattered(piece.height, piece.width, stone, random, 0.30)
    turned, belongs = at(angles, xs, ys), at(areas, xs, ys)
    for _ in range(_ROUNDS):
        owner, _ = owners(xs, ys, turned, belongs, areas, stone, 4, 1)
        mine = areas[::4, ::4] == belongs[owner]
        rows, columns = np.nonzero(mine)
        size = np.bincount(owner[mine], minlength=len(xs))
        some = size >= 1
        xs = np.where(some, 4 * np.bincount(owner[mine], columns, len(xs)) / np.maximum(size, 1), xs).astype(f32)
        ys = np.where(some, 4 * np.bincount(owner[mine], rows, len(ys)) / np.maximum(size, 1), ys).astype(f32)
        turned, belongs = at(angles, xs, ys), at(areas, xs, ys)
    owner, edge = owners(xs, ys, turned, belongs, areas, stone, 1, 2)
    # Stones are cut at the outline, whoever is nearest.
    cut = np.where(art.solid, art.within, art.away)
    gap = _JOINT * u * (1 + 0.10 * piece.noise("joint", 9))
    inner = np.minimum(0.5 * edge, cut)
    solid = smoothstep(0.45, 1.15, inner / gap)
    count = len(xs)
    means = piece.albedo(1.05, 0.015, 0.82)
    table = np.concatenate([np.clip(linear_of(piece.around[None]), 0.03, 0.70) * np.array((1, 0.97, 0.91), f32), means])
    encoded = to_lab(shown(table)[None])[0]
    # Colour belongs to the place, not to the stone, so that a stone over an outline never carries it across.
    own = encoded[areas] + np.stack([random.normal(0, s, count) for s in (0.035, 0.010, 0.012)], 1)[owner]
    stones = np.clip(linear_of(own.reshape(-1, 3)).reshape(own.shape), 0.008, 0.9)
    veins = 1 + 0.05 * piece.noise("vein", 8) + 0.05 * piece.noise("vein long", 20, 3, 0.6)
    mortar = (
        np.array((0.27, 0.235, 0.20), f32)
        * (1 + 0.10 * piece.noise("sand", 3) + 0.10 * piece.noise("damp", 80))[..., None]
    )
    albedo = over(mortar, stones * veins[..., None], solid)
    ground_y, ground_x = np.mgrid[0 : piece.height, 0 : piece.width].astype(f32)
    dx, dy = (ground_x - xs[owner]) / stone, (ground_y - ys[owner]) / stone
    tilt = random.normal(0, 0.055, (count, 2)) * float(np.exp(0.5 * piece.word("rough")))
    bevel = np.clip((inner - 0.5 * gap) / (4.5 * u), 0, 1)
    level = random.normal(0, 0.5, count) * u
    top = 5.5 * u * np.sqrt(bevel * (2 - bevel)) + (tilt[owner, 0] * dx + tilt[owner, 1] * dy) * stone + level[owner]
    top = top + 0.25 * u * piece.noise("cut", 14) + 0.10 * u * piece.noise("cut fine", 3)
    height = blur((solid * top * piece.thick + 0.5 * u * (1 - solid) * piece.noise("mortar", 3)).astype(f32), 0.7 * u)
    glazed = piece.rough(0.14) + 0.20 * random.uniform(0, 1, count)[owner]
    thing = Surface(
        height,
        np.clip(albedo, 0, 1),
        (0.95 + (glazed - 0.95) * solid).astype(f32),
        0.0,
        (0.02 + 0.025 * solid).astype(f32),
    )
    light = shade(thing, piece.lamp("window", (2.25, 2.15, 1.95), 1.0, 0.2), u, 1.2, view=0.5, reach=60)
    return piece.finished(light, 0.74, 0.06)


LOOK = material(
    "tesserae",
    "Stone mosaic",
    "Cut stones in rows along every outline, each a little tilted, set in mortar.",
    paint,
    2.0,
)
