"""Larger with its edges made as sharp as the larger size allows: for pictures that nothing can paint again.

It begins with the picture made larger along its edges and works on lightness alone, at low strength. Where the old picture was in
focus, edges are drawn together, between the darkest and the lightest pixel that was there, so that no rim and no texture comes
that was not there; where it was out of focus, or only grain, nothing is done.

Sources
-------
1. J. Schavemaker et al., "Image sharpening by morphological filtering", 2000 (edges drawn together within their own range).
2. S. Zhuo, T. Sim, "Defocus map estimation from a single image", 2011 (focus from an edge's contrast at two blurs).
"""

import math

import cv2
import numpy as np

from ...maths.arrays import Byte, Float, f32
from ...maths.steps import smoothstep
from .edges import carried
from .kind import Job, Way

STRENGTH = 0.3
# Blurs between which focus is told, in old pixels, and ratios of contrast from which an edge is soft, and is sharp.
_FINE, _MIDDLE = 0.8, 2.0
_SOFT, _SHARP = 0.26, 0.42
# Contrast (8 bit) of an edge below which it is grain.
_GRAIN = (3.0, 9.0)
_WIDER = 3.0
# Blur of the tensor in old pixels, and how much it must run one way for an edge.
_WAY_BLUR, _ONE_WAY = 2.0, (0.66, 0.92)
# How much an edge is drawn together at strength 1, how far it looks in new pixels an old one, rows at once and rows around.
_DRAWN, _REACH = 4.0, 0.75
_STRIP, _MARGIN = 512, 96
_LUMA = (0.299, 0.587, 0.114)


def _light(rgb: Byte) -> Float:
    return np.asarray(rgb @ np.array(_LUMA, f32), f32)


def in_focus(picture: Byte) -> Float:
    """How sharp a picture is at each place, 0 (out of focus, or calm) to 1.

    Parameters
    ----------
    picture : (h, w, 3) uint8 sRGB.

    Returns
    -------
    (h, w) float32. About 40 ms a megapixel.
    """
    light = _light(picture)
    fine = cv2.GaussianBlur(light, (0, 0), _FINE)
    middle = cv2.GaussianBlur(light, (0, 0), _MIDDLE)
    contrast = cv2.GaussianBlur(np.abs(light - fine), (0, 0), _WIDER)
    broad = cv2.GaussianBlur(np.abs(fine - middle), (0, 0), _WIDER)
    grain = cv2.dilate(np.abs(light - middle), np.ones((5, 5), np.uint8))
    # Paper and noise run every way, an edge one way: only edges are drawn together.
    dx, dy = cv2.Sobel(fine, cv2.CV_32F, 1, 0), cv2.Sobel(fine, cv2.CV_32F, 0, 1)
    across, mixed, down = (cv2.GaussianBlur(part, (0, 0), _WAY_BLUR) for part in (dx * dx, dx * dy, dy * dy))
    length = np.sqrt((across - down) ** 2 + 4 * mixed * mixed)
    one_way = smoothstep(*_ONE_WAY, length / (across + down + f32(1)))
    return np.asarray(
        smoothstep(_SOFT, _SHARP, contrast / (broad + f32(0.4))) * smoothstep(*_GRAIN, grain) * one_way, f32
    )


def _drawn_together(strip: Byte, focus: Float, times: float) -> Byte:
    """Edges of a strip (h, w, 3) drawn together where it is in focus."""
    light = _light(strip)
    reach = max(_REACH * times, 0.6)
    around = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * math.ceil(reach) + 1,) * 2)
    least, most = cv2.erode(light, around), cv2.dilate(light, around)
    band = light - cv2.GaussianBlur(light, (0, 0), reach)
    made = np.clip(light + f32(STRENGTH * _DRAWN) * focus * band, least, most)
    return np.asarray(np.clip(strip + (made - light)[..., None] + f32(0.5), 0, 255), np.uint8)


def detailed(job: Job) -> Byte:
    """A picture made larger with its edges drawn together; (job.height, job.width, 3) uint8. About .6 s a megapixel of what comes out."""
    height = job.height

    def begun(done: int, of: int) -> None:
        job.progress(int(80 * done / of), 100)

    large = carried(job.picture, height, job.width, begun)
    focus = (in_focus(job.picture) * 255).astype(np.uint8)
    times = max(height / job.picture.shape[0], 1.0)
    out = np.empty_like(large)
    sharp = cv2.resize(focus, (job.width, height), interpolation=cv2.INTER_LINEAR)
    for top in range(0, height, _STRIP):
        first, last = max(top - _MARGIN, 0), min(top + _STRIP + _MARGIN, height)
        made = _drawn_together(large[first:last], sharp[first:last].astype(f32) / f32(255), times)
        out[top : top + _STRIP] = made[top - first : top - first + _STRIP]
        job.progress(80 + int(20 * min(top + _STRIP, height) / height), 100)
    return out


WAYS = (
    Way(
        "detail", "With detail", "edges as sharp as the size allows; what is out of focus stays so", detailed,
        seconds=0.6, place=5,
    ),
)  # fmt: skip
