"""Flat art off its ground: what joins the border in the ground's colour goes, and edges are unmixed exactly."""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, f32
from ...maths.colour import bytes_to_lab
from .masks import grown

# Share of the border that has one colour, and how far that spreads, for a ground to be flat.
_SHARE, _SPREAD, _ALIKE = 0.93, 0.006, 0.02
_TOLERANCE = 0.05
# Specks of noise are ground; small marks, which differ more, are not.
_SPECK, _FAINT = 0.002, 0.15
_MOST_PARTS = 150
_LOOK = 2


@dataclass(frozen=True, eq=False)
class FlatCut:
    """`alpha` (h, w) 0..1 and `colours` (h, w, 3) uint8 freed of the ground."""

    alpha: Float
    colours: Byte


def _ground_colour(rgb: Byte) -> AnyArray | None:
    border = np.concatenate([part.reshape(-1, 3) for part in (rgb[:2], rgb[-2:], rgb[:, :2], rgb[:, -2:])])
    coarse = (border >> 3).astype(np.int32)
    cells = (coarse[:, 0] << 10) | (coarse[:, 1] << 5) | coarse[:, 2]
    colour = np.median(border[cells == np.bincount(cells).argmax()], axis=0)
    off = np.linalg.norm(
        bytes_to_lab(border[None])[0] - bytes_to_lab(colour.astype(np.uint8)[None, None])[0, 0], axis=1
    )
    flat = float((off < _ALIKE).mean()) > _SHARE and float(np.percentile(off, 75)) < _SPREAD
    return colour if flat else None


def cut_flat(rgb: Byte) -> FlatCut | None:
    """Flat art (h, w, 3) off its ground, or None where the border is not one flat colour. 40 to 300 ms."""
    ground = _ground_colour(rgb)
    if ground is None:
        return None
    off = np.linalg.norm(bytes_to_lab(rgb) - bytes_to_lab(ground.astype(np.uint8)[None, None])[0, 0], axis=2).astype(
        f32
    )
    like = np.pad((off < _TOLERANCE).astype(np.uint8), 1, constant_values=1)
    _, parts = cv2.connectedComponents(like, connectivity=4)
    is_ground = (parts[1:-1, 1:-1] == parts[0, 0]) & (off < _TOLERANCE)
    count, parts, sizes, _ = cv2.connectedComponentsWithStats((~is_ground).astype(np.uint8))
    most = np.zeros(count, f32)
    np.maximum.at(most, parts.ravel(), off.ravel())
    specks = (most < _FAINT) & (sizes[:, 4] < _SPECK * off.size)
    is_ground |= specks[parts]
    count = cv2.connectedComponents((~is_ground).astype(np.uint8))[0]
    if not 2 <= count <= _MOST_PARTS:
        return None
    farthest, colours = _farthest(rgb.astype(f32), off)
    away = colours - ground.astype(f32)
    mixed = ((rgb - ground) * away).sum(2) / ((away * away).sum(2) + 1e-3)
    edge = grown(is_ground, 1)
    alpha = np.where(edge, np.clip(mixed, 0, 1), 1.0)
    alpha[is_ground & ((alpha < 0.12) | (farthest < _FAINT))] = 0
    free = np.where((edge & (alpha < 1))[..., None], colours, rgb)
    return FlatCut(alpha.astype(f32), np.clip(free + 0.5, 0, 255).astype(np.uint8))


def _farthest(picture: Float, off: Float) -> tuple[Float, Float]:
    """How far from the ground the colour farthest from it is within two pixels, and that colour."""
    best, colours = off.copy(), picture.copy()
    for dy in range(-_LOOK, _LOOK + 1):
        for dx in range(-_LOOK, _LOOK + 1):
            shift = np.array([[1, 0, dx], [0, 1, dy]], f32)
            size = off.shape[::-1]
            there = cv2.warpAffine(off, shift, size, borderMode=cv2.BORDER_REPLICATE)
            farther = there > best
            if farther.any():
                best[farther] = there[farther]
                colours[farther] = cv2.warpAffine(picture, shift, size, borderMode=cv2.BORDER_REPLICATE)[farther]
    return best, colours
