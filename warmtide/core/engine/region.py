"""A region's change laid into its source: untouched outside, without a seam inside.

Sources
-------
1. P. Burt, E. Adelson, "A multiresolution spline with application to image mosaics", 1983.
"""

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, f32
from ..maths.colour import bytes_to_lab, lab_to_bytes
from ..maths.pyramid import build, collapse, image_of, levels_for, planes
from ..maths.steps import eased

# Width of the seam inside the region, as a share of the short side.
_SEAM = 0.02


def _ramp(t: Float) -> Float:
    t = np.clip(t, 0, 1)
    ramp: Float = eased(t).astype(f32)
    return ramp


def seam_width(height: int, width: int) -> float:
    """Pixels over which a hard-edged region sets in."""
    return max(_SEAM * min(height, width), 4.0)


def laid_in(source: Byte, painted: Byte, region: Byte) -> Byte:
    """The painted picture inside a region of the source; where the region is 0 the source's own bits.

    Bands are joined each over its own width, so that neither tone nor marks show where the region ends. About
    25 ms at 512 px.

    Parameters
    ----------
    source, painted : (h, w, 3) uint8. region : (h, w) uint8, 0 untouched, 255 changed.
    """
    open_ = (region > 0).astype(np.uint8)
    if not open_.any():
        return source.copy()
    height, width = region.shape
    # The picture's own border is no seam.
    distance = cv2.distanceTransform(np.pad(open_, 1, mode="edge"), cv2.DIST_L2, 5)[1:-1, 1:-1]
    if open_.all():
        distance = np.full((height, width), f32(max(height, width)))
    seam = seam_width(height, width)
    share = region.astype(f32) / f32(255) * _ramp(distance / f32(seam))
    levels = min(levels_for(height, width), 5)
    before, after = build(planes(bytes_to_lab(source)), levels), build(planes(bytes_to_lab(painted)), levels)
    weights = build(np.repeat(share[None], 1, 0), 0)
    for _ in range(levels):
        weights.append(np.stack([cv2.pyrDown(weights[-1][0], borderType=cv2.BORDER_REFLECT)]))
    joined = [a + w * (b - a) for a, b, w in zip(before, after, weights, strict=True)]
    blend = image_of(collapse(joined))
    lab = bytes_to_lab(source)
    # Broad bands reach over the rim; they fade to nothing there.
    reach = _ramp(distance / f32(0.5 * seam))[..., None] * np.clip(region.astype(f32) / 32, 0, 1)[..., None]
    out = lab_to_bytes((lab + reach * (blend - lab)).astype(f32))
    return np.where(open_[..., None] > 0, out, source).astype(np.uint8)
