"""Constants of the engine by octave of the *picture*, not of the pixel grid.

A band of a 256 px rendering and the next finer band of a 512 px rendering show the same structures. Tying
noise, priors and blending to that picture octave makes a strength mean the same at every size, and makes a
small rendering predict the large one of the same seed. Octave 0 is the finest band at a short side of
`REFERENCE_SIDE`; finer octaves are negative.
"""

import math

import numpy as np

from .arrays import f32

REFERENCE_SIDE = 341

# Standard deviation of natural pictures in each octave: lightness and either opponent channel.
PRIOR_LIGHT = (0.045, 0.075, 0.105, 0.14, 0.17, 0.20, 0.23, 0.26, 0.30)
PRIOR_CHROMA = (0.010, 0.016, 0.024, 0.033, 0.042, 0.050, 0.058, 0.065, 0.070)
# Noise level at which half of the finished paint is trusted in each octave.
TRUST = (0.16, 0.20, 0.26, 0.34, 0.42, 0.50, 0.58, 0.66, 0.70)
# How much of the guided push each octave takes: fine marks all, coarse tone little.
GUIDED = (1.0, 1.0, 1.0, 0.9, 0.7, 0.5, 0.35, 0.25, 0.2)
# Standard deviation of the sampler's noise: white noise whose octaves fall as 2^-.72 instead of 2^-1,
# since pure white noise kills detail long before layout.
NOISE = (0.9517, 0.2536, 0.1309, 0.0764, 0.0480, 0.0290, 0.0176, 0.0107, 0.0065)
# What remains outside: opponent channels get half of the noise.
CHANNEL_NOISE = np.array([1.0, 0.5, 0.5], f32)


def octave_of(band: int, height: int, width: int) -> float:
    """Picture octave of a band index at a size."""
    return band - math.log2(min(height, width) / REFERENCE_SIDE)


def at_octave(table: tuple[float, ...], octave: float) -> float:
    """Value of a table at a fractional octave: geometric between entries, continued at the ends."""
    last = len(table) - 1
    lower = min(max(math.floor(octave), 0), last - 1)
    ratio = table[lower + 1] / table[lower]
    return table[lower] * float(ratio ** (min(octave, last + 1) - lower))


def noise_at(octave: float) -> float:
    """Noise of an octave; octaves finer than the table keep the slope of 2^-.72 an octave."""
    return NOISE[0] * 2.0 ** (-0.72 * octave) if octave < 0 else at_octave(NOISE, octave)


def trust_at(octave: float) -> float:
    """`TRUST` does not shrink below the finest measured octave: grain is trusted as marks are."""
    return at_octave(TRUST, max(octave, 0.0))


def guided_at(octave: float) -> float:
    """`GUIDED` is 1 for every octave finer than the third."""
    return min(1.0, at_octave(GUIDED, max(octave, 0.0)))
