"""Colour kept: closeness place by place, and of the palettes, in OKLab.

Sources
-------
1. B. Ottosson, 2020 (OKLab): Euclidean distance follows seen difference.
2. J. Rabin et al., "Wasserstein barycenter and its application to texture mixing", 2011 (sliced distance).
"""

from typing import NamedTuple

import cv2
import numpy as np

from ..maths.arrays import Float, f32
from .features import Features
from .kind import ReadingKind

_CELL = 8
_ANGLES = np.arange(8) * np.pi / 8
_SLICES = np.stack([np.cos(_ANGLES), np.sin(_ANGLES)]).astype(f32)
_QUANTILES = (np.arange(33) + 0.5) / 33
# Lightness counts a fifth: a take may be darker and keep its colours.
_LIGHT = 0.2
_PLACE, _PALETTE = 0.6, 0.4
# What unrelated pictures reach; shown as 0.
_UNRELATED = 25.0


def _grid(lab: Float) -> Float:
    """Means of cells of 8 px: 32 on the long side."""
    height, width = lab.shape[:2]
    size = (max(2, round(width / _CELL)), max(2, round(height / _CELL)))
    return cv2.resize(lab, size, interpolation=cv2.INTER_AREA)


def _distance_of_palettes(first: Float, second: Float) -> float:
    """Mean difference of sorted projections."""
    sorted_first = np.sort(first @ _SLICES, axis=0)[(_QUANTILES * len(first)).astype(int)]
    sorted_second = np.sort(second @ _SLICES, axis=0)[(_QUANTILES * len(second)).astype(int)]
    return float(np.abs(sorted_first - sorted_second).mean())


class ColourKept(NamedTuple):
    """What a take kept of the source's colours: 0..100, the mean OKLab difference, its saturation over the source's."""

    kept: float
    difference: float
    saturation: float


def colour_kept(source: Features, take: Features) -> ColourKept:
    """Compare the colours of a take with its source's, both read at one size. About 2 ms."""
    a, b = _grid(source.lab), _grid(take.lab)
    chroma = np.hypot(a[..., 1], a[..., 2])
    # What counts as far depends on how colourful the source is.
    unit = float(np.clip(0.7 * np.sqrt((chroma * chroma).mean()), 0.04, 0.09))
    distance = np.sqrt(((a - b)[..., 1:] ** 2).sum(-1) + (_LIGHT * (a - b)[..., 0]) ** 2)
    weight = 0.25 + np.minimum(chroma / (chroma.mean() + 0.01), 3.0)
    place = float((weight / (1 + (distance / unit) ** 3)).sum() / weight.sum())
    palettes = _distance_of_palettes(a[..., 1:].reshape(-1, 2), b[..., 1:].reshape(-1, 2))
    palette = 1 / (1 + (palettes / (0.5 * unit)) ** 2)
    figure = 100 * (_PLACE * place + _PALETTE * palette)
    difference = float(np.sqrt(((a - b) ** 2).sum(-1)).mean())
    saturation = float(np.sqrt((b[..., 1:] ** 2).sum() / ((a[..., 1:] ** 2).sum() + 1e-6)))
    kept = 100 * min(max((figure - _UNRELATED) / (100 - _UNRELATED), 0.0), 1.0)
    return ColourKept(kept, difference, saturation)


READING = ReadingKind(
    "colour",
    "Colour kept",
    "How near its colours are to the source's, place by place and as a palette.",
    of=lambda pair: pair.colour.kept,
    parts=lambda pair: {
        "colour_difference": round(pair.colour.difference, 4),
        "saturation": round(pair.colour.saturation, 2),
    },
    part_names=("colour_difference", "saturation"),
    place=2,
)
