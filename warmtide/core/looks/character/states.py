"""What a person's features look like, measured on the upright chart: irises, gaze, lids, brows, lips, teeth, beard, glasses."""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...understanding.people.features import BROWS, CHEEKS, CHIN, EYES, LIPS, MOUTH
from ...understanding.people.outlines import filled, ring_of
from .head import CHART, CHART_SIDE, Head

_SHAPE = (CHART_SIDE, CHART_SIDE)
_LOWER_FACE = (202, 204, 194, 201, 200, 421, 418, 424, 422, 378, 400, 377, CHIN, 148, 176, 149)
_FOREHEAD = (151, 337, 299, 9, 69, 108)
_BRIDGE = (168, 6, 122, 351, 193, 417)
_UNDER_EYES = (111, 117, 118, 119, 340, 346, 347, 348, 31, 228, 229, 230, 261, 448, 449, 450)
_EYE_WINDOW = 109


@dataclass(frozen=True, eq=False)
class Glasses:
    """`sure` 0..1; `frames`: top, bottom, outer and inner edge of both boxes from the middle of the eye, in head widths."""

    sure: float
    frames: tuple[float, float, float, float]
    colour: AnyArray


@dataclass(frozen=True, eq=False)
class States:
    """A person's features.

    Attributes
    ----------
    tone : skin, OKLab. iris, brow, lip : colours. lids : 1 open, 0 closed; opened : height of the eyes over their width.
    gaze : where they look, -1..1 in eye widths. browed : how much darker than the skin brows are. brow_map, teeth_map :
    on the chart, 0..1. gap : how far the lips are apart, in mouth widths; teeth : share of that which is teeth.
    beard : 0..1. glasses : or None.
    """

    tone: AnyArray
    iris: AnyArray
    lids: float
    opened: float
    gaze: float
    brow: AnyArray
    browed: float
    brow_map: Float
    lip: AnyArray
    gap: float
    teeth: float
    teeth_map: Float
    beard: float
    glasses: Glasses | None


# How much less yellow than the skin in its light an iris is that is surely, and surely not, blue or grey.
_COOL = (-0.020, -0.006)
# Yellow and red of its own up to which it may be: the sky in a dark brown iris makes that cooler than skin, never neutral.
_NEUTRAL = (0.005, 0.014)
_RED = (0.016, 0.024)


@dataclass(frozen=True)
class _Eye:
    width: float
    opened: float
    gaze: float
    colour: AnyArray
    contrast: float
    drop: float


def states_of(head: Head, lab: Float, hair: Float, tone: AnyArray) -> States:
    """Measure one head of a picture (h, w, 3) OKLab. 15 ms."""
    chart = head.charted(lab)
    points = head.charted_points
    eyes = [_eye(chart, points, lids, tone) for lids in EYES]
    # The eye that is turned to us knows better.
    near = np.array([eye.width for eye in eyes]) ** 3
    near = near / near.sum()

    def mean(name: str) -> AnyArray:
        return sum(share * np.asarray(getattr(eye, name)) for eye, share in zip(eyes, near, strict=True))  # type: ignore[return-value]

    # An open eye is dark under its upper lid and has black and white in it; a closed one is dark along the lower lid.
    lids = float(1 - smoothstep(0.03, 0.10, float(mean("drop") + 0.5 * (0.35 - mean("contrast")))))
    size = max(eye.width for eye in eyes) * head.width / CHART
    brow, browed, brow_map = _brows(chart, points, tone, head.charted(hair))
    gap, teeth, teeth_map = _mouth(chart, points, tone)
    lower = filled(_SHAPE, [points[list(_LOWER_FACE)]]) > 0.5
    deep = float(np.median(chart[lower][:, 0])) if int(lower.sum()) > 3 else float(tone[0])
    return States(
        tone=tone, iris=_iris(mean("colour"), tone, size), lids=lids, opened=float(mean("opened")), gaze=float(mean("gaze")),
        brow=brow, browed=browed, brow_map=brow_map, lip=_lip(chart, points), gap=gap, teeth=teeth, teeth_map=teeth_map,
        beard=_beard(chart, points, tone, deep), glasses=_glasses(chart, points, head.width),
    )  # fmt: skip


def _eye(chart: Float, points: AnyArray, lids: tuple[tuple[int, ...], tuple[int, ...]], tone: AnyArray) -> _Eye:
    upper, lower = (points[list(line)] for line in lids)
    width = max(float(np.hypot(*(upper[0] - upper[-1]))), 1e-3)
    height = float(np.mean([np.hypot(*(a - b)) for a, b in zip(upper[3:6], lower[3:6], strict=True)]))
    rows, columns = np.nonzero(filled(_SHAPE, [ring_of(lids, points, 0.92)]) > 0.4)
    if len(columns) < 8:
        return _Eye(width, 0.3, 0.0, tone * 0.4, 1.0, -0.2)
    colours, middle = chart[rows, columns], np.concatenate([upper, lower]).mean(0)
    along, up = (columns - middle[0]) / width, (rows - middle[1]) / width
    dark = np.clip(np.percentile(colours[:, 0], 55) - colours[:, 0], 0, None) ** 1.5 * np.exp(-((along / 0.30) ** 2))
    gaze = float(np.clip(1.25 * (along * dark).sum() / max(float(dark.sum()), 1e-6), -0.2, 0.2))
    colour = _iris_seen(colours, np.hypot(along - gaze, up), tone)
    low, high = np.percentile(up, [35, 65])
    drop = (colours[up < low, 0].mean() - colours[up > high, 0].mean()) / tone[0]
    contrast = float(np.ptp(np.percentile(colours[:, 0], [3, 97])) / tone[0])
    return _Eye(width, height / width, gaze, colour, contrast, float(drop))


def _iris_seen(colours: AnyArray, away: AnyArray, tone: AnyArray) -> AnyArray:
    """The iris between its pupil and the white, as it is seen."""
    ring = colours[(away > 0.05) & (away < 0.20)]
    shade = ring[:, :1] / tone[0]
    hue = np.hypot(*(ring[:, 1:] - tone[1:] * shade).T)
    white = (ring[:, 0] > 0.82 * tone[0]) & (np.hypot(ring[:, 1], ring[:, 2]) < 0.6 * float(np.hypot(*tone[1:])) + 0.01)
    # A lid's rim has the skin's hue in its light; so has a brown iris, but it is deeper.
    lid = (ring[:, 0] > 0.72 * tone[0]) & (hue < 0.022)
    ring = ring[~white & ~lid]
    if len(ring) < 6:
        return np.asarray(np.median(colours, 0))
    # The darker third is pupil, rim and lashes, the lightest tenth the light in it.
    low, high = np.percentile(ring[:, 0], [35, 90])
    return np.asarray(np.median(ring[(ring[:, 0] >= low) & (ring[:, 0] <= high)], 0))


def _iris(colour: AnyArray, tone: AnyArray, size: float) -> AnyArray:
    """An iris's colour: brown by its depth, or blue, green and grey by its own hue where it is seen large enough to be
    told. In lamplight a grey iris looks grey beside warm skin: hues are told against what the skin has of the light."""
    _, red, yellow = colour - tone * colour[0] / tone[0]
    green = 1 - float(smoothstep(-0.048, -0.028, red))
    blue = (1 - float(smoothstep(*_COOL, yellow))) * (1 - float(smoothstep(*_NEUTRAL, colour[2])))
    blue *= 1 - float(smoothstep(*_RED, colour[1]))
    pale = max(green, blue) * float(smoothstep(7, 13, size))
    depth = float(smoothstep(0.35, 0.7, colour[0] / tone[0]))
    brown = np.array([0.40, 0.040, 0.070]) * (0.72 + 0.4 * depth)
    cool = colour[2] - 0.6 * blue * tone[2] * colour[0] / tone[0]
    light = np.array([0.50 + 0.12 * depth, np.clip(1.5 * colour[1], -0.065, 0.0), np.clip(1.5 * cool, -0.085, 0.055)])
    return np.asarray((1 - pale) * brown + pale * light)


def _brows(chart: Float, points: AnyArray, tone: AnyArray, hair: Float) -> tuple[AnyArray, float, Float]:
    """Colour of the brows, how much darker than the skin they are, and the person's own map of them."""
    light, own, told = np.ascontiguousarray(chart[..., 0]), np.zeros(_SHAPE, f32), []
    for brow in BROWS:
        mask = filled(_SHAPE, [ring_of(brow, points)])
        some = chart[mask > 0.4] if int((mask > 0.4).sum()) > 4 else (tone - np.array([0.2, 0, 0]))[None]
        dark = some[some[:, 0] <= np.percentile(some[:, 0], 60)].mean(0)
        around = (cv2.dilate(mask, np.ones((17, 17))) > 0.5) & (mask < 0.1) & (hair < 0.3)
        bright = float(np.percentile(light[around], 60)) if int(around.sum()) > 5 else float(tone[0])
        wide = blur(filled(_SHAPE, [ring_of(brow, points, 1.08)]), 3.5)
        share = smoothstep(0.25, 0.75, (bright - light) / max(bright - float(dark[0]), 0.05))
        own = np.maximum(own, smoothstep(0.22, 0.45, wide) * share)
        told.append(np.r_[tone[0] * min(dark[0] / bright, 0.97), dark[1:], bright - dark[0]])
    mean = np.mean(told, 0)
    return mean[:3], float(mean[3]), own.astype(f32)


def _mouth(chart: Float, points: AnyArray, tone: AnyArray) -> tuple[float, float, Float]:
    """How far the lips are apart, share of teeth between them, and where those are."""
    inside = filled(_SHAPE, [ring_of(MOUTH, points)])
    wide = max(float(np.hypot(*(points[MOUTH[0][0]] - points[MOUTH[0][-1]]))), 1.0)
    gap = float(np.mean([np.hypot(*(points[i] - points[j])) for i, j in ((82, 87), (13, 14), (312, 317))])) / wide
    light, teeth = chart[..., 0], np.zeros(_SHAPE, f32)
    seen = light[inside > 0.5]
    if len(seen) > 5 and gap > 0.05:
        low, high = np.percentile(seen, [5, 92])
        if high > max(0.55 * tone[0], 0.42):
            pale = np.hypot(chart[..., 1], chart[..., 2]) < 0.95 * float(np.hypot(*tone[1:])) + 0.012
            teeth = (inside * smoothstep(0.25, 0.6, (light - low) / max(float(high - low), 0.12)) * pale).astype(f32)
    share = float(teeth.sum() / max(float(inside.sum()), 1.0))
    # A smile shows a whole row even where shade hides part of it.
    whole = share > (0.10 if gap < 0.13 else 0.28 if gap < 0.24 else 0.62)
    return gap, share, np.maximum(teeth, inside) if whole else teeth


def _lip(chart: Float, points: AnyArray) -> AnyArray:
    told = []
    for outer, inner in zip(LIPS, MOUTH, strict=True):
        middle = (0.5 * (points[list(outer)] + points[list(inner)]))[2:-2].astype(int).clip(0, CHART_SIDE - 1)
        told.append(np.median(chart[middle[:, 1], middle[:, 0]], 0))
    return np.asarray(np.mean(told, 0))


def _beard(chart: Float, points: AnyArray, tone: AnyArray, deep: float) -> float:
    """Whether hair grows on the chin: darker than the cheeks, or of another colour and rough where it is grey."""
    dark = 1 - smoothstep(0.62, 0.75, deep / float(tone[0]))
    light = np.ascontiguousarray(chart[..., 0])
    rough = np.abs(light - blur(light, 2.5))
    chin = filled(_SHAPE, [points[list(_LOWER_FACE)]]) > 0.5
    brow = filled(_SHAPE, [points[list(_FOREHEAD)]]) > 0.5
    cheeks = filled(_SHAPE, [points[list(c)] for c in CHEEKS]) > 0.5
    if min(int(part.sum()) for part in (chin, brow, cheeks)) < 20:
        return float(dark)
    chroma = np.hypot(chart[..., 1], chart[..., 2])
    pale = 1 - smoothstep(0.58, 0.82, float(np.median(chroma[chin])) / max(float(np.median(chroma[cheeks])), 0.02))
    # A cap may lie on the forehead: the calmer of the two is bare skin.
    bare = max(min(float(rough[brow].mean()), float(rough[cheeks].mean())), 0.004)
    coarse = smoothstep(2.4, 3.8, float(rough[chin].mean()) / bare)
    return float(max(dark, min(pale, coarse)))


def _glasses(chart: Float, points: AnyArray, width: float) -> Glasses | None:
    """Dark lines over the bridge of the nose and under both eyes; two boxes fitted to them."""
    light = np.ascontiguousarray(chart[..., 0])
    lines = cv2.morphologyEx(light, cv2.MORPH_BLACKHAT, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (9, 9)))
    most = cv2.dilate(lines, np.ones((11, 11)))

    def at(places: tuple[int, ...]) -> float:
        where = points[list(places)].astype(int).clip(0, CHART_SIDE - 1)
        return float(most[where[:, 1], where[:, 0]].mean())

    # Thin frames fade in small faces.
    weak = float(np.clip(width / 120, 0.6, 1))
    sure = float(smoothstep(0.13 * weak, 0.19 * weak, min(at(_BRIDGE), 1.6 * at(_UNDER_EYES))))
    if sure < 0.3:
        return None
    lines = (lines / (blur(light, 6.4) + f32(0.08))).astype(f32)
    grid = np.linspace(-0.34, 0.34, _EYE_WINDOW)
    boxes, dark = [], []
    for side, lids in enumerate(EYES):
        middle = points[list(lids[0] + lids[1])].mean(0)
        place = (float(middle[0]), float(middle[1]))
        near = cv2.getRectSubPix(lines, (_EYE_WINDOW, _EYE_WINDOW), place)
        rows, columns = near[:, np.abs(grid) < 0.11].mean(1), near[np.abs(grid - 0.02) < 0.07].mean(0)
        way = -1 if side == 0 else 1
        boxes.append(
            [
                _peak(grid, rows, -0.155, -0.05, -0.10), _peak(grid, rows, 0.05, 0.19, 0.10),
                _peak(grid, columns[::way], 0.11, 0.30, 0.19), _peak(grid, columns[::-way], 0.10, 0.22, 0.15),
            ]
        )  # fmt: skip
        colours = cv2.getRectSubPix(chart, (_EYE_WINDOW, _EYE_WINDOW), place)
        dark.append(np.percentile(colours[near > np.percentile(near, 93)], 30, 0))
    found = np.array(boxes)
    weights = found[..., 1].sum(1)[:, None] + 1e-6
    top, bottom, outer, inner = (float(v) for v in (found[..., 0] * weights).sum(0) / weights.sum())
    return Glasses(sure, (top, bottom, outer, inner), np.mean(dark, 0) * np.array([0.75, 1, 1]))


def _peak(grid: AnyArray, profile: AnyArray, low: float, high: float, wanted: float) -> tuple[float, float]:
    """Where a profile is darkest near a wanted place, and how dark."""
    weighed = profile * np.exp(-(((grid - wanted) / 0.07) ** 2)) * ((grid > low) & (grid < high))
    return float(grid[weighed.argmax()]), float(weighed.max())
