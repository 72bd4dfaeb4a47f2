"""Small soft shapes of light drawn straight into a linear picture."""

import numpy as np

from ..maths.arrays import AnyArray, Float


def _window(picture: Float, x: float, y: float, reach: int) -> tuple[slice, slice, AnyArray, AnyArray] | None:
    height, width = picture.shape[:2]
    top, bottom = max(int(y) - reach, 0), min(int(y) + reach + 1, height)
    left, right = max(int(x) - reach, 0), min(int(x) + reach + 1, width)
    if bottom <= top or right <= left:
        return None
    yy, xx = np.mgrid[top:bottom, left:right]
    return slice(top, bottom), slice(left, right), yy, xx


def disc(picture: Float, x: float, y: float, radius: float, colour: AnyArray, rim: float = 0.25) -> None:
    """Add a disc, as a lens draws a far light out of focus: brighter to its rim."""
    found = _window(picture, x, y, int(radius + 2))
    if found is None:
        return
    rows, columns, yy, xx = found
    away = np.hypot(xx + 0.5 - x, yy + 0.5 - y)
    cover = np.clip(radius - away + 0.5, 0, 1) * (1 - rim + rim * (away / radius) ** 3)
    picture[rows, columns] += cover[..., None] * np.asarray(colour)


def glow(picture: Float, x: float, y: float, radius: float, colour: AnyArray) -> None:
    """Add a soft round light."""
    found = _window(picture, x, y, int(radius * 4))
    if found is None:
        return
    rows, columns, yy, xx = found
    away = np.hypot(xx + 0.5 - x, yy + 0.5 - y) / radius
    picture[rows, columns] += np.exp(-away * away)[..., None] * np.asarray(colour)
