"""Stained glass: every part panes of coloured glass between leads, in a framed window, daylight behind."""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.outline import distance_in
from ...maths.relief import broad
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from ..shared.shading import Surface, shade
from ..shared.texture import moved
from .look import material
from .workpiece import Workpiece, workpiece

_BORDER, _FRAME = 62, 10
_LARGE, _PANE = 70_000, 52_000
_CLEAR = np.array((0.91, -0.012, 0.004), f32)


def _panes(piece: Workpiece) -> tuple[Int, AnyArray]:
    """Number of the pane of every point, and for every pane its part, -1 for the field around and -2 for the border.

    Glass can't be cut to any shape: large parts are parted again, the field around runs outward in panes.
    """
    art, u, height, width = piece.art, piece.unit, piece.height, piece.width
    random = piece.random("cuts")
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    rows, columns = np.nonzero(art.solid)
    cx, cy = (float(columns.mean()), float(rows.mean())) if len(rows) else (width / 2, height / 2)
    angle, radius = np.arctan2(ys - cy, xs - cx), np.hypot(xs - cx, ys - cy)
    spokes, start = 10, random.uniform(0, 1)
    around = np.floor((angle / (2 * np.pi) + start + 0.012 * np.sin(radius / (90 * u))) * spokes).astype(int) % spokes
    edge = np.minimum(np.minimum(xs, width - 1 - xs), np.minimum(ys, height - 1 - ys))
    beside = np.minimum(xs, width - 1 - xs) < np.minimum(ys, height - 1 - ys)
    along = np.where(beside, ys + (xs > width / 2) * height, xs + 2 * width + (ys > height / 2) * width)
    frame = np.floor(along / (width / 6)).astype(int)
    pane = np.where(
        art.solid, 2000 + art.parts.astype(np.int64) * 64, np.where(edge < _BORDER * u, 1000 + frame, around)
    )
    for k in range(art.count):
        if art.areas[k] < _LARGE * u * u:
            continue
        x, y, wide, tall = (int(v) for v in art.boxes[k])
        view = np.s_[y : y + tall, x : x + wide]
        mine = art.parts[view] == k
        count = max(round(art.areas[k] / (_PANE * u * u)), 1)
        if wide * tall > 3.2 * art.areas[k]:
            cut = np.floor((angle[view] / (2 * np.pi) + 0.5 + start) * max(count, 6)).astype(int)
        else:
            long, other = (xs[view], ys[view]) if wide > tall else (ys[view], xs[view])
            t = (long - (x if wide > tall else y)) / max(wide, tall)
            cut = np.floor(t * count + 0.10 * np.sin(other / (60 * u) + k)).astype(int)
        pane[view] = np.where(mine, 2000 + k * 64 + cut % 60, pane[view])
    names, numbers = np.unique(pane, return_inverse=True)
    part = np.where(names >= 2000, (names - 2000) // 64, np.where(names >= 1000, -2, -1))
    return numbers.reshape(height, width).astype(np.int32), part


def _glass_of(piece: Workpiece, part: AnyArray) -> Float:
    """What passes through each pane (n, 3): the part's colour, deeper, no two panes quite alike."""
    random = piece.random("panes")
    lab = piece.colours.copy()
    lab[:, 0] = np.clip(lab[:, 0] * 0.72 + 0.20, 0.28, 0.93)
    lab[:, 1:] *= f32(1.35)
    rich = piece.art.areas * (1 + 8 * np.hypot(piece.colours[:, 1], piece.colours[:, 2]))
    main = piece.colours[int(rich.argmax())] if piece.art.count else _CLEAR
    border = np.array((0.62, main[1] * 0.75, main[2] * 0.75), f32)
    around = piece.around if np.hypot(piece.around[1], piece.around[2]) > 0.035 else _CLEAR
    table = np.concatenate([lab, [border, np.asarray(around, f32)]])
    panes = table[np.where(part >= 0, part, np.where(part == -2, len(lab), len(lab) + 1))]
    panes = panes + np.stack([random.normal(0, s, len(part)) for s in (0.030, 0.008, 0.010)], 1)
    return np.clip(linear_of(panes), 0.004, 0.96).astype(f32)


def _outside(piece: Workpiece) -> Float:
    """Sky, trees and a low sun, out of focus."""
    height, width = piece.height, piece.width
    if piece.backdrop is not None:
        return piece.behind(0.58)
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    down = (ys / height)[..., None]
    sky = (np.array((1.5, 1.55, 1.6), f32) * (1 - down) + np.array((1.15, 1.12, 1.0), f32) * down) * 1.25
    trees = smoothstep(-0.2, 0.9, piece.clouds("trees", 200) + 2.6 * (ys / height - 0.62))
    x, y = piece.random("sun").uniform(0.25, 0.75), piece.random("sun height").uniform(0.15, 0.4)
    sun = np.exp(-(((xs / width - x) / 0.28) ** 2 + ((ys / height - y) / 0.26) ** 2))
    out = sky * (1 - 0.62 * trees[..., None] * np.array((0.95, 0.72, 1.0), f32))
    return np.asarray(out + 1.1 * sun[..., None] * np.array((1, 0.95, 0.8), f32), f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as a leaded window. About 1.4 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u, height, width = piece.art, piece.unit, piece.height, piece.width
    pane, part = _panes(piece)
    cuts = np.zeros((height, width), bool)
    cuts[:, 1:] |= pane[:, 1:] != pane[:, :-1]
    cuts[1:] |= pane[1:] != pane[:-1]
    cut = distance_in(~cuts)
    outline = np.abs(art.deep - art.away)
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    edge = np.minimum(np.minimum(xs, width - 1 - xs), np.minimum(ys, height - 1 - ys))
    wide = 6.8 * u * (1 + 0.10 * piece.noise("lead", 60)) * np.sqrt(piece.thick)
    # Between narrow parts the lead is narrower, or it would swallow them.
    wide = wide * np.clip(
        0.35 + blur(np.where(art.solid, np.minimum(art.pillows, 24 * u), 24 * u), 8 * u) / (30 * u), 0.45, 1
    )
    lead = np.maximum(np.maximum(wide - cut, np.minimum(8.5 * u, 1.25 * wide) - outline), _FRAME * u - edge)
    metal = smoothstep(-0.8 * u, 0.8 * u, lead)
    raised = 7 * u * np.sqrt(np.clip(1 - (1 - np.clip(lead / wide, 0, 1)) ** 2, 0, 1))
    meeting = sum(
        (np.roll(np.roll(pane, a, 0), b, 1) != pane).astype(f32)
        for a, b in ((7, 0), (-7, 0), (0, 7), (0, -7), (5, 5), (-5, -5), (5, -5), (-5, 5))
    )
    solder = blur(smoothstep(0.25, 0.6, blur((meeting >= 6).astype(f32), 3 * u)), 2.5 * u)
    raised, metal = np.maximum(raised, 9 * u * solder), np.maximum(metal, smoothstep(0.35, 0.6, solder))

    ways = piece.random("ways").integers(0, 4, len(part))[pane]
    streaks, ripples = np.zeros((height, width), f32), np.zeros((height, width), f32)
    for k, angle in enumerate((0.0, 0.8, 1.57, 2.4)):
        mine = ways == k
        streaks[mine] = piece.noise(f"streaks {k}", 240, 34, angle)[mine]
        ripples[mine] = piece.noise(f"ripples {k}", 70, 18, angle)[mine]
    ripples = ripples + f32(0.5 * (1 + max(piece.word("rough"), 0))) * piece.noise("ripples", 24)
    dx, dy = cv2.Sobel(ripples, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(ripples, cv2.CV_32F, 0, 1, scale=0.125)
    behind = moved(blur(_outside(piece), 7 * u), dx * 260 * u * u, dy * 260 * u * u)
    density = np.clip(1 + 0.24 * streaks + 0.06 * ripples, 0.4, 2)
    through = np.exp(np.log(_glass_of(piece, part))[pane] * density[..., None])
    gleam = np.clip(1 + 6.1 * u * (dx * piece.sun[0] + dy * piece.sun[1]), 0.5, 1.8)
    seeds = np.zeros((height, width), f32)
    random = piece.random("seeds")
    for _ in range(420):
        at = int(random.uniform(0, width) * 8), int(random.uniform(0, height) * 8)
        size = random.gamma(2, 0.9) * u + 0.7 * u
        axes = int(size * 8), int(size * 8 * random.uniform(1, 1.9))
        bright, turn = float(random.uniform(0.4, 1)), float(random.uniform(-20, 20))
        cv2.ellipse(seeds, at, axes, turn, 0, 360, bright, max(1, int(1.1 * u)), cv2.LINE_AA, 3)
    light = behind * through * gleam[..., None] * (1 - 0.28 * np.clip(seeds, 0, 1))[..., None] * f32(1.35)
    grime = (0.62 + 0.3 * max(piece.word("wear"), 0)) * np.exp(-np.clip(cut - wide, 0, None) / (7 * u))
    light = light * (1 - np.clip(grime * np.clip(0.7 + 0.3 * piece.noise("grime", 20), 0.2, 1.2), 0, 0.95))[..., None]

    grey = np.array((0.20, 0.205, 0.215), f32) * (1 + 0.16 * piece.clouds("oxide", 18))[..., None]
    grey = np.clip(grey * (1 + smoothstep(0.3, 0.6, solder))[..., None], 0, 1)
    relief = (blur(raised, 0.8 * u) + 0.3 * u * piece.noise("lead grain", 5) * metal).astype(f32)
    lamp = piece.lamp("window", (0.8, 0.8, 0.85), 0.5)
    leads = shade(Surface(relief, grey, piece.rough(0.42), 0.85), lamp, u, 0.8)
    out = light + (0.30 * leads + 0.03 * broad(light, 16 * u) - light) * metal[..., None]
    out = out + 0.045 * broad(light, 9 * u) + 0.04 * broad(light, 40 * u)
    return piece.finished(out, 0.58, 0.10, 0.22, 0.96)


LOOK = material(
    "stained-glass",
    "Stained glass",
    "Panes of streaky coloured glass between leads, a framed window with daylight behind.",
    paint,
    1.4,
)
