"""The flat ground around a subject."""

import cv2
import numpy as np

from ..maths.arrays import Float, Mask, summed

_CALM_BORDER = 0.012


_GROUND_REACH = 0.03


def flat_ground(lab: Float) -> Mask | None:
    """Pixels of the flat ground around a subject, or None when the border is not one calm colour."""
    ring = np.concatenate(
        [lab[:4].reshape(-1, 3), lab[-4:].reshape(-1, 3), lab[:, :4].reshape(-1, 3), lab[:, -4:].reshape(-1, 3)]
    )
    colour = np.median(ring, axis=0)
    if float(np.abs(ring - colour).mean()) >= _CALM_BORDER:
        return None
    alike = (summed(np.abs(lab - colour)) < _GROUND_REACH).astype(np.uint8)
    _, parts = cv2.connectedComponents(alike, connectivity=4)
    edge = np.unique(np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]]))
    return np.isin(parts, edge[edge > 0])
