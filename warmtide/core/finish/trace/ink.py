"""What is drawn on paper: ink, finer than the picture's own pixels.

Sources
-------
1. J. Serra, "Image analysis and mathematical morphology", 1982 (the paper as an upper envelope).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Byte, Float, Mask, f32
from ...maths.blur import blur
from ...maths.colour import bytes_to_lab, lab_to_bytes

FINER = 2
# Reach of the paper's envelope, as a share of the short side: what is filled in is no larger. It is found on a smaller picture.
_PAPER, _SMALLER = 0.22, 8
# Reach of the darkest ink around, in 640ths of the short side and in pixels at least; ink at least so much darker than its paper.
_DARKEST, _DARKEST_PX, _LEAST = 14.0, 9, 0.10
# Of the way from paper to the darkest ink around, where a line's edge lies; specks below so many fine points are none.
EDGE, _SPECK = 0.5, 10


@dataclass(frozen=True)
class Ink:
    """Ink on a grid `FINER` times as fine as the picture's.

    Attributes
    ----------
    share : (h, w) of the way from paper to the darkest ink around, 0 where there are only specks. mask : where that is more than a
    half. colour, paper : their mean colours as #rrggbb.
    """

    share: Float
    mask: Mask
    colour: str
    paper: str


def _hex(lab: Float) -> str:
    return "#{:02x}{:02x}{:02x}".format(*lab_to_bytes(lab[None, None].astype(f32))[0, 0])


def _paper(light: Float) -> Float:
    """How light the paper is everywhere: what is lightest around."""
    height, width = light.shape
    small = (max(width // _SMALLER, 4), max(height // _SMALLER, 4))
    lightest = cv2.dilate(cv2.GaussianBlur(light, (0, 0), 0.8), np.ones((_SMALLER, _SMALLER), np.uint8))
    lightest = cv2.resize(lightest, small, interpolation=cv2.INTER_NEAREST)
    reach = max(int(_PAPER * min(small)), 3) | 1
    around = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
    paper = blur(cv2.morphologyEx(lightest, cv2.MORPH_CLOSE, around), reach / 4)
    return np.asarray(cv2.resize(paper, (width, height), interpolation=cv2.INTER_LINEAR), f32)


def ink_of(rgb: Byte) -> Ink:
    """The ink of a drawing, dark on light; of a light one on dark ground, the light.

    Parameters
    ----------
    rgb : (h, w, 3) uint8 sRGB. About .12 s at 1024 px.
    """
    lab = bytes_to_lab(rgb)
    light = np.ascontiguousarray(lab[..., 0])
    inverted = float(np.median(light)) < 0.4
    if inverted:
        light = f32(1) - light
    height, width = light.shape
    paper = _paper(light)
    dark = np.clip(paper - light, 0, 1)
    near = max(int(_DARKEST * min(height, width) / 640), _DARKEST_PX) | 1
    most = blur(cv2.dilate(dark, np.ones((near, near), np.uint8)), near / 4)
    share = dark / np.maximum(most, f32(_LEAST))
    size = (width * FINER, height * FINER)
    fine = cv2.resize(share.astype(f32), size, interpolation=cv2.INTER_CUBIC)
    mask = (fine > EDGE).astype(np.uint8)
    count, ids, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    kept = stats[:, cv2.CC_STAT_AREA] >= _SPECK
    kept[0] = False
    found: Mask = kept[ids] if count > 1 else np.zeros(mask.shape, bool)
    # Specks go with the rim around them, so that no outline is left where one was.
    fine[(mask > 0) & ~found] = 0
    strong = share > 0.8
    drawn = lab[strong].mean(0) if strong.any() else np.zeros(3, f32)
    return Ink(fine, found, _hex(drawn), _hex(np.median(lab[~strong], axis=0) if (~strong).any() else np.ones(3, f32)))
