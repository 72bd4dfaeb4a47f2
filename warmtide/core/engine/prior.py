"""What the denoiser expects of a picture: energy of each octave, near the source's own at low strength."""

import math

import cv2
import numpy as np

from ..maths.arrays import Bands, f32
from ..maths.octaves import PRIOR_CHROMA, PRIOR_LIGHT, at_octave, octave_of

# Variance of the pyramid's residue: lightness and opponent channels.
RESIDUE = np.array([0.40, 0.10, 0.10], f32) ** 2
_FLOOR = 0.3
_CAP = 4.0
# What a scene leaves open, of the variance of natural pictures.
_LEFT = 0.02


def natural_variance(band: int, height: int, width: int) -> "np.ndarray[tuple[int], np.dtype[np.float32]]":
    """Variance of natural pictures in a band, by channel."""
    octave = octave_of(band, height, width)
    light, chroma = at_octave(PRIOR_LIGHT, octave), at_octave(PRIOR_CHROMA, octave)
    return np.array([light, chroma, chroma], f32) ** 2


def floor_variance(band: int, height: int, width: int) -> "np.ndarray[tuple[int], np.dtype[np.float32]]":
    """Least variance that caps a coefficient's signal in a band."""
    return (natural_variance(band, height, width) * _FLOOR).astype(f32)


def left_open(known: float) -> float:
    """Share of the variance of natural pictures that is left to noise when `known` of it is in the prior's mean."""
    return max((1 - known) ** 2, _LEFT) if known > 0 else 1.0


def local_prior(bands: Bands, strength: float, hold: float, known: float = 0.0) -> Bands:
    """Prior variance at every coefficient: the source's own local energy, fading to the natural one.

    The source's share is 1 - strength^3 (1 - .8 hold); its energy is capped at four times the natural one.
    known : 0..1, how much of a natural picture the prior's mean already explains; that much less is left to noise.
    """
    left = f32(left_open(known))
    height, width = bands[0].shape[1:]
    mix = strength**3 * (1 - 0.8 * hold)
    priors: Bands = []
    for b, band in enumerate(bands):
        natural = natural_variance(b, height, width) * left
        if b == len(bands) - 1:
            priors.append(np.broadcast_to(natural[:, None, None], band.shape).astype(f32))
            continue
        prior = np.empty_like(band)
        reach = max(10.0 / 2**b, 2.0)
        box = max(3, round(math.sqrt(6 * reach * reach + 1)) | 1)
        for k in range(3):
            energy = band[k] * band[k]
            if min(energy.shape) > box:
                energy = cv2.blur(cv2.blur(energy, (box, box)), (box, box))
            else:
                energy = cv2.GaussianBlur(energy, (0, 0), reach)
            # Running sums can leave tiny negative values on flat pictures.
            np.clip(energy, 0, _CAP * natural[k], out=energy)
            prior[k] = energy * f32(1 - mix) + f32(mix * natural[k] + 1e-8)
        priors.append(prior)
    return priors
