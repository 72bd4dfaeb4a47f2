"""A character's eyes: large, with an iris in the person's own colour, light in it, lashes, lids and their crease."""

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.steps import smoothstep
from ...understanding.people.features import EYES
from .canvas import Canvas, curve, fineness, ribbon, swelling
from .portrait import Person

_LEAST = 3


def draw_eyes(
    lab: Float, person: Person, points: Float, growth: float, side: float, sparkle: float, back: Float
) -> None:
    """Draw both eyes into a picture.

    points : the head's as they lie in the character. growth : of the eyes. side : of the lamp. sparkle : -1..1, where the
    seed puts the second light.
    """
    for lids in range(2):
        _draw(lab, person, points, lids, growth, side, sparkle, back)


def _draw(
    lab: Float, person: Person, points: Float, which: int, growth: float, side: float, sparkle: float, back: Float
) -> None:
    states = person.states
    upper, lower = (curve(points[list(line)]) for line in EYES[which])
    width = float(np.hypot(*(upper[0] - upper[-1])))
    if width < _LEAST:
        return
    right = (upper[-1] - upper[0]) / width * (1 if which == 0 else -1)
    down = np.array([-right[1], right[0]], f32)
    closed, swell = states.lids < 0.2, swelling()
    lift = 0.045 * width * min(growth, 1.5) * (not closed) * float(smoothstep(0.20, 0.33, states.opened))
    arch = swell**0.8
    upper, lower = upper - np.outer(arch * lift, down), lower + np.outer(swell * 0.25 * lift, down)
    upper = upper + (0.92 if closed else 0.62 * (1 - states.lids)) * (lower - upper)
    outline = np.concatenate([upper, lower[::-1]])
    middle = outline.mean(0)
    canvas = Canvas(lab, middle[None], 0.98 * width, fineness(width, 120, 2, 8), back)
    if canvas.empty:
        return
    away_x, away_y = canvas.xs - middle[0], canvas.ys - middle[1]
    x, y = (away_x * right[0] + away_y * right[1]) / width, (away_x * down[0] + away_y * down[1]) / width
    height = float(((lower - upper) @ down).max()) / width
    _socket(canvas, states.tone, upper, lower, down, width, height)
    if not closed:
        mask = canvas.cover(outline)
        _ball(canvas, person, mask, (x, y), (upper, middle, right, down), (width, height), (side, sparkle))
        red = 1 - smoothstep(0.02, 0.085, canvas.away(upper[-1]) / width)
        canvas.lay((0.66, 0.085, 0.045), 0.8 * mask * red)
        rim = np.array([states.tone[0] * 0.93, states.tone[1] + 0.035, states.tone[2] + 0.01])
        canvas.lay(rim, 0.75 * canvas.cover(ribbon(lower, 0.035 * width * np.sqrt(swell)), 0.006 * width))
    _lashes(canvas, person, upper, lower, right if which == 0 else -right, down, width)
    canvas.done()


def _socket(
    canvas: Canvas, tone: AnyArray, upper: Float, lower: Float, down: AnyArray, width: float, height: float
) -> None:
    """Shade of the lid, its crease, the fold below."""
    swell = swelling()
    under = tone * np.array([0.60, 1.1, 1.0]) + np.array([0, 0.022, 0.008])
    crease = upper - np.outer(swell**0.8 * (0.085 + 0.16 * height) * width, down)
    canvas.lay(under, 0.18 * canvas.cover(np.concatenate([upper, crease[::-1]]), 0.03 * width))
    canvas.lay(under, 0.55 * canvas.cover(ribbon(crease, 0.035 * width * swell**0.8 + 0.2), 0.012 * width))
    fold = lower + np.outer(swell * 0.10 * width, down)
    canvas.lay(under, 0.22 * canvas.cover(ribbon(fold, 0.03 * width * swell), 0.02 * width))


def _ball(
    canvas: Canvas, person: Person, mask: Float, place: tuple[Float, Float], frame: tuple[Float, AnyArray, AnyArray, AnyArray],
    size: tuple[float, float], light_from: tuple[float, float],
) -> None:  # fmt: skip
    """White with the shadow of the lid, iris with light gathered opposite to where it enters, pupil, two lights."""
    states, (x, y), (width, height) = person.states, place, size
    upper, middle, right, down = frame
    along, over = (upper - middle) @ right / width, (upper - middle) @ down / width
    order = np.argsort(along)
    below = np.clip(y - np.interp(x, along[order], over[order]).astype(f32), 0, 9)
    shadow = np.exp(-below / f32(0.17 * height + 0.01))
    white = (
        0.955 * min(1.0, 0.66 + 0.40 * float(states.tone[0])) - 0.20 * shadow - 0.10 * smoothstep(0.25, 0.55, np.abs(x))
    )
    canvas.lay(np.dstack([white, 0.003 + 0.012 * smoothstep(0.3, 0.5, np.abs(x)), 0.006 + 0 * white]), mask)
    radius = float(np.clip(0.60 * height, 0.185, 0.275))
    rx, ry = x - f32(states.gaze), y + f32(0.05 * height)
    rho = np.hypot(rx, ry) / radius
    edge = 1.5 / (canvas.fine * width * radius)
    glow = smoothstep(-0.5, 0.9, ry / radius) * smoothstep(0.30, 0.62, rho)
    rays = 1 + 0.05 * np.cos(23 * np.arctan2(ry, rx)) * smoothstep(0.4, 0.7, rho)
    iris = states.iris
    light = (
        iris[0]
        * (0.72 + 0.10 * rho + 0.62 * glow)
        * rays
        * (1 - 0.62 * smoothstep(0.78, 1.0, rho))
        * (1 - 0.42 * shadow)
    )
    strong = 1.15 + 0.35 * glow
    canvas.lay(np.dstack([light, iris[1] * strong, iris[2] * strong]), mask * canvas.disc(rho, 1, edge))
    canvas.lay((0.07, 0.004, 0.004), mask * canvas.disc(rho, 0.47, edge))
    side, sparkle = light_from
    way = -1.0 if side < 0 else 1.0
    first = np.hypot(rx - way * 0.34 * radius, ry + 0.36 * radius) / radius
    second = np.hypot(rx + way * (0.36 + 0.08 * sparkle) * radius, ry - (0.40 - 0.06 * sparkle) * radius) / radius
    canvas.lay((1.0, 0, 0), mask * canvas.disc(first, 0.25, edge))
    canvas.lay((0.97, 0, 0.004), 0.75 * mask * canvas.disc(second, 0.115, edge))


def _lashes(
    canvas: Canvas, person: Person, upper: Float, lower: Float, outward: AnyArray, down: AnyArray, width: float
) -> None:
    """The upper lid's line with a flick at its outer corner, and a fainter one below."""
    states, along = person.states, np.linspace(0, 1, len(upper))
    dark = np.array([0.17, 0.022, 0.022]) + 0.12 * (states.brow - np.array([0.2, 0.02, 0.02]))
    tail = upper[0] - outward * 0.10 * width - down * 0.015 * width
    rise = np.sin(np.pi * np.clip(along * 0.92 + 0.10, 0, 1)).clip(0) ** 0.7
    thick = width * (0.026 + 0.036 * rise) * (1 - 0.75 * along**3)
    line = curve(np.concatenate([[tail], upper]), 60)
    at = np.linspace(0, 1, 60)
    widths = np.interp(at, np.linspace(0.08, 1, len(upper)), thick, left=0.2) * np.minimum(at / 0.10, 1)
    canvas.lay(dark, 0.95 * canvas.cover(ribbon(line, widths)))
    under = states.tone * np.array([0.48, 1.1, 1.0]) + np.array([0, 0.022, 0.008])
    below = curve(np.concatenate([[upper[0]], lower[2:30]]), 40)
    fade = 0.026 * width * (1 - np.linspace(0, 1, 40) ** 2)
    canvas.lay(under, 0.55 * canvas.cover(ribbon(below, fade), 0.006 * width))
