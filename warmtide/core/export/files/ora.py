"""OpenRaster: layers for further work."""

import numpy as np

from ...layers.openraster import Leaf, filed
from ...maths.arrays import AnyArray, Byte
from .kind import Format, Page


def _solid(picture: Byte) -> Byte:
    if picture.shape[2] == 4:
        return picture
    alpha: AnyArray = np.full((*picture.shape[:2], 1), 255, np.uint8)
    return np.concatenate([picture, alpha], axis=2)


def _ora(page: Page) -> bytes:
    layers = page.layers or ((page.title or "picture", _solid(page.eight)),)
    return filed((Leaf(name, picture) for name, picture in layers), _solid(page.eight))


FORMAT = Format(
    "ora",
    "OpenRaster",
    "layers: the source, the take, its region",
    "ora",
    "image/openraster",
    _ora,
    dpi=False,
    sized=False,
    place=8,
)
