"""Ink of a drawn character: lines from the points of the face, from where parts meet, and from folds; they swell on the shadow's side."""

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...understanding.people.features import BROWS, CHIN, EYES, LIPS, MOUTH, OVAL
from ..shared.flow import ink_lines
from .canvas import Canvas, curve, fineness, ribbon, swelling
from .making import Making
from .portrait import Person

INK = np.array([0.20, 0.012, 0.004], f32)
# Width of a contour in pixels at 512 px, on the lit side and what the shadow adds.
_LIT, _SHADE = 1.05, 1.15
_JAW = (234, 93, 132, 58, 172, 136, 150, 149, 176, 148, CHIN, 377, 400, 378, 379, 365, 397, 288, 361, 323, 454)
_NOSE_SIDES = ((98, 64, 129), (327, 294, 358))


def contour(mask: Float, making: Making, share: float = 1.0) -> Float:
    """A line where a soft mask has its edge, (h, w) 0..1."""
    unit, shade = making.unit, making.light.wrap
    width = share * unit * (_LIT + _SHADE * (1 - smoothstep(0.25, 0.75, shade)))
    calm = blur(mask, 0.7 * unit)
    # Distance to the edge from how steep the mask is there.
    gx, gy = np.gradient(calm)
    distance = np.abs(calm - 0.5) / np.maximum(np.hypot(gx, gy), 1e-3)
    near = np.clip(1 + 0.5 * width - distance, 0, 1)
    return np.asarray(near * ((calm > 0.08) & (calm < 0.92)), f32)


def folds(flat: Float, making: Making) -> Float:
    """Lines of folds, seams and things, as a picture's own edges have them, (h, w) 0..1."""
    unit = making.unit
    lines = 1 - ink_lines(flat, 0.75 * unit, 4.5 * unit, 0.985, 1.6 * unit, 90.0, -0.012)
    return np.asarray(np.clip(lines, 0, 1), f32)


def draw_lines(out: Float, making: Making, person: Person, points: Float) -> None:
    """Jaw, nose, lids, brows and mouth of one face, in ink."""
    wide, head = person.head.width, person.head
    canvas = Canvas(out, points[list(OVAL)], 0.15 * wide, fineness(wide, 420, 2, 5), making.back)
    if canvas.empty:
        return
    pen = 0.0105 * wide
    ink = INK + 0.10 * (person.states.tone - np.array([0.7, 0.03, 0.05]))

    def stroke(line: AnyArray, width: float, ends: float = 0.25, share: float = 0.92) -> None:
        smooth = curve(line, 60)
        canvas.lay(
            ink, share * canvas.cover(ribbon(smooth, width * (ends + (1 - ends) * swelling(60) ** 0.6)), 0.002 * wide)
        )

    stroke(points[list(_JAW)], 1.5 * pen, 0.35)
    side = 0 if making.light.lamp.side > 0 else 1
    stroke(points[list(_NOSE_SIDES[side])] + head.down * 0.012 * wide, 1.1 * pen)
    tip = points[[98, 2, 327]] + np.outer([0.0, 0.012, 0.0], head.down * wide)
    stroke(tip, 1.15 * pen)
    bridge = points[[193, 122, 174] if side == 0 else [417, 351, 399]]
    stroke(bridge, 0.7 * pen, 0.1, 0.55)
    for lids in EYES:
        upper = curve(points[list(lids[0])], 40)
        crease = upper - np.outer(swelling(40) ** 0.8 * 0.24, head.down) * float(np.hypot(*(upper[0] - upper[-1])))
        stroke(crease[5:-4], 0.8 * pen, 0.1, 0.6)
    for upper_brow, _ in BROWS:
        line = points[list(upper_brow)]
        stroke(line + head.down * 0.006 * wide, 0.6 * pen, 0.1, 0.5)
    if person.states.gap <= 0.07:
        stroke(0.5 * (points[list(MOUTH[0])] + points[list(MOUTH[1])]), 1.5 * pen, 0.2)
    else:
        stroke(points[list(MOUTH[0])], 1.3 * pen, 0.3)
        stroke(points[list(MOUTH[1])], 1.0 * pen, 0.3)
    stroke(points[list(LIPS[1])][3:-3], 0.7 * pen, 0.05, 0.6)
    canvas.done()
