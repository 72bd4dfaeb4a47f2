"""A depth guide from the order of layers: what lies higher is nearer, and lighter."""

import numpy as np

from ..maths.arrays import Byte
from ..model.stack import Stack
from .compose import Pictures, lay, layer_picture, solid_colours

# The lowest layer is not quite black: the engine takes black for as far as can be.
_FARTHEST = 16


def by_order(stack: Stack, pictures: Pictures) -> Byte:
    """The stack as greys (h, w, 4), near white; soft edges of layers are soft in depth too."""
    shown = [layer for layer in stack.layers if layer.shown and layer.opacity > 0]
    out = np.zeros((stack.height, stack.width, 4), np.uint8)
    out[..., 3] = 255
    for rank, layer in enumerate(shown):
        grey = _FARTHEST + round((255 - _FARTHEST) * rank / max(len(shown) - 1, 1))
        alpha = layer_picture(layer, pictures)[..., 3].astype(np.uint16)
        plane = ((alpha * grey + 127) // 255).astype(np.uint8)
        lay(out, np.dstack([plane, plane, plane, alpha.astype(np.uint8)]), layer.place, layer.opacity)
    return solid_colours(out)
