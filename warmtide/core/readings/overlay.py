"""The heat as a picture to lay over a take or its source."""

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, f32

# From a faint veil to full: yellow where a little was lost, red where much was. Neutral enough on any ground.
_FAINT, _FULL = np.array([255, 214, 102], f32), np.array([196, 32, 24], f32)
_MOST_ALPHA = 0.78
_REACH = 0.028
# Loss of a place, in average places, that is shown in full.
_TOP, _LEAST_TOP = 2.2, 0.5


def heat_of(kept: Float, weight: Float) -> Float:
    """Loss of each place (h, w) from stored maps 0..1, in units of an average place that is gone."""
    mean = float(weight.mean()) + 1e-9
    lost = weight / f32(mean) * np.clip(1 - kept, 0, 1)
    return cv2.GaussianBlur(lost.astype(f32), (0, 0), max(_REACH * max(kept.shape), 0.8))


def heat_overlay(kept: Float, weight: Float, height: int, width: int) -> Byte:
    """(height, width, 4) uint8, transparent where all was kept. About 5 ms at 512 px."""
    warm = cv2.resize(heat_of(kept, weight), (width, height), interpolation=cv2.INTER_CUBIC)
    # A small loss is shown too, more faintly than a great one.
    t = np.clip(warm / f32(np.clip(1.6 * float(warm.max()), _LEAST_TOP, _TOP)), 0, 1)[..., None]
    colour = _FAINT + t * (_FULL - _FAINT)
    alpha = 255 * _MOST_ALPHA * np.clip(1.6 * t - 0.06, 0, 1)
    return np.concatenate([colour, alpha], -1).astype(np.uint8)
