"""A guide from a picture file."""

import cv2
import numpy as np

from ..maths.arrays import Byte
from ..model.errors import BadInput


def guide_plane(rgba: Byte, name: str) -> Byte:
    """A grey guide (h, w) from a decoded picture: its lightness, or its alpha where it has one.

    Raises
    ------
    BadInput : a guide of one single tone says nothing.
    """
    alpha = rgba[..., 3]
    plane: Byte = (
        alpha if (alpha < 255).any() else cv2.cvtColor(np.ascontiguousarray(rgba[..., :3]), cv2.COLOR_RGB2GRAY)
    )
    if plane.min() == plane.max() and not (name == "region" and plane.max() == 255):
        raise BadInput(f"The {name} guide is one single tone; it needs dark and light parts.")
    return np.ascontiguousarray(plane)
