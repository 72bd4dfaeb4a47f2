"""Line art for colouring: even black outlines on white, every area closed.

Sources
-------
1. H. Kang, S. Lee, C. Chui, "Coherent line drawing", 2007 (inner lines, see `looks.shared.flow`).
2. D. Welsh, M. Powell, "An upper bound for the chromatic number of a graph", 1967 (greedy colouring).
"""

import math

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.filters import soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ...understanding.areas import border_contrast
from ..shared.areas import Areas, edges_within, enlarged_labels, few_labels, shapes
from ..shared.brush import at
from ..shared.features import features
from ..shared.flatten import flatten
from ..shared.flow import directions
from ..shared.pen import drawn_lines, pen, runs, smoothed, tapered

# Long side, px, at which lines are drawn at least, and how many times as large as the picture at least and most.
_DRAWN, _OVERSAMPLED = 1280, (2, 5)
# Contrasts of two areas at which their border is drawn faintly and firmly, and how heavy a faint one is: around a face
# some are borders of light, but what closes hair and chin must stay.
_ON_ALL, _ON_FACES = (0.09, 0.23, 0.25), (0.10, 0.24, 0.40)
# How far the picture rises over an edge within an area that is drawn, and over one that is drawn firmly.
_RISE = (0.12, 0.30)


def _outlines(areas: Areas, sitting: Sitting, size: tuple[int, int]) -> Float:
    """Distance to the nearest border of an area, in pixels, at a larger size; borders smoothed, always closed."""
    smooth = enlarged_labels(few_labels(areas.ids), 1.8 * areas.scale, size)
    calm = np.ones((size[1], size[0]), np.uint8)
    calm[:, :-1][smooth[:, 1:] != smooth[:, :-1]] = 0
    calm[:-1][smooth[1:] != smooth[:-1]] = 0
    if not sitting.flat and not sitting.inset:
        # The frame closes what runs out of the picture.
        calm[:2], calm[-2:], calm[:, :2], calm[:, -2:] = 0, 0, 0, 0
    return cv2.distanceTransform(calm, cv2.DIST_L2, 5)


def _firmness(areas: Areas, inset: bool, size: tuple[int, int]) -> Float:
    """How firmly borders are drawn at `size`: faint where two areas hardly differ, so that one that comes or goes
    with a hair's breadth of colour never comes or goes as a bold line."""
    apart = border_contrast(areas.ids, areas.flat, edges=True)
    spread = cv2.dilate(apart, np.ones((5, 5), np.uint8))
    faint, firm, least = _ON_FACES if inset else _ON_ALL
    weight = least + (1 - least) * smoothstep(faint, firm, quick_blur(spread, 1.0))
    return cv2.resize(weight, size, interpolation=cv2.INTER_LINEAR).astype(f32)


def _away_from(ink: Float, size: tuple[int, int]) -> Float:
    """Distance (h, w) to what is drawn, at the take's size (width, height) and in its pixels."""
    blank = (cv2.resize(ink, size, interpolation=cv2.INTER_AREA) < 0.2).astype(np.uint8)
    return cv2.distanceTransform(blank, cv2.DIST_L2, 5)


def _edges(areas: Areas, away: Float, inner: Float, width: float, sitting: Sitting) -> None:
    """Edges that part two tones of one area, drawn into `inner` where no outline is near: a wheel in the shade, a rim."""
    s, over = sitting.scale, inner.shape[1] / away.shape[1]
    for chain, risen in edges_within(areas, 14, _RISE[0]):
        line, closed = smoothed(chain, 2.2 * s)
        free = at(away, line[:, 0], line[:, 1]) > 2.6 * s
        for a, b in runs(free):
            if b - a < 12 * s:
                continue
            # As far as the outline that it leaves or comes to, and firm there: no colour may run out beside it.
            first, last = max(a - round(3 * s), 0), min(b + round(3 * s), len(line))
            press = np.full(last - first, 0.6 + 0.4 * float(smoothstep(*_RISE, np.array(risen, f32))), f32)
            thinner, half = tapered(last - first, 4 * s), (last - first) // 2
            if a == 0 and not closed:
                press[:half] *= thinner[:half]
            if b == len(line) and not closed:
                press[half:] *= thinner[half:]
            pen(inner, line[first:last] * over + over / 2, (0.25 + 0.55 * press) * width * over)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as black lines on white. About .3 s at 512 px."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    areas = shapes(lab, sitting, 9, 2.0, *((900, 0.20) if sitting.inset else (150, 0.085)), edges=True)
    # A line is as sharp in a small picture as in a large one.
    over = min(max(math.ceil(_DRAWN / max(width, height)), _OVERSAMPLED[0]), _OVERSAMPLED[1])
    size = (width * over, height * over)
    distance = _outlines(areas, sitting, size)
    # The seed's hand: a little heavier or lighter all over, and along the line.
    hand = 1 + sitting.random("hand").normal(0, 0.10)
    weight = 0.90 * s * hand * (1 + 0.18 * cv2.resize(sitting.field("weight", 60 * s), size))
    weight = weight * _firmness(areas, sitting.inset, size)
    # Even a faint line closes its area; a border is a pixel wide before it is drawn, half of it on either side.
    ink = np.clip(((weight + 0.2 * s) * over - 0.5 - distance) / 1.2 + 0.5, 0, 1).astype(f32)
    face = features(lab, sitting.faces[0], size) if sitting.inset else None
    if face:
        # On skin a border of light and shade is no line.
        ink *= 1 - face.core

    calm = flatten(soften(lab, 1, 0.05, 1.6 * s), 1.8 * s, 0.00025, 3)
    _, _, magnitude = directions(calm, 1.5 * s)
    contrast = cv2.dilate(magnitude, np.ones((3, 3), np.uint8))
    away = cv2.resize(distance, (width, height), interpolation=cv2.INTER_AREA) / over
    inner = np.zeros((size[1], size[0]), f32)
    pens = 1.06 * s * hand
    if not sitting.inset:
        _edges(areas, away, inner, pens, sitting)
        away = np.minimum(away, _away_from(inner, (width, height)))
    for chain in drawn_lines(calm, s, 0.95, -0.004, 13):
        line, closed = smoothed(chain, 2.2 * s)
        # Lines beside an outline would double it; short or faint ones are fur and grain.
        if (at(away, line[:, 0], line[:, 1]) > 2.6 * s).mean() < 0.6 or len(line) < 18 * s:
            continue
        if at(contrast, line[:, 0], line[:, 1]).mean() < 0.012 / max(s, 0.6):
            continue
        press = np.ones(len(line), f32) if closed else tapered(len(line), 7 * s)
        pen(inner, line * over + over / 2, (0.25 + 0.55 * press) * pens * over)
    if face:
        inner = np.maximum(inner * (1 - face.core), face.ink)
    ink = cv2.resize(np.maximum(ink, inner), (width, height), interpolation=cv2.INTER_AREA)
    out = np.zeros((height, width, 3), f32)
    out[..., 0] = 1 - ink
    return out


LOOK = Look(
    name="line-art",
    title="Line art to colour in",
    category="drawn",
    kinds=("flat art", "photo", "render"),
    description="Even black outlines on white, every area closed, ready to be filled with colour.",
    strengths=(0.45, 0.9),
    paint=paint,
    seconds=0.28,
    handling=Handling(owns_colour=True, portrait_tone=0.0, deep_trust=0.6, deep_push=0.3, bare_push=0.3),
)
