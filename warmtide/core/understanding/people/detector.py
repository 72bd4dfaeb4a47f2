"""Where faces may be: a small network looks at the whole picture, and at overlapping tiles of it for smaller ones.

Sources
-------
1. V. Bazarevsky et al., "Sub-millisecond neural face detection on mobile GPUs", 2019 (the network and its anchors).
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, f32
from ...maths.colour import bytes_to_lab
from ..networks import look, network_file

_NETWORK = "face_detection/face_detection_short_range"
_INPUT = 128
# Cells a side, and boxes a cell, of the two grids that the network answers in.
_GRIDS = ((16, 2), (8, 6))
_CENTRES = np.array(
    [((x + 0.5) / cells, (y + 0.5) / cells) for cells, boxes in _GRIDS for y in range(cells) for x in range(cells)
     for _ in range(boxes)]
)  # fmt: skip
_SURE = 0.5
# Tiles are these shares of the long side, each a third of itself from the next.
_TILES = (1 / 3, 1 / 6)
_STRIDE = 2 / 3
# Tiles are looked at only where something could be skin: this share of one at least, the likeliest first.
_LEAST_SKIN, _MOST_TILES = 0.01, (16, 24)
# What lies wholly within this much of a face found already is its cheek.
_WITHIN, _CERTAIN = 0.75, 0.85
_SKIN_CELL = 4
# A face seen whole is surer than the same one in a tile's corner.
_TILE_TRUST = 0.97
_APART = 0.6


@dataclass(frozen=True)
class Window:
    """Where a face may be: centre, width and turn (radians, clockwise) in pixels of the picture, and how sure that is."""

    x: float
    y: float
    width: float
    turn: float
    sure: float


def _skin_like(rgb: Byte) -> AnyArray:
    """Where a pixel could be skin of any tone, at a quarter of the size; everywhere on a picture without colours."""
    size = (max(rgb.shape[1] // _SKIN_CELL, 1), max(rgb.shape[0] // _SKIN_CELL, 1))
    small = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)
    lab = bytes_to_lab(small)
    chroma, hue = np.hypot(lab[..., 1], lab[..., 2]), np.arctan2(lab[..., 2], lab[..., 1])
    if float(chroma.mean()) < 0.02:
        return np.ones(small.shape[:2], f32)
    like = (chroma > 0.015) & (chroma < 0.15) & (hue > 0.1) & (hue < 1.45) & (lab[..., 0] > 0.22)
    return like.astype(f32)


def _tiles(rgb: Byte, share: float, most: int, skin: AnyArray, known: list[Window]) -> list[tuple[int, int, int]]:
    """Left, top and side of the squares of one size to look into."""
    height, width = rgb.shape[:2]
    side = round(max(height, width) * share)
    if side < 2 * _SKIN_CELL:
        return []
    pace = max(round(side * _STRIDE), 1)
    rated = []
    for top in range(0, max(height - side // 3, 1), pace):
        for left in range(0, max(width - side // 3, 1), pace):
            cells = skin[
                top // _SKIN_CELL : (top + side) // _SKIN_CELL, left // _SKIN_CELL : (left + side) // _SKIN_CELL
            ]
            rate = float(cells.mean()) if cells.size else 0.0
            x, y = left + side / 2, top + side / 2
            cheek = any(max(abs(x - f.x), abs(y - f.y)) + side / 2 < _WITHIN * f.width for f in known)
            if rate > _LEAST_SKIN and not cheek:
                rated.append((rate, left, top))
    return [(left, top, side) for _, left, top in sorted(rated, key=lambda r: -r[0])[:most]]


def _seen_in(rgb: Byte, left: int, top: int, side: int) -> list[Window] | None:
    tile = rgb[top : top + side, left : left + side]
    square = np.zeros((side, side, 3), np.uint8)
    square[: tile.shape[0], : tile.shape[1]] = tile
    method = cv2.INTER_AREA if side > _INPUT else cv2.INTER_LINEAR
    small = cv2.resize(square, (_INPUT, _INPUT), interpolation=method)
    said = look(_NETWORK, small.astype(f32) / f32(127.5) - f32(1), ("classificators", "regressors"))
    if said is None:
        return None
    sure = 1 / (1 + np.exp(-np.clip(said[0].reshape(-1), -50, 50)))
    boxes = said[1].reshape(-1, 16) / _INPUT * side
    found = []
    for i in np.flatnonzero(sure > _SURE):
        x, y = _CENTRES[i] * side + (left, top) + boxes[i, :2]
        # The first two of six points are the eyes.
        turn = np.arctan2(boxes[i, 7] - boxes[i, 5], boxes[i, 6] - boxes[i, 4])
        found.append(Window(float(x), float(y), float(boxes[i, 2]), float(turn), float(sure[i])))
    return found


def windows(rgb: Byte) -> list[Window] | None:
    """Where faces may be in a picture (h, w, 3), the surest first; None where the network is not installed.

    Faces from about a fortieth of the long side on, tilted by up to about 50 degrees. 6 ms a square: .03 to .25 s.
    """
    if network_file(_NETWORK) is None:
        return None
    found = _seen_in(rgb, 0, 0, max(rgb.shape[:2])) or []
    skin = _skin_like(rgb)
    for share, most in zip(_TILES, _MOST_TILES, strict=True):
        for left, top, side in _tiles(rgb, share, most, skin, [w for w in found if w.sure > _CERTAIN]):
            seen = _seen_in(rgb, left, top, side) or ()
            found += [replace(window, sure=window.sure * _TILE_TRUST) for window in seen]
    kept: list[Window] = []
    for window in sorted(found, key=lambda w: -w.sure):
        if all(np.hypot(window.x - o.x, window.y - o.y) > _APART * max(window.width, o.width) for o in kept):
            kept.append(window)
    return kept
