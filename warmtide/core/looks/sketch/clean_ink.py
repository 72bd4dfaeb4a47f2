"""Clean ink: a sketch drawn again in ink, each line once, heavier away from the light, hatching in the shade."""

import cv2
import numpy as np

from ...maths.arrays import Float, Mask, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.pen import chains, cornered, pen, smoothed, tapered
from .sitting import Board, board, concept

_FINER = 2
_WEIGHT, _HATCH = 1.15, 6.5
# Lines as strong as this are meant, weaker ones where they carry such a line on for most of the way.
_SURE, _WEAK, _LEAST = 0.40, 0.24, 0.25


def _meant(line: Float) -> Mask:
    """Where a line is surely meant, and where a weaker one carries it on."""
    weak = (line > _WEAK).astype(np.uint8)
    count, ids = cv2.connectedComponents(weak, connectivity=8)
    sure = np.bincount(ids.ravel(), (line > _SURE).ravel(), count) > _LEAST * np.bincount(ids.ravel(), minlength=count)
    sure[0] = False
    return np.asarray(sure[ids], bool)


def _lines(desk: Board) -> Float:
    """Every line of the sketch once, (2 h, 2 w) 0..1."""
    sketch, u = desk.sketch, desk.unit
    cover = np.zeros((desk.height * _FINER, desk.width * _FINER), f32)
    nx, ny, _ = sketch.normal
    soft_x, soft_y = blur(nx, 4 * u), blur(ny, 4 * u)
    outside = cv2.dilate((sketch.areas == 0).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    random = desk.sitting.random("pen")
    hand = float(np.exp(random.normal(0, 0.08)))
    for piece in (p for chain in chains(_meant(sketch.strokes.line), 7 * u) for p in cornered(chain, 5 * u)):
        line, closed = smoothed(piece, 3.0 * u)
        rows = np.clip(line[:, 1].astype(int), 0, desk.height - 1)
        columns = np.clip(line[:, 0].astype(int), 0, desk.width - 1)
        shade = np.clip(-(soft_x[rows, columns] * desk.sun[0] + soft_y[rows, columns] * desk.sun[1]) * 1.6, -0.3, 1)
        rim = outside[rows, columns]
        radius = _WEIGHT * (0.75 + 0.40 * rim + 0.45 * shade) * u**0.7 * hand
        press = np.ones(len(line), f32) if closed else tapered(len(line), 5 * u)
        radius = (
            radius * (0.5 + 0.5 * press) * (1 + 0.08 * np.sin(np.arange(len(line)) / (23 * u) + random.uniform(0, 6)))
        )
        pen(cover, line * _FINER + _FINER / 2, (radius * _FINER).astype(f32))
    return cover


def _hatching(desk: Board) -> Float:
    """Parallel lines where it is dark, a second set across them where it is darkest; (2 h, 2 w) 0..1."""
    u = desk.unit * _FINER
    size = (desk.width * _FINER, desk.height * _FINER)
    tone = cv2.resize(blur(desk.tone(), 1.5 * desk.unit), size, interpolation=cv2.INTER_LINEAR)
    inside = cv2.resize((desk.sketch.areas > 0).astype(f32), size, interpolation=cv2.INTER_LINEAR) > 0.5
    border = cv2.resize(desk.sketch.border, size, interpolation=cv2.INTER_LINEAR) * _FINER
    sway = cv2.resize(desk.noise("sway", 90), size, interpolation=cv2.INTER_LINEAR)
    press = cv2.resize(desk.noise("press", 60), size, interpolation=cv2.INTER_LINEAR)
    ys, xs = np.mgrid[0 : size[1], 0 : size[0]].astype(f32)
    found = np.zeros((size[1], size[0]), f32)
    for angle, below in ((-0.8, 0.50), (0.5, 0.28)):
        across = (-xs * np.sin(angle) + ys * np.cos(angle)) / (_HATCH * u) + 0.22 * sway
        off = np.abs(across - np.round(across)) * _HATCH * u
        wide = 0.85 * u * (1 - smoothstep(below - 0.16, below + 0.08, tone)) * (1 + 0.25 * press)
        found = np.maximum(found, np.clip(wide - off + 0.5, 0, 1) * (wide > 0.3))
    return np.asarray(found * inside * (border > 1.5 * u), f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a sketch (h, w, 3) OKLab in clean ink. About .5 s at 512 px, 1 s more once for its areas."""
    desk = board(lab, sitting)
    ink = np.maximum(_lines(desk), 0.92 * _hatching(desk))
    small = cv2.resize(ink, (desk.width, desk.height), interpolation=cv2.INTER_AREA)
    out = np.zeros((desk.height, desk.width, 3), f32)
    out[..., 0] = 0.975 + 0.003 * desk.noise("tooth", 2.2) - 0.86 * small * (0.96 + 0.04 * desk.noise("flow", 6))
    out[..., 2] = 0.004 * (1 - small)
    return out


LOOK = concept(
    "clean-ink",
    "Clean ink",
    "Your sketch drawn again in ink: each line once, heavier in the shade, hatched where it is dark.",
    paint,
    0.5,
    own_colour=True,
)
