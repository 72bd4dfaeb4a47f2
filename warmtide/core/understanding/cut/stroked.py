"""What strokes alone mean: the thing that was stroked, against its rim of the picture and what was stroked out.

Sources
-------
1. L. Grady, "Random walks for image segmentation", 2006 (how likely a walk from a pixel comes to a stroke first).
2. C. Rother et al., "GrabCut", 2004 (see `masks`).
"""

import warnings

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Mask, f32
from ...maths.colour import bytes_to_lab
from .masks import IN, MAYBE_IN, MAYBE_OUT, OUT, parted

# Long side at which walks are worked out; how much edges hold them up; chroma as it counts beside lightness.
_WALKED, _HELD_UP, _CHROMA = 200, 400, 2.2
# Odds from which a pixel belongs to it at first, surely does, and below which it surely does not. Set on ten drawings over
# photographs (`bench.cut`).
_MAYBE, _SURE, _NEVER = 0.6, 0.9, 0.1
_ROUNDS = 4


def stroked(rgb: Byte, said: AnyArray) -> Mask:
    """The mask (h, w) of what strokes say is in (1), against those that say out (-1) and the rim of the picture (h, w, 3).

    Only pieces that a stroke *in* touches. About 1.5 s at 512 px.
    """
    height, width = said.shape
    odds = cv2.resize(_odds(rgb, said), (width, height), interpolation=cv2.INTER_LINEAR)
    states = np.where(odds > _MAYBE, MAYBE_IN, MAYBE_OUT).astype(np.uint8)
    states[odds > _SURE], states[odds < _NEVER] = IN, OUT
    states[said > 0], states[said < 0] = IN, OUT
    found = parted(rgb, states, _ROUNDS)
    count, parts = cv2.connectedComponents(found.astype(np.uint8), connectivity=4)
    touched = np.zeros(count, np.bool_)
    touched[np.unique(parts[said > 0])] = True
    touched[0] = False
    return touched[parts] | (said > 0)


def _odds(rgb: Byte, said: AnyArray) -> AnyArray:
    """How likely each pixel of a small copy belongs to what was stroked in."""
    # Loaded here: the server names cut-outs but seldom makes one.
    from skimage.segmentation import random_walker

    scale = _WALKED / max(said.shape)
    size = (max(round(said.shape[1] * scale), 8), max(round(said.shape[0] * scale), 8))
    lab = bytes_to_lab(cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)) * np.array([1, _CHROMA, _CHROMA], f32)
    seeds = np.zeros(size[::-1], np.int32)
    seeds[0], seeds[-1], seeds[:, 0], seeds[:, -1] = 2, 2, 2, 2
    for sign, label in ((-1, 2), (1, 1)):
        near = cv2.resize((said == sign).astype(f32), size, interpolation=cv2.INTER_AREA) > 0
        seeds[near] = label
    with warnings.catch_warnings():
        # It may end a hair outside of 0..1.
        warnings.simplefilter("ignore")
        found = random_walker(lab, seeds, beta=_HELD_UP, mode="cg_j", tol=1e-3, return_full_prob=True, channel_axis=-1)
    return np.clip(found[0], 0, 1).astype(f32)
