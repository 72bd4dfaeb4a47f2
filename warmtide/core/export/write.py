"""A picture written as it is wished: sized, set on its ground, in a format."""

from typing import Any

import cv2
import numpy as np

from ..finish.enlarge.edges import carried
from ..maths.arrays import AnyArray, Byte, f32
from ..model.errors import BadInput
from .files.kind import Format, Page, Wish
from .layered import Layered

_SIXTEEN = 257


def _sized(picture: Byte, side: int, deep: bool) -> AnyArray:
    """A picture with another long side: larger along its edges, smaller by area, between the steps of 8 bits where 16 are wished."""
    height, width = picture.shape[:2]
    scale = side / max(height, width)
    tall, wide = max(round(height * scale), 1), max(round(width * scale), 1)
    if scale > 1:
        rgb = carried(np.ascontiguousarray(picture[..., :3]), tall, wide)
        if picture.shape[2] == 3:
            return rgb
        alpha = cv2.resize(picture[..., 3], (wide, tall), interpolation=cv2.INTER_LINEAR)
        return np.dstack([rgb, alpha])
    weighed = picture.astype(f32)
    if picture.shape[2] == 4:
        # Colours under clear pixels must not show in the mean.
        weighed[..., :3] *= weighed[..., 3:] / f32(255)
    small = cv2.resize(weighed, (wide, tall), interpolation=cv2.INTER_AREA)
    if picture.shape[2] == 4:
        small[..., :3] /= np.maximum(small[..., 3:] / f32(255), f32(1e-6))
    small = np.clip(small, 0, 255)
    if deep:
        return np.asarray(small * f32(_SIXTEEN) + f32(0.5), np.uint16)
    return np.asarray(small + f32(0.5), np.uint8)


def _on_ground(picture: AnyArray, ground: str) -> AnyArray:
    """A picture with transparency on a colour, (h, w, 3)."""
    most = 65535 if picture.dtype == np.uint16 else 255
    colour = np.array([int(ground[k : k + 2], 16) for k in (1, 3, 5)], f32) * f32(most / 255)
    share = picture[..., 3:].astype(f32) / f32(most)
    return np.asarray(picture[..., :3] * share + colour * (1 - share) + f32(0.5), picture.dtype)


def page_of(picture: Byte, form: Format, wish: Wish, inside: dict[str, Any] | None = None, title: str = "") -> Page:
    """A picture (h, w, 3) or (h, w, 4) uint8 made ready for a format.

    Raises
    ------
    BadInput : the format can't hold what is wished.
    """
    if wish.depth not in (8, 16):
        raise BadInput(f"A channel has 8 or 16 bits; {wish.depth} is neither.")
    if wish.depth == 16 and not form.deep:
        raise BadInput(f"{form.title} has 8 bits a channel; choose PNG or TIFF for 16.")
    made: AnyArray = picture
    if form.sized and wish.size is not None and wish.size != max(picture.shape[:2]):
        made = _sized(picture, wish.size, wish.depth == 16)
    if wish.depth == 16 and made.dtype == np.uint8:
        made = made.astype(np.uint16) * np.uint16(_SIXTEEN)
    if made.shape[2] == 4:
        most = 65535 if made.dtype == np.uint16 else 255
        if (made[..., 3] == most).all():
            made = made[..., :3]
        elif wish.ground is not None or not form.alpha:
            made = _on_ground(made, wish.ground or "#ffffff")
    return Page(np.ascontiguousarray(made), wish, inside if wish.recipe else None, title)


def written(
    picture: Byte,
    form: Format,
    wish: Wish,
    inside: dict[str, Any] | None = None,
    title: str = "",
    layered: Layered | None = None,
) -> bytes:
    """A picture as the bytes of a file; parameters as of `page_of`, `layered` for formats that keep layers apart."""
    page = page_of(picture, form, wish, inside, title)
    if layered is not None:
        page = Page(page.picture, page.wish, page.inside, page.title, lambda: layered)
    return form.of(page)
