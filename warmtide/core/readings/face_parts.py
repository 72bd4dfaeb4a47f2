"""A face kept, by its points: whether each feature still looks like itself, and how far it has gone from its place.

Sources
-------
1. J. Lewis, "Fast normalized cross-correlation", 1995.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.blur import blur
from ..maths.colour import bytes_to_lab
from ..model.face import Face
from ..understanding.people.features import EARS, EYES, OVAL
from ..understanding.people.outlines import filled, rings_of

# The chart shows a face upright, this many pixels between its ears, in a square this large.
_WIDE, _SIDE = 112, 176
# Features lie between these two blurs of the chart.
_FINE, _BROAD = 1.6, 8.0
# Around a feature, in its own sizes; how far it is looked for, in eye distances.
_GROWN, _SEARCH = 1.45, 0.22
# Up to this many eye distances a feature is in place; this much farther it counts nothing.
_IN_PLACE, _GONE = 0.08, 0.22
# Correlation of features of different people by part (the median of 130 pairs), and one that is as good as any.
_CHANCE = {"left eye": 0.70, "right eye": 0.70, "brows": 0.52, "nose": 0.42, "mouth": 0.47}
_FULL = 0.93
# A feature with this share of the source's contrast counts in full: a wash is paler than a photo.
_CONTRAST, _LEAST = 0.40, 0.004
# Contrast of a feature that is plainly there.
_PLAIN = 0.04
# Of the least kept feature in a face's figure; the rest is their mean.
_WORST = 0.3


@dataclass(frozen=True)
class FaceKept:
    """What was kept of a face: `whole` and each of its `parts` 0..100; `shift` the farthest feature's, percent of the eye
    distance."""

    whole: float
    parts: dict[str, float]
    shift: float


@dataclass(frozen=True)
class _Chart:
    """From pixels of the chart to those of the picture: `turn` (2, 2) and `shift` (2,)."""

    turn: AnyArray
    shift: AnyArray

    @classmethod
    def of(cls, places: AnyArray) -> "_Chart":
        across = places[EYES[1][0][0], :2] - places[EYES[0][0][0], :2]
        right = across / (np.hypot(*across) + 1e-9)
        ears = places[EARS[1]] - places[EARS[0]]
        scale = float(np.sqrt((ears**2).sum())) / _WIDE
        turn = np.column_stack([right, (-right[1], right[0])]) * scale
        return cls(turn, places[list(OVAL), :2].mean(0) - turn @ (_SIDE / 2, _SIDE / 2))

    def points(self, places: AnyArray) -> AnyArray:
        return (places[:, :2] - self.shift) @ np.linalg.inv(self.turn).T

    def shown(self, rgb: Byte) -> Float:
        """The features of a picture (h, w, 3) in the chart, lightness between two blurs."""
        corners = np.array([(0, 0), (_SIDE, 0), (0, _SIDE), (_SIDE, _SIDE)]) @ self.turn.T + self.shift
        height, width = rgb.shape[:2]
        left, top = np.clip(np.floor(corners.min(0)) - 8, 0, (width - 2, height - 2)).astype(int)
        right, bottom = np.clip(np.ceil(corners.max(0)) + 8, (left + 2, top + 2), (width, height)).astype(int)
        light = np.ascontiguousarray(bytes_to_lab(np.ascontiguousarray(rgb[top:bottom, left:right]))[..., 0])
        scale = float(np.sqrt(abs(np.linalg.det(self.turn))))
        if scale > 1.5:
            light = blur(light, 0.4 * scale)
        matrix = np.column_stack([self.turn, self.shift - (left, top)])
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        chart = cv2.warpAffine(light, matrix, (_SIDE, _SIDE), flags=flags, borderMode=cv2.BORDER_REPLICATE)
        return blur(chart, _FINE) - blur(chart, _BROAD)


def _contrast(features: Float, mask: Float) -> float:
    total = float(mask.sum()) + 1e-9
    mean = float((mask * features).sum()) / total
    return float(np.sqrt((mask * (features - mean) ** 2).sum() / total))


def _matched(core: Float, mask: Float, where: Float, near: Float) -> tuple[float, int, int]:
    """The best correlation in a search, less the farther, and where it lies."""
    found = np.nan_to_num(cv2.matchTemplate(where, core, cv2.TM_CCOEFF_NORMED, mask=mask), nan=0, posinf=0, neginf=0)
    y, x = np.unravel_index(int((found - near).argmax()), found.shape)
    return float(found[y, x]), int(y), int(x)


def _part(
    first: Float, second: Float, mask: Float, chance: float, reach: int, eyes: float
) -> tuple[float, float, float] | None:
    """Share of a feature that was kept, 0..1, how far it went in eye distances, its contrast; None where it had none."""
    rows, columns = np.flatnonzero(mask.max(1) > 0.5), np.flatnonzero(mask.max(0) > 0.5)
    if len(rows) < 3 or len(columns) < 3:
        return None
    top, bottom = max(int(rows[0]) - 1, reach), min(int(rows[-1]) + 2, _SIDE - reach)
    left, right = max(int(columns[0]) - 1, reach), min(int(columns[-1]) + 2, _SIDE - reach)
    if bottom - top < 3 or right - left < 3:
        return None
    core, own = (np.ascontiguousarray(plane[top:bottom, left:right]) for plane in (first, mask))
    where = np.ascontiguousarray(second[top - reach : bottom + reach, left - reach : right + reach])
    had = _contrast(core, own)
    if had < _LEAST:
        return None
    ys, xs = np.mgrid[-reach : reach + 1, -reach : reach + 1].astype(f32)
    # Of two that fit alike the nearer is it.
    near = (0.25 * np.hypot(ys, xs) / reach).astype(f32)
    # A negative has its features too, and where only lines are left they lie where the features were.
    plain, y, x = max(_matched(core, own, where, near), _matched(core, own, -where, near))
    there, ty, tx = _matched(blur(np.abs(core), 2.0), own, blur(np.abs(where), 2.0), near)
    alike = (plain - chance) / (_FULL - chance)
    marked = (there - chance) / (_FULL - chance)
    if marked > alike:
        y, x = ty, tx
    shift = float(np.hypot(y - reach, x - reach)) / eyes
    has = _contrast(np.ascontiguousarray(where[y : y + core.shape[0], x : x + core.shape[1]]), own)
    seen = min(has / (_CONTRAST * had), 1.0)
    placed = 1 - float(np.clip((shift - _IN_PLACE) / _GONE, 0, 1))
    return float(np.clip(max(alike, marked), 0, 1)) * seen * placed, shift, had


def kept_by_points(source: Byte, take: Byte, face: Face) -> FaceKept | None:
    """What a take has kept of a face with points, or None where nothing can be told. About 8 ms.

    Parameters
    ----------
    source, take : (h, w, 3) uint8 of one shape.
    """
    if face.points is None:
        return None
    places = face.points.places * max(source.shape[:2])
    chart = _Chart.of(places)
    first, second = chart.shown(source), chart.shown(take)
    points = chart.points(places)
    eyes = float(np.hypot(*(points[EYES[1][0][0]] - points[EYES[0][0][0]]))) * 0.7
    reach = max(round(_SEARCH * eyes), 2)
    parts, shifts, weights = {}, [0.0], []
    for name, rings in rings_of(points, _GROWN).items():
        told = _part(first, second, filled((_SIDE, _SIDE), rings), _CHANCE[name], reach, eyes)
        if told is not None:
            parts[name] = round(100 * told[0], 1)
            shifts.append(100 * told[1])
            weights.append(min(told[2] / _PLAIN, 1.0))
    if not parts:
        return None
    values = list(parts.values())
    # Fair brows are hardly there in the source either.
    worst = min((value for value, weight in zip(values, weights, strict=True) if weight > 0.5), default=min(values))
    whole = (1 - _WORST) * float(np.average(values, weights=weights)) + _WORST * worst
    return FaceKept(whole, parts, round(max(shifts), 1))
