"""The files of a take: its picture, and two smaller ones."""

from typing import Any

from ..core.maths.arrays import Byte
from ..core.pictures.image import png, webp
from ..records.store import ImageStore

_PREVIEW_SIDE = 640
# For sheets of hundreds of cells.
_THUMB_SIDE = 200

# Name and size of the picture itself, names of its preview and its thumbnail.
Kept = tuple[tuple[str, int], str, str]


def small_pictures(store: ImageStore, picture: Byte) -> tuple[str, str]:
    """Keep a take's preview and its thumbnail; their names."""
    preview, thumb = (store.put(webp(picture, side)) for side in (_PREVIEW_SIDE, _THUMB_SIDE))
    return preview, thumb


def keep_pictures(store: ImageStore, picture: Byte, inside: dict[str, Any]) -> Kept:
    """Keep a take with its recipe inside, and its smaller pictures."""
    data = png(picture, inside)
    preview, thumb = small_pictures(store, picture)
    return (store.put(data), len(data)), preview, thumb
