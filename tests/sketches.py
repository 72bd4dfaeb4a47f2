"""Ten made-up sketches with hand-like wobble, and where their areas truly are.

A sketch is a stack of closed shapes in a square of 100; what a later one covers is not drawn. Pencil, pen and marker
on paper that is lit from one side, smudged, with construction lines.
"""

import math
from dataclasses import dataclass
from itertools import pairwise

import cv2
import numpy as np

from warmtide.core.maths.arrays import Byte, Int
from warmtide.core.maths.gaussian import smooth_field

Points = list[tuple[float, float]]


def _oval(cx: float, cy: float, a: float, b: float, count: int = 48) -> Points:
    return [
        (cx + a * math.cos(2 * math.pi * k / count), cy + b * math.sin(2 * math.pi * k / count)) for k in range(count)
    ]


def _box(x: float, y: float, w: float, h: float) -> Points:
    return [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]


def _bow(a: tuple[float, float], b: tuple[float, float], by: float, count: int = 14) -> Points:
    """A curve from a to b that bulges `by` to the left of the way."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = math.hypot(dx, dy)
    found = []
    for k in range(count):
        t = k / (count - 1)
        bulge = 4 * t * (1 - t) * by / length
        found.append((a[0] + t * dx + dy * bulge, a[1] + t * dy - dx * bulge))
    return found


SKETCHES: dict[str, list[Points]] = {
    "crate": [[(20, 45), (50, 58), (50, 88), (20, 74)], [(50, 58), (82, 44), (82, 72), (50, 88)], [(20, 45), (52, 33), (82, 44), (50, 58)]],
    "mug": [_oval(76, 52, 14, 16), _oval(75, 52, 7, 9), [(24, 28), (66, 28), (64, 78), (26, 78)], _oval(45, 28, 21, 6)],
    "house": [_box(22, 46, 56, 40), [(16, 46), (50, 18), (84, 46)], _box(44, 62, 12, 24), _box(28, 54, 10, 10), _box(62, 54, 10, 10)],
    "boat": [[*_bow((8, 58), (92, 54), -9), (80, 80), (22, 82)], _box(36, 42, 24, 18), [(50, 10), (50, 40), (24, 40)], [(53, 14), (84, 44), (53, 40)]],
    "lantern": [_oval(50, 14, 7, 7), [(34, 28), (50, 20), (66, 28)], [(34, 28), (66, 28), (70, 72), (30, 72)], _box(26, 72, 48, 10), [*_bow((50, 40), (50, 64), -8), *_bow((50, 64), (50, 40), -8)]],
    "fish": [[*_bow((12, 50), (72, 50), 20), *_bow((72, 50), (12, 50), 20)], [(68, 50), (90, 32), (84, 50), (90, 68)], _oval(26, 46, 4, 4)],
    "teapot": [[(72, 50), (90, 36), (94, 40), (78, 64)], _oval(48, 58, 30, 24), _oval(48, 34, 16, 5), _oval(48, 27, 4, 4)],
    "truck": [_box(10, 34, 50, 36), [(60, 46), (78, 46), (90, 58), (90, 70), (60, 70)], [(64, 49), (76, 49), (84, 57), (64, 57)], _oval(26, 72, 9, 9), _oval(74, 72, 9, 9), _oval(26, 72, 4, 4), _oval(74, 72, 4, 4)],
    "mushroom": [[(42, 52), (58, 52), (62, 86), (38, 86)], [*_bow((16, 54), (84, 54), 30), *_bow((84, 54), (16, 54), 3)], _oval(38, 38, 5, 4), _oval(58, 34, 6, 5)],
    "tower": [[(36, 24), (64, 24), (70, 88), (30, 88)], _box(32, 18, 36, 8), [(36, 18), (50, 4), (64, 18)], [(35, 40), (65, 40), (66, 52), (34, 52)], _box(46, 68, 9, 20)],
}  # fmt: skip


@dataclass(frozen=True)
class Drawn:
    """A sketch (h, w, 3), and the shape of every pixel, 0 for none."""

    picture: Byte
    truth: Int


def _dense(points: Points, scale: float) -> np.ndarray:
    corners = np.array([*points, points[0]], float) * scale
    steps = [np.linspace(a, b, max(int(np.hypot(*(b - a)) / 2), 2), endpoint=False) for a, b in pairwise(corners)]  # fmt: skip
    return np.concatenate([*steps, corners[:1]])


def sketch(name: str, size: int = 512, style: str = "pencil", seed: int = 1, gaps: float = 0.03) -> Drawn:
    """Draw a sketch. style : pencil, pen or marker. gaps : share of an outline that is left out."""
    random = np.random.default_rng([seed, *name.encode()])
    scale = size / 100
    truth = np.zeros((size, size), np.int32)
    for k, shape in enumerate(SKETCHES[name]):
        cv2.fillPoly(truth, [np.round(np.array(shape) * scale).astype(np.int32)], k + 1)
    wide, dark, passes = {"pencil": (0.22, 0.5, 3), "pen": (0.3, 0.95, 1), "marker": (0.8, 0.9, 1)}[style]
    ink = np.zeros((size, size), np.float32)
    for k, shape in enumerate(SKETCHES[name]):
        line = _dense(shape, scale)
        inward = np.array(shape).mean(0) * scale
        for _ in range(passes):
            wander = np.stack([np.interp(np.linspace(0, 1, len(line)), np.linspace(0, 1, 9), random.normal(0, 0.25 * scale, 9)) for _ in range(2)], 1)  # fmt: skip
            moved = line + wander
            left_out = np.interp(np.arange(len(line)), np.linspace(0, len(line), 60), random.random(60)) < gaps
            layer = np.zeros_like(ink)
            for a, b, base, skip in zip(moved[:-1], moved[1:], line[:-1], left_out[:-1], strict=True):
                # A little inside of the shape: is it seen there, or covered?
                y, x = np.clip((base + 0.04 * (inward - base))[::-1], 0, size - 1).astype(int)
                if skip or (truth[y, x] not in (0, k + 1) and truth[y, x] > k + 1):
                    continue
                ends = [tuple(int(v * 8) for v in p) for p in (a, b)]
                cv2.line(
                    layer,
                    ends[0],
                    ends[1],
                    float(dark * random.uniform(0.85, 1.1)),
                    max(1, round(wide * scale)),
                    cv2.LINE_AA,
                    3,
                )
            ink = np.maximum(ink, layer) if passes == 1 else 1 - (1 - ink) * (1 - 0.75 * layer)
    for _ in range(4 if style == "pencil" else 1):
        a, b = random.uniform(5, 95, 2) * scale
        ends = (
            ((int(4 * scale), int(a)), (int(96 * scale), int(a + random.normal(0, 3))))
            if random.random() < 0.5
            else ((int(b), int(4 * scale)), (int(b), int(96 * scale)))
        )
        layer = np.zeros_like(ink)
        cv2.line(layer, *ends, 0.14, 1, cv2.LINE_AA)
        ink = np.maximum(ink, layer)
    grain = smooth_field(random, size, size, 2)
    if style == "pencil":
        ink = ink * (0.72 + 0.28 * np.clip(grain, -1, 1))
    ys, xs = np.mgrid[0:size, 0:size] / size
    for _ in range(3):
        x, y = random.uniform(0.2, 0.8, 2)
        ink = ink + 0.09 * np.exp(
            -(((xs - x) / random.uniform(0.05, 0.12)) ** 2 + ((ys - y) / random.uniform(0.03, 0.08)) ** 2)
        )
    paper = np.array((0.95, 0.93, 0.88)) * (1 - 0.25 * random.uniform(0.3, 1) * (0.6 * xs + 0.4 * ys))[..., None]
    paper = paper * (1 + 0.012 * smooth_field(random, size, size, 3))[..., None]
    out = paper * (1 - 0.86 * np.clip(ink, 0, 1))[..., None]
    return Drawn((np.clip(out, 0, 1) * 255 + 0.5).astype(np.uint8), truth)


def leaks(areas: Int, truth: Int) -> float:
    """Share of the drawing that lies in an area which belongs to something else."""
    thing = truth > 0
    count = int(truth.max()) + 1
    pairs = np.bincount(areas.ravel() * count + truth.ravel(), minlength=(int(areas.max()) + 1) * count).reshape(
        -1, count
    )
    # An area belongs to whatever most of it is; the paper around to the paper.
    owner = pairs.argmax(1)
    owner[0] = 0
    wrong = owner[areas] != truth
    return float(wrong[thing].sum() / thing.sum())
