"""Look reached: how far a take has come from the source to the look's own full rendering of that source.

Order-free statistics are compared, so that it does not matter which way a seed laid its strokes.

Sources
-------
1. D. Heeger, J. Bergen, "Pyramid-based texture analysis/synthesis", 1995 (band statistics as texture).
"""

from typing import TYPE_CHECKING

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, f32
from ..maths.blur import blur
from ..maths.colour import bytes_to_lab
from ..maths.pyramid import build, planes
from .kind import ReadingKind

if TYPE_CHECKING:
    from .pair import Pair

SIDE = 384
_BANDS = 4
_QUANTILES = (np.arange(16) + 0.5) / 16
# What counts as a full difference: a factor of e in local energy, and these steps of tone and chroma.
_TONE, _CHROMA = 0.10, 0.05
_LEAST_APART = 0.05


def at_reading_size(rgb: Byte) -> Byte:
    """The picture with a long side of at most 384 px."""
    scale = SIDE / max(rgb.shape[:2])
    if scale >= 1:
        return rgb
    size = (max(round(rgb.shape[1] * scale), 8), max(round(rgb.shape[0] * scale), 8))
    return cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)


def statistics(rgb: Byte) -> tuple[AnyArray, ...]:
    """Groups of statistics of an (h, w, 3) uint8 picture: marks by band, tone, colour. About 12 ms at 512 px."""
    lab = bytes_to_lab(rgb)
    bands = build(planes(lab[..., :1] + f32(0)), _BANDS)
    marks = []
    for band in bands[:-1]:
        energy = np.sqrt(blur(band[0] ** 2, 2.0)) + f32(0.004)
        marks.append(np.log(np.quantile(energy[::2, ::2], _QUANTILES)))
        # Pen lines are dark on light, highlights the other way; both have the same energy.
        marks.append(np.array([float((band[0] ** 3).mean()) / (float((band[0] ** 2).mean()) + 1e-5) ** 1.5]))
    tone = np.quantile(lab[::2, ::2, 0], _QUANTILES) / _TONE
    small = cv2.resize(lab, (48, 32), interpolation=cv2.INTER_AREA)
    chroma = np.sort(np.hypot(small[..., 1], small[..., 2]).ravel())[:: 1536 // 16] / _CHROMA
    mean = small[..., 1:].reshape(-1, 2).mean(0) / _CHROMA
    return np.concatenate(marks), tone, np.concatenate([chroma, mean])


def _joined(groups: tuple[AnyArray, ...]) -> AnyArray:
    """Groups side by side, each with the same say."""
    return np.concatenate([group / np.sqrt(len(group)) for group in groups])


def look_reached(source: tuple[AnyArray, ...], take: tuple[AnyArray, ...], full: tuple[AnyArray, ...]) -> float | None:
    """0 (the source) to 100 (the look's full rendering), or None where the look changes nothing to speak of.

    The take is projected on the way from the source to the full rendering: what else has changed neither helps
    nor hurts.
    """
    start, here, end = _joined(source), _joined(take), _joined(full)
    way = end - start
    length = float(way @ way)
    if length < _LEAST_APART**2:
        return None
    return 100 * float(np.clip((here - start) @ way / length, 0, 1))


def _reached(pair: "Pair") -> float | None:
    return (
        None
        if pair.full is None
        else look_reached(pair.source.statistics, statistics(pair.small), pair.full.statistics)
    )


READING = ReadingKind(
    "look",
    "Look reached",
    "How far it has come from the source to what the look makes of it when nothing holds.",
    of=_reached,
    place=3,
)
