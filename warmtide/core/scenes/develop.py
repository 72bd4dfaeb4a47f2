"""From light to a picture: exposure, a filmic curve, eyes that lose colour by night.

Sources
-------
1. K. Narkowicz, "ACES filmic tone mapping curve", 2016 (the rational fit).
2. F. Durand, J. Dorsey, "Fast bilateral filtering for the display of high-dynamic-range images", 2002 (a coarse base).
"""

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.blur import blur
from .view import Drawn, encoded

# Geometric mean a picture is exposed to.
_EXPOSURE = {"night": 0.055, "dusk": 0.12, "sunset": 0.16, "golden": 0.17, "morning": 0.20}
_STRIP = 32
_LOW_SUN = ("golden", "sunset", "dusk")


def bloom(picture: Float, above: float = 0.9, amount: float = 0.35) -> Float:
    """What shines spreads around itself in four widths."""
    height, width = picture.shape[:2]
    shining = np.minimum(np.maximum(picture - f32(above), 0), 8)
    spread = np.zeros_like(picture)
    for sigma, share in ((2, 0.5), (6, 0.3), (18, 0.25), (50, 0.18)):
        by = 1 if sigma < 4 else 2 if sigma < 10 else 4 if sigma < 30 else 8
        size = max(width // by, 2), max(height // by, 2)
        small = cv2.resize(shining, size, interpolation=cv2.INTER_AREA)
        wide = blur(small, sigma * width / 768 / by)
        spread += f32(share) * cv2.resize(wide, (width, height), interpolation=cv2.INTER_LINEAR)
    return (picture + f32(amount) * spread).astype(f32)


def _grey(picture: Float) -> Float:
    """The mean of three channels, (h, w): added plane by plane, a tenth of the time of a sum along the last axis."""
    return np.asarray((picture[..., 0] + picture[..., 1] + picture[..., 2]) / f32(3), f32)


def _curve(light: AnyArray) -> AnyArray:
    x = np.maximum(light, 0)
    return np.asarray((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14))


def develop(drawn: Drawn, contrast: float = 1.05) -> Float:
    """A drawn scene as sRGB 0..1, (h, w, 3). About 40 ms at 512 px."""
    picture, light = drawn.picture, drawn.light
    height, width = picture.shape[:2]
    level = drawn.level if drawn.level is not None else 0.62 if light.time in _LOW_SUN else 0.8
    shown = picture
    if level < 1:
        logs = np.log(np.maximum(_grey(picture), 1e-4)).astype(f32)
        small = cv2.resize(logs, (max(width // 4, 1), max(height // 4, 1)), interpolation=cv2.INTER_AREA)
        base = cv2.resize(blur(small, width / 60), (width, height), interpolation=cv2.INTER_CUBIC)
        shown = picture * np.exp((level - 1) * (base - f32(np.median(base))))[..., None]
    if light.time == "night":
        grey = _grey(shown)[..., None]
        share = 0.5 / (1 + (grey * 9) ** 2)
        shown = shown * (1 - share) + grey * np.array([0.82, 0.95, 1.25], f32) * share
    grey = _grey(shown)[..., None]
    key = drawn.exposure
    if key is None:
        dull = {"storm": 0.15, "overcast": 0.24}.get(light.sky, 0.215)
        key = _EXPOSURE.get(light.time, dull)
    gain = key / float(np.exp(np.log(np.maximum(grey, 1e-4)).mean()))
    rich = 0.98 if light.time == "day" else 1.05
    out = np.empty((height, width, 3), f32)
    for top in range(0, height, _STRIP):
        # In strips that stay in the processor's cache.
        view = np.s_[top : top + _STRIP]
        graded = np.maximum(grey[view] + (shown[view] - grey[view]) * rich, 0) * gain
        out[view] = np.clip(0.45 + (encoded(_curve(graded)) - 0.45) * contrast, 0, 1)
    return out
