"""Linocut: two colour blocks and a dark key block, tone cut as gouges along the form.

Sources
-------
1. S. Mizuno et al., "Virtual woodblock printing", 2002 (what a cut block leaves and how ink squeezes out).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Float, Mask, f32
from ...maths.blur import quick_blur
from ...maths.colour import to_lab, to_rgb
from ...maths.filters import brought_out, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ...understanding.palette import palette
from ..shared.brush import CLOSEST, at, scattered, traced
from ..shared.flatten import flatten
from ..shared.flow import directions, turned_toward
from ..shared.ground import paper, stretch
from ..shared.pen import lenses

_PAPER = np.array([0.955, 0.002, 0.016], f32)
_KEY = np.array([0.25, 0.008, -0.030], f32)
_OVERSAMPLED = 2
# Chroma times turn at which a second hue begins to count and where it fully does; where it lies if there is none.
_FOUND, _ACROSS = (0.010, 0.026), 2.5
# Strongest chroma of a picture at which inks are still grey, and at which they are coloured in full.
_COLOURED = (0.008, 0.03)
# Share of the way between the two hues, to both sides of the middle, that is printed from both blocks.
_BETWEEN = 0.3


@dataclass(frozen=True)
class _Block:
    """One block: how much of it prints (h, w), its ink, the cover where gouging begins and where it is solid."""

    name: str
    cover: Float
    ink: Float
    clear: float
    solid: float
    gouge: float
    key: bool


def _two_hues(picture: Float, chroma: Float) -> tuple[float, float, float]:
    """The picture's strongest hue, and the one furthest from it that has weight; across the circle where none has. And
    how coloured the inks are, 0..1: a picture in greys is printed in greys.

    Between the two cases the second hue turns, so that a draft and its take never part over a hair's breadth.
    """
    colours = palette(picture, 7, chroma * chroma * 40 + 0.02)
    strength = np.hypot(colours[:, 1], colours[:, 2])
    hues = np.arctan2(colours[:, 2], colours[:, 1])
    first = int(strength.argmax())
    away = _turn(hues - hues[first])
    weight = strength * np.abs(away)
    second = int(weight.argmax())
    found = float(smoothstep(*_FOUND, weight[second]))
    coloured = float(smoothstep(*_COLOURED, strength[first]))
    return float(hues[first]), float(hues[first] + _ACROSS + found * _turn(away[second] - _ACROSS)), coloured


def _turn(angles: Float) -> Float:
    """Angles as the shorter turn, -pi..pi."""
    turned: Float = angles - 2 * np.pi * np.rint(angles / (2 * np.pi))
    return turned


def _second_share(hue: Float, first: float, second: float) -> Float:
    """How far a place belongs to the second hue, 0..1: all of it but in a narrow band between the two."""
    apart = max(abs(float(_turn(np.array(second - first, f32)))), 0.05)
    nearer = (np.abs(_turn(hue - first)) - np.abs(_turn(hue - second))) / apart
    return smoothstep(-_BETWEEN, _BETWEEN, nearer.astype(f32))


def _blocks(picture: Float, light: Float, sitting: Sitting) -> list[_Block]:
    """Two colour blocks from the picture's hues, and the key."""
    s = sitting.scale
    chroma = np.hypot(picture[..., 1], picture[..., 2])
    first, second, coloured = sitting.decided("hues", lambda: _two_hues(picture, chroma))
    turn = float(sitting.random("inks").normal(0, 0.06))
    hue = np.arctan2(
        quick_blur(np.ascontiguousarray(picture[..., 2]), 2 * s),
        quick_blur(np.ascontiguousarray(picture[..., 1]), 2 * s),
    )
    cooler = _second_share(hue, first, second)
    nearer = 1 - cooler
    rich = smoothstep(0.03, 0.12, chroma)
    warm, cool = np.clip((chroma - 0.018) / 0.05, 0, 1) * nearer, np.clip((chroma - 0.012) / 0.035, 0, 1) * cooler
    inks = [
        np.array([0.68, 0.145 * coloured * np.cos(first + turn), 0.145 * coloured * np.sin(first + turn)], f32),
        np.array([0.62, 0.105 * coloured * np.cos(second + turn), 0.105 * coloured * np.sin(second + turn)], f32),
    ]
    covers = (
        warm * (0.18 + 0.75 * rich + 0.95 * (1 - light)) + 0.25 * (light < 0.72) * nearer,
        cool * (0.5 + 1.1 * (1 - light)) + 0.45 * smoothstep(0.20, 0.50, 1 - light) * cooler,
    )
    key = smoothstep(0.34, 0.78, (1 - light).astype(f32))
    return [
        _Block("second", np.clip(covers[1], 0, 1).astype(f32), inks[1], 0.16, 0.80, 4.6, False),
        _Block("first", np.clip(covers[0], 0, 1).astype(f32), inks[0], 0.16, 0.80, 4.6, False),
        _Block("key", key, _KEY, 0.22, 0.86, 3.1, True),
    ]


def _without_specks(shape: Mask, island: float, hole: float) -> Float:
    """A cut block has no specks and no pinholes."""
    _, ids, stats, _ = cv2.connectedComponentsWithStats(shape.astype(np.uint8))
    kept = (stats[:, cv2.CC_STAT_AREA] >= island)[ids] & (ids > 0)
    _, ids, stats, _ = cv2.connectedComponentsWithStats((~kept).astype(np.uint8))
    return (kept | ((stats[:, cv2.CC_STAT_AREA] < hole)[ids] & (ids > 0))).astype(f32)


def _gouged(block: _Block, angles: Float, sitting: Sitting) -> Float:
    """Cover of a block after cutting, 0..1 at the size of the picture."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    size = (width * _OVERSAMPLED, height * _OVERSAMPLED)
    random = sitting.random(f"{block.name} gouges")
    tone = quick_blur(block.cover, (0.7 if block.key else 1.1) * s)
    shape = _without_specks(tone > block.clear, (26 if block.key else 60) * s * s, 22 * s * s)
    large = cv2.resize(quick_blur(shape, 0.9 * s), size, interpolation=cv2.INTER_CUBIC)
    print_ = smoothstep(0.40, 0.60, large)
    spacing = max(block.gouge * s, CLOSEST)
    xs, ys = scattered(height, width, spacing, random, 0.42)
    here = at(tone, xs, ys)
    lighter = np.clip((block.solid - here) / (block.solid - block.clear), 0, 1)
    cut_here = (here < block.solid) & (at(shape, xs, ys) > 0) & (random.random(len(xs)) < 0.30 + 0.8 * lighter)
    xs, ys, lighter = xs[cut_here], ys[cut_here], lighter[cut_here]
    reference = np.zeros((height, width, 3), f32)
    reference[..., 0] = tone
    strokes = traced(angles, reference, xs, ys, 5, (1.9 if block.key else 2.2) * s, 0.22)
    cuts = np.zeros((size[1], size[0]), f32)
    depth = (0.22 + 0.85 * lighter) * spacing * 0.40 * random.uniform(0.75, 1.2, len(xs))
    lenses(cuts, strokes, depth, 0.75, 0.8, _OVERSAMPLED)
    # Ridges left standing in the ground that was cleared near the block.
    distance = cv2.distanceTransform((shape < 0.5).astype(np.uint8), cv2.DIST_L2, 3)
    xs, ys = scattered(height, width, 8 * s, random)
    near = at(distance, xs, ys)
    left = (near > 0) & (near < 22 * s) & (random.random(len(xs)) < (0.10 if block.key else 0.05))
    ridges = traced(angles, reference, xs[left], ys[left], 4, 1.7 * s, 0.5)
    print_ = print_ * (1 - cuts)
    lenses(print_, ridges, np.full(int(left.sum()), 0.55 * s), 1.0, 1.0, _OVERSAMPLED)
    return cv2.resize(print_, (width, height), interpolation=cv2.INTER_AREA)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a print from three cut blocks. About .3 s at 512 px."""
    s, height, width = sitting.scale, sitting.height, sitting.width
    source = brought_out(lab, 18 * s)
    source[..., 0] = stretch(np.ascontiguousarray(source[..., 0]), sitting, (1, 99), (0.02, 1.0), 0.9)
    picture = flatten(soften(source, 1, 0.05, 1.6 * s), 3.5 * s, 0.0006, 3)
    light = np.ascontiguousarray(picture[..., 0])
    light = np.clip(
        light + 0.35 * (light - quick_blur(light, 22 * s)) + 0.9 * (light - quick_blur(light, 6 * s)), 0, 1
    ).astype(f32)
    form, coherence, _ = directions(picture, 5 * s)
    broad, _, _ = directions(quick_blur(picture, 6 * s), 20 * s)
    calm = (broad + 0.3 * sitting.field("hand", 80 * s)).astype(f32)
    angles = turned_toward(calm, form, smoothstep(0.15, 0.5, coherence))
    relief = paper(sitting, 0.8)
    sheet = to_rgb(_PAPER[None, None])[0, 0] * (1 + f32(0.008) * relief)[..., None]
    for block in _blocks(picture, light, sitting):
        cover = _gouged(block, angles, sitting)
        if not block.key:
            random = sitting.random(f"{block.name} register")
            (dx, dy), turn = random.normal(0, 1.25 * s, 2), random.normal(0, 0.0035)
            shift = np.array([[1, -turn, dx + turn * height / 2], [turn, 1, dy - turn * width / 2]], f32)
            cover = cv2.warpAffine(cover, shift, (width, height), borderMode=cv2.BORDER_REPLICATE)
        # The ink film is mottled, has pinholes, and is squeezed out to a rim.
        name = block.name
        film = 0.92 + 0.05 * sitting.field(f"{name} film", 2.2 * s) + 0.05 * sitting.field(f"{name} film broad", 26 * s)
        holes = smoothstep(2.35, 2.75, (sitting.field(f"{name} holes", 1.7 * s) + 0.35 * relief).astype(f32))
        rim = np.clip(cover - quick_blur(cover, 1.6 * s), 0, 1)
        printed = np.clip(cover * (film - 0.03 * relief + 0.18 * rim) * (1 - 0.85 * holes), 0, 1)[..., None]
        ink = to_rgb(block.ink[None, None])[0, 0]
        opaque = 0.75 if block.key else 0.38
        sheet = sheet * (1 - printed) + printed * (sheet * ink * (1 - opaque) + ink * opaque)
    return to_lab(np.clip(sheet, 0, 1).astype(f32))


LOOK = Look(
    name="linocut",
    title="Linocut",
    category="printed",
    kinds=("photo", "flat art"),
    description="Two colour blocks from the picture's own hues and a dark key block, cut with a gouge along the form.",
    strengths=(0.4, 0.85),
    paint=paint,
    seconds=0.33,
    handling=Handling(owns_colour=True, deep_trust=0.75),
)
