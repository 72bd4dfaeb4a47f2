"""What the readings see of one picture: directions of its edges at three scales, blind to tone, hue and polarity.

Sources
-------
1. J. Bigun, G. Granlund, "Optimal orientation detection of linear symmetry", 1987 (structure tensor, double angle).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, f32, summed
from ..maths.blur import blur
from ..maths.colour import bytes_to_lab

SIDE = 256
LEVELS = 3
# Opponent channels count double: hue edges are seen, though their steps are small.
_CHANNELS = np.array([1, 2, 2], f32)
# Contrast at which an edge counts half: the mean of its surroundings, never below this.
_LEAST_CONTRAST = 0.004
_LOCAL_SHARE = 0.7
_SALIENT_PERCENTILE, _SALIENT_LEAST, _SALIENT_POWER = 98, 0.015, 1.5


@dataclass(frozen=True)
class Features:
    """One picture at the size of the readings.

    Attributes
    ----------
    lab : (h, w, 3) OKLab, long side 256. steps : edge directions of the picture's pyramid at 128, 64, 32 px,
    each (h, w, 2), a double-angle vector of length 0..1. traces : the fine directions pooled down to the same
    sizes; they survive where a step has become a line. salience : how much each place matters, 0..1.
    edges : (h, w) uint8 edge map at 256 px, for finding what has moved.
    """

    lab: Float
    steps: tuple[Float, ...]
    traces: tuple[Float, ...]
    salience: tuple[Float, ...]
    edges: Byte

    @property
    def size(self) -> tuple[int, int]:
        """Width and height."""
        return self.lab.shape[1], self.lab.shape[0]


def reading_size(height: int, width: int) -> tuple[int, int]:
    """Width and height at which pictures of this shape are read."""
    scale = SIDE / max(height, width)
    return max(16, round(width * scale)), max(16, round(height * scale))


def _down(image: Float) -> Float:
    return cv2.pyrDown(image, borderType=cv2.BORDER_REFLECT)


def _tensor(image: Float) -> tuple[Float, Float, Float]:
    smooth = blur(image, 1.2)
    gx, gy = cv2.Sobel(smooth, -1, 1, 0, scale=0.25), cv2.Sobel(smooth, -1, 0, 1, scale=0.25)
    return summed(gx * gx), summed(gy * gy), summed(gx * gy)


def _directions(xx: Float, yy: Float, xy: Float) -> tuple[Float, Float]:
    """Double-angle vectors weighted by strength against the local contrast, and that strength."""
    total = xx + yy + f32(1e-12)
    magnitude = np.sqrt(total)
    local = np.sqrt(blur(total, 8.0) + f32(0.25) * total.mean()) + f32(_LEAST_CONTRAST)
    strength = magnitude / (magnitude + f32(_LOCAL_SHARE) * local)
    share = strength / total
    return blur(np.stack([(xx - yy) * share, 2 * xy * share], -1), 1.0), strength


def _salience(xx: Float, yy: Float, xy: Float) -> Float:
    """Strong edges that agree on a direction over a few pixels."""
    a, b, c = blur(xx, 2.0), blur(yy, 2.0), blur(xy, 2.0)
    total = a + b
    weight = np.sqrt(total) * (np.sqrt((a - b) ** 2 + 4 * c * c) / (total + f32(1e-9)))
    unit = max(float(np.percentile(weight[::2, ::2], _SALIENT_PERCENTILE)), _SALIENT_LEAST)
    return (np.clip(weight / f32(unit), 0, 1) ** _SALIENT_POWER).astype(f32)


def read_features(rgb: Byte, size: tuple[int, int] | None = None) -> Features:
    """Features of an (h, w, 3) uint8 picture. About 12 ms at 512 px.

    Parameters
    ----------
    size : width and height to read at, when this picture is compared with another; its own by default.
    """
    size = size or reading_size(*rgb.shape[:2])
    if (rgb.shape[1], rgb.shape[0]) != size:
        smaller = rgb.shape[1] > size[0]
        rgb = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA if smaller else cv2.INTER_CUBIC)
    lab = bytes_to_lab(rgb)
    image = lab * _CHANNELS
    steps, salience = [], []
    edges = np.zeros(lab.shape[:2], np.uint8)
    for level in range(LEVELS + 1):
        tensor = _tensor(image)
        vectors, strength = _directions(*tensor)
        steps.append(vectors)
        if level == 0:
            edges = (np.clip(blur(strength, 1.5), 0, 1) * 255).astype(np.uint8)
        else:
            salience.append(_salience(*tensor))
        image = _down(image)
    traces = [0.5 * _down(steps[0]) + 0.5 * steps[1]]
    for _ in range(LEVELS - 1):
        traces.append(_down(traces[-1]))
    return Features(lab, tuple(steps[1:]), tuple(traces), tuple(salience), edges)
