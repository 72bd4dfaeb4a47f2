"""The smoothest surface between values that are known.

Sources
-------
1. P. Perez, M. Gangnet, A. Blake, "Poisson image editing", 2003 (a membrane between borders).
2. W. Briggs, V. Henson, S. McCormick, "A multigrid tutorial", 2000 (coarse to fine relaxation).
"""

import cv2
import numpy as np

from .arrays import Float, Mask, f32

_COARSEST, _ROUNDS = 8, 24


def membrane(values: Float, known: Mask) -> Float:
    """Values (h, w, c) where they are known, and between them the smoothest surface that meets them.

    Parameters
    ----------
    known : (h, w), true at least somewhere. About 30 ms for a gap of 200 x 200.
    """
    out = values.copy()
    if bool(known.all()) or not bool(known.any()):
        return out
    rows, columns = np.flatnonzero(~known.all(1)), np.flatnonzero(~known.all(0))
    # A gap hangs on its rim alone.
    near = (slice(max(rows[0] - 1, 0), rows[-1] + 2), slice(max(columns[0] - 1, 0), columns[-1] + 2))
    out[near] = _spanned(values[near], known[near])
    return out


def _spanned(values: Float, known: Mask) -> Float:
    """The same over all of a picture: coarse first, then relaxed."""
    if bool(known.all()):
        return values
    height, width = known.shape
    if max(height, width) > _COARSEST:
        half = (max(width // 2, 1), max(height // 2, 1))
        share = cv2.resize(known.astype(f32), half, interpolation=cv2.INTER_AREA)
        sums = cv2.resize(values * known[..., None].astype(f32), half, interpolation=cv2.INTER_AREA)
        sums = sums.reshape(half[1], half[0], -1)
        there = share > 1e-3
        coarse = _spanned(np.where(there[..., None], sums / np.maximum(share, 1e-3)[..., None], 0).astype(f32), there)
        fine = cv2.resize(coarse, (width, height), interpolation=cv2.INTER_LINEAR).reshape(height, width, -1)
    else:
        fine = np.broadcast_to(values[known].mean(0), values.shape).astype(f32)
    out = np.where(known[..., None], values, fine).astype(f32)
    kernel = np.array([[0, 1, 0], [1, 0, 1], [0, 1, 0]], f32) / 4
    for _ in range(_ROUNDS):
        calm = cv2.filter2D(out, -1, kernel, borderType=cv2.BORDER_REPLICATE).reshape(out.shape)
        out = np.where(known[..., None], values, calm)
    return out
