"""The sampler's noise, and smooth random fields for bends and painters.

Noise is drawn octave by octave from the coarsest on, each octave from a stream of its own: two sizes whose
short sides differ by a power of two share every octave they both have. Smooth fields grow from a grid of values each
of which hangs on its own place alone, so that a draft whose sides were rounded has the same field.

Sources
-------
1. G. Steele, D. Lea, C. Flood, "Fast splittable pseudorandom number generators", 2014 (the mixing of bits).
"""

import cv2
import numpy as np

from ..arrays import Bands, Float, f32
from .octaves import CHANNEL_NOISE, noise_at, octave_of
from .pyramid import band_shapes, build

_SAMPLER, _FIELD = 77, 78


def _octave(seed: int, stream: int, index: int, shape: tuple[int, int], residue: bool) -> Float:
    """One octave of unit-variance noise (3, h, w): the detail band of white noise at this size."""
    white = np.random.default_rng([seed, stream, index]).standard_normal((3, *shape), dtype=f32)
    band = white if residue or min(shape) < 2 else build(white, 1)[0]
    return np.ascontiguousarray(band / f32(max(float(band.std()), 1e-6)))


def sampler_noise(seed: int, height: int, width: int, levels: int, step: int = 0) -> Bands:
    """Noise pyramid at unit sigma; `step` > 0 gives fresh noise for ancestral steps."""
    bands = []
    for b, shape in enumerate(band_shapes(height, width, levels)):
        band = _octave(seed, _SAMPLER + 1000 * step, levels - b, shape, b == levels)
        scale = f32(noise_at(octave_of(b, height, width))) * CHANNEL_NOISE
        bands.append(band * scale[:, None, None])
    return bands


def _grid(generator: np.random.Generator, rows: int, columns: int) -> Float:
    """Unit normal values (rows, columns); one more row or column changes none of the others."""
    # Loaded here: the server names looks but never draws.
    from scipy.special import ndtri

    key = generator.integers(0, 1 << 63, dtype=np.uint64)
    i, j = np.arange(rows, dtype=np.uint64)[:, None], np.arange(columns, dtype=np.uint64)[None]
    bits = key + i * np.uint64(0x9E3779B97F4A7C15) + j * np.uint64(0xD1B54A32D192ED03)
    bits = (bits ^ (bits >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    bits = (bits ^ (bits >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    bits ^= bits >> np.uint64(31)
    # In double precision: the last of them must not round to 1, which has no place on the normal curve.
    return np.asarray(ndtri(((bits >> np.uint64(40)).astype(float) + 0.5) * 2**-24), f32)


def smooth_field(generator: np.random.Generator, height: int, width: int, scale: float) -> Float:
    """Smooth Gaussian noise (h, w), mean 0 and variance 1, with features of about `scale` pixels."""
    if scale < 1.5:
        field = generator.standard_normal((height, width), dtype=f32)
        if scale * 0.5 > 0.2:
            field = cv2.GaussianBlur(field, (0, 0), scale * 0.5, borderType=cv2.BORDER_REFLECT)
    else:
        cell = scale / 2
        rows, columns = int(height / cell) + 4, int(width / cell) + 4
        coarse = _grid(generator, rows, columns)
        coarse = cv2.GaussianBlur(coarse, (0, 0), 1.0, borderType=cv2.BORDER_REFLECT)
        wide = (int(columns * cell) + 1, int(rows * cell) + 1)
        field = cv2.resize(coarse, wide, interpolation=cv2.INTER_CUBIC)[:height, :width]
    return np.ascontiguousarray((field - field.mean()) / (field.std() + f32(1e-6)), dtype=f32)


def bend_fields(seed: int, height: int, width: int) -> tuple[Float, Float]:
    """Unit displacement fields by which a seed bends the layout: 3/4 broad, 1/4 finer."""
    side = min(height, width)
    fields = []
    for axis in range(2):
        broad = smooth_field(np.random.default_rng([seed, _FIELD, axis, 0]), height, width, side * 0.34)
        fine = smooth_field(np.random.default_rng([seed, _FIELD, axis, 1]), height, width, side * 0.12)
        fields.append(f32(0.75) * broad + f32(0.25) * fine)
    return fields[0], fields[1]
