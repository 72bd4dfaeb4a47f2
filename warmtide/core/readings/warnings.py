"""What is likely to be wrong with a take, in words that the interface makes sentences of.

Sources
-------
1. J. Immerkaer, "Fast noise variance estimation", 1996 (the mixed-derivative estimate).
"""

import cv2
import numpy as np

from ..maths.arrays import Byte, f32
from ..maths.colour import bytes_to_lab

_NOISE = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], f32)
_NOISE_TIMES, _NOISE_LEAST = 2.2, 0.03
_BLANK, _BLANK_SOURCE = 0.02, 0.05
_COLOUR_TIMES, _COLOUR_LEAST = 1.5, 0.03
_HALO = 0.03
# A face that kept less than this has lost its features; pure lines read 20 to 30.
FACE_LOST = 20.0


def noise_of(rgb: Byte) -> float:
    """Standard deviation of grain in lightness: the mixed second derivative, which edges hardly have."""
    light = np.ascontiguousarray(bytes_to_lab(rgb)[..., 0])
    response = np.abs(cv2.filter2D(light, -1, _NOISE)[1:-1, 1:-1])
    return float(np.median(response)) / (0.6745 * 6)


def _strong_chroma(rgb: Byte) -> float:
    small = cv2.resize(rgb, (96, 64), interpolation=cv2.INTER_AREA)
    lab = bytes_to_lab(small)
    return float(np.percentile(np.hypot(lab[..., 1], lab[..., 2]), 90))


def warnings_of(
    source: Byte, take: Byte, full: Byte | None, faces: list[float], asked: tuple[Byte, ...] = ()
) -> list[str]:
    """Names of what is likely wrong: "noise", "blank", "saturation", "face".

    A look may add remarks of its own: "thin" (lines finer than its material can be), "planes" (a building that could
    not be understood), "outline" (a product that its ground hides in part), "thing" (no product stands
    out of the picture), "profile" (a face that is turned away or covered), "nobody" (no person for a character), "open" (a sketch without a closed area), "guessed" (colours of a grey photograph).

    Parameters
    ----------
    source, take : (h, w, 3) uint8. full : the look's own full rendering, whose grain and colour are meant; or
    None. faces : what was kept of each face, 0..100. asked : pictures (h, w, 3) whose colours words ask for.
    """
    found = []
    meant = [source] if full is None else [source, full]
    if noise_of(take) > _NOISE_TIMES * max([noise_of(p) for p in meant] + [_NOISE_LEAST / _NOISE_TIMES]):
        found.append("noise")
    spread = [
        float(bytes_to_lab(cv2.resize(p, (64, 64), interpolation=cv2.INTER_AREA))[..., 0].std()) for p in (take, source)
    ]
    if spread[0] < _BLANK and spread[1] > _BLANK_SOURCE:
        found.append("blank")
    if _strong_chroma(take) > _COLOUR_TIMES * max(_strong_chroma(p) for p in (*meant, *asked)) + _COLOUR_LEAST:
        found.append("saturation")
    if faces and min(faces) < FACE_LOST:
        found.append("face")
    return found


def has_halo(take: Byte, calmer: Byte) -> bool:
    """Whether a take has bright rims that the same seed at lower guidance has not.

    Only such a sibling can tell: pencil, neon and mosaic have rims of their own.
    """
    light = [np.ascontiguousarray(bytes_to_lab(p)[..., 0]) for p in (take, calmer)]
    size = 0.012 * min(take.shape[:2])
    rims = [np.clip(p - cv2.GaussianBlur(p, (0, 0), max(size, 1.0)), 0, None) for p in light]
    edges = cv2.GaussianBlur(np.abs(cv2.Laplacian(light[1], cv2.CV_32F)), (0, 0), max(size, 1.0))
    near = edges > np.percentile(edges, 80)
    return float(rims[0][near].mean() - rims[1][near].mean()) > _HALO
