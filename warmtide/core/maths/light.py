"""Linear light and the sRGB curve.

Sources
-------
1. IEC 61966-2-1, "Default RGB colour space: sRGB", 1999 (the curve).
"""

import numpy as np

from .arrays import AnyArray, Float, f32
from .colour import to_rgb


def lit(encoded: AnyArray) -> Float:
    """sRGB 0..1 in linear light; any shape."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4).astype(f32)


def shown(light: AnyArray) -> Float:
    """Linear light from 0 up as sRGB; any shape."""
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055).astype(f32)


def linear_of(lab: AnyArray) -> Float:
    """OKLab colours (n, 3) in linear light."""
    return lit(to_rgb(np.asarray(lab, f32)[None])[0])
