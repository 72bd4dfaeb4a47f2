"""What still water or a wet yard mirrors of a building.

The eye looks level, so that a thing and its mirror image lie in one column of the picture.
"""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...understanding.building.perspective import Perspective

_CLOSED = 6


def mirror_image(light: Float, deep: Float, view: Perspective, drop: float = 0.0) -> tuple[Float, Float]:
    """The mirror image of what stands on the ground, (h, w, 3), and where there is any, (h, w) 0..1. About 20 ms.

    Parameters
    ----------
    light : (h, w, 3) the picture. deep : (h, w) depth in eye heights, infinite where nothing stands.
    drop : how far the mirror lies below the ground, eye heights.
    """
    height, width = deep.shape
    rows, columns = np.nonzero(np.isfinite(deep))
    far = deep[rows, columns]
    level = view.horizon + view.focal * (1 + drop) / far
    lands = np.rint(2 * level - rows).astype(int)
    within = (lands >= 0) & (lands < height)
    rows, columns, lands, far = rows[within], columns[within], lands[within], far[within]
    order = np.argsort(-far, kind="stable")
    picture, cover = np.zeros((height, width, 3), f32), np.zeros((height, width), bool)
    picture[lands[order], columns[order]] = light[rows[order], columns[order]]
    cover[lands, columns] = True
    for _ in range(_CLOSED):
        # A sloping face is drawn longer in the mirror than it is seen: what lies between is filled from above.
        open_ = ~cover[1:] & cover[:-1]
        picture[1:][open_] = picture[:-1][open_]
        cover[1:] |= open_
    return picture, cover.astype(f32)


def rippled(
    picture: Float, cover: Float, view: Perspective, unit: float, calm: float, waves: Float
) -> tuple[Float, Float]:
    """A mirror image as water moves it: wider toward the eye.

    Parameters
    ----------
    unit : px of a 512th of the picture's short side. calm : 0..1. waves : (h, w) smooth noise, about -2..2.
    """
    height, width = cover.shape
    near = np.clip((np.arange(height, dtype=f32) - view.horizon) / max(height - view.horizon, 1), 0, 1)[:, None]
    aside = waves * near * f32((1 - calm) * 9 * unit)
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    whole = np.dstack([picture * cover[..., None], cover])
    moved = cv2.remap(whole, xs + aside, ys + 0.5 * aside, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    soft = cv2.GaussianBlur(moved, (0, 0), sigmaX=max(0.5 * unit, 0.3), sigmaY=max((3.2 - 2.2 * calm) * unit, 0.4))
    cover = soft[..., 3]
    return (soft[..., :3] / np.maximum(cover, 1e-3)[..., None]).astype(f32), np.clip(cover, 0, 1).astype(f32)
