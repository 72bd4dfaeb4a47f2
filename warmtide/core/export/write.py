"""A picture written as it is wished: sized, set on its ground, in a format."""

from typing import Any

import cv2
import numpy as np

from ..finish.enlarge.alpha import with_alpha
from ..finish.enlarge.edges import carried
from ..maths.arrays import AnyArray, Byte, f32
from ..model.errors import BadInput
from .files.kind import Format, Page, Wish

_SIXTEEN = 257


def size_at(height: int, width: int, side: int) -> tuple[int, int]:
    """Height and width of a picture written with a long side of `side` pixels."""
    scale = side / max(height, width)
    return max(round(height * scale), 1), max(round(width * scale), 1)


def _sized(picture: Byte, side: int, deep: bool) -> AnyArray:
    """A picture with another long side: larger along its edges, smaller by area, between the steps of 8 bits where 16 are wished."""
    tall, wide = size_at(picture.shape[0], picture.shape[1], side)
    if side > max(picture.shape[:2]):
        rgb = carried(np.ascontiguousarray(picture[..., :3]), tall, wide)
        if picture.shape[2] == 3:
            return rgb
        return with_alpha(rgb, np.ascontiguousarray(picture[..., 3]), "edges")
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


def check(form: Format, wish: Wish) -> None:
    """`BadInput` where a format can't hold what is wished."""
    if wish.depth == 16 and not form.deep:
        raise BadInput(f"{form.title} has 8 bits a channel; choose PNG or TIFF for 16.")


def written(
    picture: Byte,
    form: Format,
    wish: Wish,
    inside: dict[str, Any] | None = None,
    title: str = "",
    layers: tuple[tuple[str, Byte], ...] = (),
) -> bytes:
    """A picture (h, w, 3) or (h, w, 4) uint8 as the bytes of a file; the rest as in `Page`.

    Raises
    ------
    BadInput : the format can't hold what is wished.
    """
    check(form, wish)
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
    return form.of(Page(np.ascontiguousarray(made), wish, inside if wish.recipe else None, title, layers))
