"""What each hold keeps of a source, as a picture to lay over it: made from the weights that the engine uses."""

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, f32
from ..maths.colour import lab_to_bytes
from ..maths.octaves import octave_of
from ..maths.pyramid import build, collapse, image_of, planes
from ..model.guides import NO_GUIDES, Guides
from ..understanding.faces import face_holds
from .holds import hold_weights, salience_share
from .plan import depth_of
from .schedule import SIGMA_MIN
from .source import PreparedSource, from_space

# The machine's colour of the interface: what it reports.
_TEAL = (31, 157, 148)
_FINE_END, _COARSE_BEGIN = 1.0, 2.5
_SIGMA = SIGMA_MIN * np.e**3


def hold_map(source: PreparedSource, hold: str, guides: Guides = NO_GUIDES) -> Byte:
    """RGBA (h, w, 4) uint8 of what a hold keeps. About 40 ms at 512 px.

    *lines* and *shapes* tint fine edges and coarse masses by how firmly the engine would pull there, *faces* the features
    of the faces and, fainter, their skin, *subject* what the picture is about; *colours* shows the coarse colours that are kept, *depth* the depth map, white near.

    Raises
    ------
    BadInput : depth without a guide on a picture that is no flat art.
    """
    height, width = source.shape
    if hold == "faces":
        return _tinted(face_holds(source.faces, height, width) if source.faces else np.zeros((height, width), f32))
    if hold == "subject":
        return _tinted(source.subject if source.subject is not None else np.zeros((height, width), f32))
    if hold == "depth":
        grey = np.clip(depth_of(source, guides) * 255 + 0.5, 0, 255).astype(np.uint8)
        return np.dstack([grey, grey, grey, np.full_like(grey, 255)])
    if hold == "colours":
        return _broad_colours(source)
    fine = hold == "lines"
    # Full holds would saturate everywhere; a half shows where the engine pulls more and where less.
    weights = hold_weights(source.bands, source.image, None, 0.5 * fine, 0.5 * (not fine), float(_SIGMA))
    finest = max(_FINE_END, octave_of(0, height, width) + 0.5)
    shown = np.zeros((height, width), f32)
    for b, weight in enumerate(weights[:-1]):
        octave = octave_of(b, height, width)
        if (octave <= finest) if fine else (octave >= _COARSE_BEGIN):
            share = salience_share(weight, 0.5, float(_SIGMA))
            shown = np.maximum(shown, cv2.resize(share, (width, height), interpolation=cv2.INTER_CUBIC))
    return _tinted(np.clip(shown, 0, 1))


def _tinted(amount: Float) -> Byte:
    out = np.empty((*amount.shape, 4), np.uint8)
    out[..., :3] = _TEAL
    out[..., 3] = np.clip(amount * 235, 0, 255).astype(np.uint8)
    return out


def _broad_colours(source: PreparedSource) -> Byte:
    """The source's colours in coarse octaves on an even, middle lightness."""
    height, width = source.shape
    bands = [np.zeros_like(band) if octave_of(b, height, width) <= _COARSE_BEGIN else band for b, band in
             enumerate(build(planes(source.image), source.levels))]  # fmt: skip
    lab = from_space(image_of(collapse(bands)))
    lab[..., 0] = f32(0.45) + f32(0.4) * lab[..., 0]
    return np.dstack([lab_to_bytes(lab), np.full((height, width), 255, np.uint8)])
