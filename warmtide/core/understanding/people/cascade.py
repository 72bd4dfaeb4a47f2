"""Frontal faces by a boosted cascade: all there is where no network is installed, and a second opinion where one doubts.

Sources
-------
1. P. Viola, M. Jones, "Rapid object detection using a boosted cascade of simple features", 2001.
2. S. Liao et al., "Learning multi-scale block local binary patterns for face recognition", 2007 (the features of
   the cascade, whose data ships with scikit-image).
"""

import importlib
import math
import sys
from functools import cache
from pathlib import Path
from types import ModuleType
from typing import Any

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, f32
from ...maths.colour import bytes_to_lab
from ...model.face import Face

_SIDE = 320
_LEAST = 24
# Turns of the head that are tried; the cascade itself forgives about 12 degrees.
_TURNS = (0.0, -20.0, 20.0)
# Fewer agreeing windows let wheels and roofs pass for faces.
_AGREEING = 3
# A turned head is rarer than a cup, a coin or gravel that looks like one.
_AGREEING_TURNED = 5
# Skin of any tone lies between red and yellow; a picture with less chroma than this has none to check.
_SKIN = (-0.2, 1.75)
_COLOURLESS = 0.02
# Chroma of the palest skin and of what is too garish for any; share of a face that is like skin at least (a red tank
# among tools has half), and how far its chroma spreads at most (there .075, in faces .01 to .03).
_PALEST, _GARISH, _MOSTLY, _EVENLY = 0.012, 0.16, 0.65, 0.05
_MOST = 12


# Of red, green and blue in the grey that the cascade was trained on.
_GREY = np.array([0.2125, 0.7154, 0.0721])


@cache
def _cascade() -> Any:
    """The cascade. Its module wants the package's colours for one function that is not used here (`_grey` is), and they
    would bring linear algebra with them, .25 s of each process; so it is loaded with that one name in their place."""
    import skimage

    stand_in = ModuleType("skimage.color")
    vars(stand_in)["rgb2gray"] = _grey
    found = sys.modules.setdefault("skimage.color", stand_in)
    try:
        kind = importlib.import_module("skimage.feature._cascade").Cascade
    finally:
        if found is stand_in:
            del sys.modules["skimage.color"]
    return kind(str(Path(skimage.__file__).parent / "data" / "lbpcascade_frontalface_opencv.xml"))


def _grey(rgb: Byte) -> AnyArray:
    return np.asarray((rgb * (1 / 255.0)) @ _GREY)


def _even(rgb: Byte, x: int, y: int, width: int) -> bool:
    """Whether the eyes are darker than the cheeks below them: walls and wheels are seldom so."""
    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY).astype(f32)

    def mean(left: float, right: float, top: float, bottom: float) -> float:
        box = grey[y + int(top * width) : y + int(bottom * width), x + int(left * width) : x + int(right * width)]
        return float(box.mean()) if box.size else 0.0

    eyes = mean(0.20, 0.42, 0.32, 0.46) + mean(0.58, 0.80, 0.32, 0.46)
    cheeks = mean(0.20, 0.40, 0.52, 0.66) + mean(0.60, 0.80, 0.52, 0.66)
    return cheeks - eyes > 12


def _skin(lab: Float, x: int, y: int, width: int) -> bool:
    """Whether a window could be skin, as far as the picture has colours: most of it of skin's hue, nowhere garish, and
    all about as colourful."""
    if float(np.hypot(lab[..., 1], lab[..., 2]).mean()) < _COLOURLESS:
        return True

    def part(top: float, bottom: float, left: float, right: float) -> Float:
        return lab[y + int(top * width) : y + int(bottom * width), x + int(left * width) : x + int(right * width), 1:]

    a, b = np.median(part(0.50, 0.72, 0.22, 0.78).reshape(-1, 2), axis=0)
    if not (math.hypot(a, b) > _PALEST and _SKIN[0] < math.atan2(b, a) < _SKIN[1]):
        return False
    inside = part(0.20, 0.85, 0.20, 0.80)
    chroma, hue = np.hypot(inside[..., 0], inside[..., 1]), np.arctan2(inside[..., 1], inside[..., 0])
    like = (chroma > _PALEST) & (chroma < _GARISH) & (hue > _SKIN[0]) & (hue < _SKIN[1])
    return float(like.mean()) > _MOSTLY and float(chroma.std()) < _EVENLY


def cascade_faces(rgb: Byte) -> tuple[Face, ...]:
    """Frontal faces of a picture (h, w, 3), the largest first, at most twelve. About .1 s at any size.

    Faces under a thirteenth of the long side, in profile or turned by more than about 30 degrees aren't found.
    """
    height, width = rgb.shape[:2]
    long_side = max(height, width)
    scale = _SIDE / long_side
    size = (max(round(width * scale), 1), max(round(height * scale), 1))
    if min(size) < 2 * _LEAST:
        return ()
    small = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_LINEAR)
    found: list[Face] = []
    for angle in _TURNS:
        turn = cv2.getRotationMatrix2D((size[0] / 2, size[1] / 2), angle, 1)
        turned = cv2.warpAffine(small, turn, size, borderMode=cv2.BORDER_REPLICATE) if angle else small
        windows = _cascade().detect_multi_scale(
            img=_grey(turned), scale_factor=1.15, step_ratio=1.5, min_size=(_LEAST, _LEAST), max_size=(min(size), min(size)),
            min_neighbor_number=_AGREEING_TURNED if angle else _AGREEING,
        )  # fmt: skip
        back = cv2.invertAffineTransform(turn)
        lab = bytes_to_lab(turned) if windows else None
        for window in windows:
            x, y, side = int(window["c"]), int(window["r"]), int(window["width"])
            if lab is None or not _even(turned, x, y, side) or not _skin(lab, x, y, side):
                continue
            cx, cy = back @ np.array([x + side / 2, y + side * 0.52, 1.0])
            near = [f for f in found if math.hypot(f.x - cx / _SIDE, f.y - cy / _SIDE) < 0.6 * f.width]
            if not near:
                found.append(Face(float(cx) / _SIDE, float(cy) / _SIDE, side / _SIDE, angle))
    return tuple(sorted(found, key=lambda face: -face.width)[:_MOST])
