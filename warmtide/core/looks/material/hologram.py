"""Hologram: the art as standing light over a lit disc on a dark floor, in scan lines, a little torn."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.relief import broad, normals
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.texture import moved, over
from .look import material
from .workpiece import Workpiece, workpiece

_BEAMS = ((0.30, 0.85, 1.0), (0.36, 1.0, 0.72), (0.80, 0.55, 1.0), (0.40, 0.70, 1.0))


def _light(piece: Workpiece, beam: Float) -> Float:
    """What the art itself gives off."""
    art, u = piece.art, piece.unit
    lab = piece.colours.copy()
    # Light adds, so dark parts are only thinner light; colours lean toward the beam's.
    lab[:, 0] = 0.30 + 0.65 * np.clip(lab[:, 0], 0, 1)
    lab[:, 1] = lab[:, 1] * 0.6 + f32(0.035 * (beam[0] - beam[1]) / 0.55)
    lab[:, 2] = lab[:, 2] * 0.6 - f32(0.055 * beam[2])
    body = piece.painted(linear_of(lab), 0.6) * art.cover[..., None]
    _, _, facing = normals(blur(np.asarray(0.55 * piece.thick * art.pillows, f32), 2 * u))
    edge = np.exp(-((art.within / (2.0 * u)) ** 2)) * art.solid
    inner = np.exp(-art.within / (16 * u)) * art.solid
    turn = 1 - facing
    given = body * (0.25 + 1.25 * (0.30 * turn + 0.22 * inner))[..., None] + edge[..., None] * (
        1.4 * body + 0.40 * beam
    )
    return np.asarray(given + (0.30 * turn**2 * art.cover)[..., None] * beam, f32)


def _stage(piece: Workpiece, given: Float, beam: Float, foot: float) -> Float:
    """A dark room: a floor that mirrors, the disc that the light comes from."""
    height, width, u = piece.height, piece.width, piece.unit
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    floor = 0.845 * height if foot < 0.9 * height else 0.92 * height
    back = np.array((0.010, 0.014, 0.022), f32) * (1 + 1.6 * np.exp(-((xs / width - 0.5) ** 2 + (ys / height - 0.45) ** 2) / 0.10))[..., None]  # fmt: skip
    back = back * (1 + 0.12 * piece.noise("air", 200))[..., None]
    mirror = moved(
        broad(given, 5 * u),
        4 * u * piece.noise("ripples", 30, 6),
        2 * (floor - ys) * (ys > floor) - 0.3 * np.maximum(ys - floor, 0),
    )
    polish = 0.7 + 0.3 * piece.clouds("polish", 160)
    down = np.array((0.014, 0.018, 0.025), f32) * polish[..., None] + broad(mirror, 4 * u) * (0.24 * polish)[..., None]
    middle, row = width / 2, min(0.905 * height, height - 40 * u)
    wide, flat = 0.17 * width, 0.030 * height
    pool = np.exp(-(((xs - middle) / (0.34 * width)) ** 2 + ((ys - row) / (0.05 * height)) ** 2))
    out = np.where((ys > floor)[..., None], down + 0.10 * pool[..., None] * beam, back)

    def ring(y: float, by: float = 1.0) -> Float:
        return np.asarray(((xs - middle) / (wide * by)) ** 2 + ((ys - y) / (flat * by)) ** 2, f32)

    side = (ring(row + 14 * u) < 1) | ((np.abs(xs - middle) < wide) & (ys > row) & (ys < row + 14 * u))
    out = over(out, np.broadcast_to(np.array((0.030, 0.034, 0.040), f32), out.shape), blur(side.astype(f32), 0.8))
    out = over(
        out, np.broadcast_to(np.array((0.045, 0.050, 0.058), f32), out.shape), blur((ring(row) < 1).astype(f32), 0.8)
    )
    q = np.sqrt(ring(row))
    glow = (
        0.9 * np.exp(-(((q - 0.74) / 0.035) ** 2))
        + 0.45 * np.exp(-(((q - 0.40) / 0.05) ** 2))
        + 1.6 * np.exp(-((q / 0.30) ** 2))
    )
    out = out + glow[..., None] * beam
    # A fan of light from the disc to the art.
    rows = np.nonzero(piece.art.cover.max(1) > 0.5)[0]
    columns = np.nonzero(piece.art.cover.max(0) > 0.5)[0]
    top, half = float(rows[0]), (columns[-1] - columns[0]) * 0.52
    t = np.clip((row - ys) / max(row - top, 1), 0, 1)
    spread = wide * 0.3 + (half - wide * 0.3) * t
    fan = 1 - smoothstep(0.80, 1.08, np.abs(xs - middle) / spread)
    random = piece.random("rays")
    rays = np.interp(np.linspace(0, 63, 512), np.arange(64), random.normal(0.55, 0.35, 64).clip(0.05, 1.4))
    streak = rays[np.clip(((xs - middle) / spread * 0.5 + 0.5) * 511, 0, 511).astype(int)]
    fan = fan * (ys < row) * np.exp(-2.3 * t)
    out = out + (0.16 * fan * streak + 0.25 * fan * np.exp(-(((ys - row) / (60 * u)) ** 2)))[..., None] * beam
    out = np.ascontiguousarray(out, dtype=f32)
    for x, y, size, bright in zip(*(random.uniform(0, 1, 140) for _ in range(4)), strict=True):
        at = int((0.5 + (x - 0.5) * 0.9) * width * 8), int((top + (row - top) * y) * 8)
        colour = [float(v) for v in beam * (0.1 + 0.6 * bright)]
        cv2.circle(out, at, int((0.8 + 1.4 * size) * u * 8), colour, -1, cv2.LINE_AA, 3)
    return out


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a hologram. About 1.0 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    u, height, width = piece.unit, piece.height, piece.width
    random = piece.random("beam")
    beam = np.array(_BEAMS[int(random.choice(4, p=(0.55, 0.15, 0.15, 0.15)))], f32)
    given = _light(piece, beam)
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    lines = 0.62 + 0.38 * (0.5 + 0.5 * np.cos(2 * np.pi * ys / (7.0 * u))) ** 1.2
    dots = 0.86 + 0.14 * np.cos(2 * np.pi * xs / (4 * u))
    flicker = np.clip(
        0.85 + 0.12 * piece.noise("flicker", 220) + 0.10 * np.sin(ys / (120 * u) + random.uniform(0, 6)), 0.4, 1.2
    )
    given = given * (lines * dots * flicker)[..., None]
    # Rows that slip: colour only, never the outline's place by more than a hair.
    slip = 0.5 * u * np.sin(ys / (37 * u))
    for start in random.uniform(0.08, 0.85, 6):
        slip[int(start * height) : int(start * height + random.uniform(3, 12) * u)] += random.normal(0, 1.6 * u)
    torn = np.stack(
        [moved(given[..., k], -slip + dx, np.zeros_like(slip)) for k, dx in ((0, 1.4 * u), (1, 0), (2, -1.4 * u))], -1
    )
    rows = np.nonzero(piece.art.cover.max(1) > 0.5)[0]
    foot = float(rows[-1]) if len(rows) else float(height)
    if piece.backdrop is not None:
        out = piece.behind(1.1) * 0.8
    else:
        out = _stage(piece, torn, beam, foot)
    out = out + 1.15 * torn + 0.30 * blur(torn, 5 * u) + 0.34 * broad(torn, 18 * u) + 0.40 * broad(torn, 60 * u)
    return piece.finished(out, 1.1, 0.05, 0.3)


LOOK = material(
    "hologram",
    "Hologram",
    "Standing light in scan lines over a lit disc in a dark room.",
    paint,
    1.0,
)
