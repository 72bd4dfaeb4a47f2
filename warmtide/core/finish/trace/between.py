"""Where between its pixels a line runs: what each side's colour covers says it.

Sources
-------
1. A. Trujillo-Pino et al., "Accurate subpixel edge location based on partial area effect", 2013.
"""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from .network import Border

# How far across a line is looked, in picture pixels, and in which steps; how pure both ends must be; the furthest a line is moved.
_REACH, _STEP, _PURE, _MOST = 1.75, 0.25, 0.2, 0.75


def moved_between(border: Border, encoded: Float, colours: Float, factor: float) -> AnyArray:
    """The middles of a line's cracks (n, 2) x, y on the fine grid, moved to where the picture says that the colours meet.

    Parameters
    ----------
    encoded : (h, w, 3) the picture. colours : (n, 3) by area, encoded alike. factor : points of the fine grid to a pixel.
    """
    corners = border.corners.astype(np.float64)
    middles = (corners[1:] + corners[:-1]) / 2
    way = np.diff(corners, axis=0)
    across = np.stack([-way[:, 1], way[:, 0]], 1)
    one, other = colours[border.left], colours[border.right]
    apart = float(((other - one) ** 2).sum())
    if apart < 1e-6:
        return middles
    offsets = np.arange(-_REACH, _REACH + _STEP / 2, _STEP)
    places = middles[:, None] / factor + offsets[None, :, None] * across[:, None] - 0.5
    seen = cv2.remap(
        encoded,
        places[..., 0].astype(f32),
        places[..., 1].astype(f32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    share = np.clip(((seen - one) @ (other - one)) / apart, 0, 1)
    # The area of the nearer side's colour over the reach is how far its edge is.
    at = (1 - share).sum(1) * _STEP - _REACH - _STEP / 2
    pure = (share[:, 0] < _PURE) & (share[:, -1] > 1 - _PURE)
    shift = np.where(pure, np.clip(at, -_MOST, _MOST), 0)
    return np.asarray(middles + shift[:, None] * across * factor)
