"""Shaded concept: a sketch given body, in three masses of tone with broken edges, the artist's own strokes on top."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from .sitting import Board, board, concept

_LINE = np.array((0.20, 0.008, -0.006), f32)


def _panels(desk: Board) -> Float:
    """Lines over large round areas that run between their opposite edges, as form does."""
    sketch, u = desk.sketch, desk.unit
    found = np.zeros((desk.height, desk.width), f32)
    for k in range(1, sketch.count + 1):
        mine = sketch.areas == k
        if mine.sum() < 0.03 * mine.size or sketch.flat[k] > 0.5:
            continue
        rows, columns = np.nonzero(mine)
        spread, axes = np.linalg.eigh(np.cov(np.stack([columns, rows])))
        across = axes[:, 0] * (1 if axes[1, 0] > 0 else -1)
        soft = blur(mine.astype(f32), 3 * u)
        dx, dy = cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1)
        side = (dx * across[0] + dy * across[1]) / (np.hypot(dx, dy) + 1e-6)
        edge = mine & ~(cv2.erode(mine.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0)
        first, last = edge & (side > 0.35), edge & (side < -0.35)
        if min(first.sum(), last.sum()) < 20:
            continue
        a, b = (cv2.distanceTransform((~e).astype(np.uint8), cv2.DIST_L2, 5) for e in (first, last))
        between = blur(a / (a + b + 1e-3), 6 * u)
        slope = np.hypot(
            cv2.Sobel(between, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(between, cv2.CV_32F, 0, 1, scale=0.125)
        )
        count = int(np.clip(round(3.4 * float(np.sqrt(spread[0])) / (60 * u)), 1, 3))
        for n in range(1, count + 1):
            off = np.abs(between - n / (count + 1)) / (slope + 1e-4)
            found = np.maximum(found, np.clip(0.9 * u + 0.3 - off, 0, 1) * mine)
    return found.astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render a sketch (h, w, 3) OKLab as a shaded concept. About .3 s at 512 px, 1 s more once for its areas."""
    desk = board(lab, sitting)
    sketch, u = desk.sketch, desk.unit
    tone = desk.tone()
    broken = tone + 0.05 * desk.noise("brush", 40, 12, -0.7)
    masses = 0.14 + 0.40 * smoothstep(0.34, 0.44, broken) + 0.46 * smoothstep(0.62, 0.74, broken)
    light = 0.42 * broken + 0.58 * masses
    colour = desk.by_area(desk.colours)
    body = colour.copy()
    # Shade is darker and cooler, light is warmer, and colour is fullest between.
    body[..., 0] = colour[..., 0] * (0.46 + 0.62 * light)
    full = (1.15 - 0.5 * np.abs(light - 0.5))[..., None]
    body[..., 1:] *= full
    body[..., 1] += 0.006 * (light - 0.5)
    body[..., 2] += 0.026 * (light - 0.5)
    glint = smoothstep(0.90, 1.0, tone + 0.03 * desk.noise("glint", 18)) * (1 - sketch.flat[sketch.areas])
    body[..., 0] += 0.16 * glint
    panels = _panels(desk)
    body[..., 0] -= 0.10 * panels
    ys, xs = np.mgrid[0 : desk.height, 0 : desk.width].astype(f32)
    far = np.clip(np.hypot(xs / desk.width - 0.42, ys / desk.height - 0.40) * 1.25, 0, 1)
    wash = desk.noise("wash", 130, 60, -0.5)
    stage = np.zeros_like(body)
    stage[..., 0] = 0.84 - 0.17 * far + 0.016 * wash + 0.006 * desk.noise("tooth", 2.5) - 0.34 * desk.ground_shadow()
    stage[..., 2] = 0.006 - 0.008 * far
    out = stage + (body - stage) * sketch.inside[..., None]
    ink = smoothstep(0.10, 0.75, sketch.strokes.ink) * (0.35 + 0.65 * smoothstep(0.12, 0.4, sketch.strokes.line))
    rim = np.exp(-((sketch.border / (1.2 * u)) ** 2)) * 0.45
    ink = np.clip(np.maximum(ink, rim * (0.6 + 0.25 * desk.noise("hand", 50))), 0, 1)
    return np.asarray(out + (_LINE - out) * (0.86 * ink)[..., None], f32)


LOOK = concept(
    "shaded-concept",
    "Shaded concept",
    "Your sketch given body and light in broad masses of colour, your strokes on top.",
    paint,
    0.35,
)
