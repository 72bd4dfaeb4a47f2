"""sRGB and OKLab.

Sources
-------
1. IEC 61966-2-1:1999, the sRGB transfer curve.
2. B. Ottosson, "A perceptual color space for image processing", 2020 (OKLab).
"""

import numpy as np

from .arrays import Byte, Float, f32
from .jit import kernel

_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
_LMS = _TO_LMS.astype(f32)
_LAB = _TO_LAB.astype(f32)
_LMS_INV = np.linalg.inv(_TO_LMS).astype(f32)
_LAB_INV = np.linalg.inv(_TO_LAB).astype(f32)

_GRID = np.arange(4097) / 4096.0
_DECODE = np.where(_GRID <= 0.04045, _GRID / 12.92, ((_GRID + 0.055) / 1.055) ** 2.4).astype(f32)
_SQUARED = _GRID**2
# The curve is steep near black, so its table is indexed by the square root of linear light.
_ENCODE_BY_ROOT = np.where(_SQUARED <= 0.0031308, _SQUARED * 12.92, 1.055 * _SQUARED ** (1 / 2.4) - 0.055).astype(f32)


@kernel
def _look_up(table, position):  # type: ignore[no-untyped-def]
    at = position * f32(4096)
    i = min(int(at), 4095)
    return table[i] + (at - f32(i)) * (table[i + 1] - table[i])


@kernel
def _cube_root(value):  # type: ignore[no-untyped-def]
    if value <= f32(1e-9):
        return f32(0)
    root = f32(0.09) + value * f32(9)
    if value > f32(0.02):
        root = f32(0.28) + value * (f32(1.5) + value * (f32(-1.2) + value * f32(0.45)))
    for _ in range(4):
        root = root - (root * root * root - value) / (f32(3) * root * root)
    return root


@kernel
def _rgb_to_lab(rgb, out, decode, to_lms, to_lab):  # type: ignore[no-untyped-def]
    for y in range(rgb.shape[0]):
        for x in range(rgb.shape[1]):
            r = _look_up(decode, min(max(rgb[y, x, 0], f32(0)), f32(1)))
            g = _look_up(decode, min(max(rgb[y, x, 1], f32(0)), f32(1)))
            b = _look_up(decode, min(max(rgb[y, x, 2], f32(0)), f32(1)))
            l = _cube_root(to_lms[0, 0] * r + to_lms[0, 1] * g + to_lms[0, 2] * b)
            m = _cube_root(to_lms[1, 0] * r + to_lms[1, 1] * g + to_lms[1, 2] * b)
            s = _cube_root(to_lms[2, 0] * r + to_lms[2, 1] * g + to_lms[2, 2] * b)
            for k in range(3):
                out[y, x, k] = to_lab[k, 0] * l + to_lab[k, 1] * m + to_lab[k, 2] * s


@kernel
def _lab_to_rgb(lab, out, encode, from_lab, from_lms):  # type: ignore[no-untyped-def]
    for y in range(lab.shape[0]):
        for x in range(lab.shape[1]):
            light, a, b = lab[y, x, 0], lab[y, x, 1], lab[y, x, 2]
            l = from_lab[0, 0] * light + from_lab[0, 1] * a + from_lab[0, 2] * b
            m = from_lab[1, 0] * light + from_lab[1, 1] * a + from_lab[1, 2] * b
            s = from_lab[2, 0] * light + from_lab[2, 1] * a + from_lab[2, 2] * b
            l, m, s = l * l * l, m * m * m, s * s * s
            for k in range(3):
                linear = from_lms[k, 0] * l + from_lms[k, 1] * m + from_lms[k, 2] * s
                out[y, x, k] = _look_up(encode, np.sqrt(min(max(linear, f32(0)), f32(1))))


def to_lab(rgb: Float) -> Float:
    """sRGB to OKLab.

    Parameters
    ----------
    rgb : (h, w, 3) float32, encoded sRGB in 0..1; values outside are clipped.

    Returns
    -------
    (h, w, 3) float32: L in 0..1, a and b about -.4..+.4. About 12 ns a pixel.
    """
    rgb = np.ascontiguousarray(rgb, dtype=f32)
    out = np.empty_like(rgb)
    _rgb_to_lab(rgb, out, _DECODE, _LMS, _LAB)
    return out


def to_rgb(lab: Float) -> Float:
    """OKLab to sRGB in 0..1, colours outside the gamut clipped channel by channel. Inverse of `to_lab`."""
    lab = np.ascontiguousarray(lab, dtype=f32)
    out = np.empty_like(lab)
    _lab_to_rgb(lab, out, _ENCODE_BY_ROOT, _LAB_INV, _LMS_INV)
    return out


def bytes_to_lab(rgb: Byte) -> Float:
    """8 bit sRGB (h, w, 3) to OKLab."""
    return to_lab(rgb.astype(f32) * f32(1 / 255))


def lab_to_bytes(lab: Float) -> Byte:
    """OKLab to 8 bit sRGB (h, w, 3), rounded to nearest."""
    return (to_rgb(lab) * f32(255) + f32(0.5)).astype(np.uint8)
