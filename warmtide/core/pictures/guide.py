"""A guide from a picture file."""

import cv2
import numpy as np

from ..maths.arrays import Byte
from ..model.errors import BadInput
from .framing import Framing, cropped_to, frame
from .image import decode

# As much of a guide as the largest take can show.
_GUIDE_SIDE = 4096
# What stands in a guide beyond the source, where it is not black.
_AROUND = {"subject": "#808080"}


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


def framed_plane(data: bytes, name: str, shape: tuple[int, int], framing: Framing, size: int) -> Byte:
    """A guide (h, w) out of its file, cropped to the whole source's `shape`, then framed as the source is; around it is depth far away, no
    region, and nothing said of the subject."""
    plane = cropped_to(guide_plane(decode(data, _GUIDE_SIDE).rgba, name), *shape)
    rgba = np.dstack([plane] * 3 + [np.full_like(plane, 255)])
    framed = frame(rgba, framing.model_copy(update={"ground": _AROUND.get(name, "#000000")}), size)
    return np.ascontiguousarray(framed[..., 0])
