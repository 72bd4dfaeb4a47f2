"""The sampler's noise, and the fields by which a seed bends a picture.

Noise is drawn octave by octave from the coarsest on, each octave from a stream of its own: two sizes whose
short sides differ by a power of two share every octave they both have.
"""

import numpy as np

from ..maths.arrays import Bands, Float, f32
from ..maths.gaussian import smooth_field
from ..maths.octaves import CHANNEL_NOISE, noise_at, octave_of
from ..maths.pyramid import band_shapes, build

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


def bend_fields(seed: int, height: int, width: int) -> tuple[Float, Float]:
    """Unit displacement fields by which a seed bends the layout: 3/4 broad, 1/4 finer."""
    side = min(height, width)
    fields = []
    for axis in range(2):
        broad = smooth_field(np.random.default_rng([seed, _FIELD, axis, 0]), height, width, side * 0.34)
        fine = smooth_field(np.random.default_rng([seed, _FIELD, axis, 1]), height, width, side * 0.12)
        fields.append(f32(0.75) * broad + f32(0.25) * fine)
    return fields[0], fields[1]
