"""What a source wants of a scene: where sky ends and land begins, where trees stand, its masses and colours."""

import math
from dataclasses import replace

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.blur import blur
from .view import Layout

_WIDE = 256
# Scenes whose far land may be lifted to a drawn skyline need one that is more than a straight line.
_STRAIGHT = 0.03
_SKY_REACH = 11.0
# A step of the skyline from column to column, as a share of the height, and how many are too many for land.
_STEP, _STEPPED = 0.02, 0.015
# Least step in CIELAB that is an edge of what was drawn.
_EDGE = 4.0
_PULL_LIGHT, _PULL_COLOUR, _LEAST_PULL = 0.44, 0.55, 0.3


def _lab(rgb: AnyArray) -> Float:
    return cv2.cvtColor(np.ascontiguousarray(rgb, dtype=f32), cv2.COLOR_RGB2LAB)


def _sky(lab: Float) -> tuple["np.ndarray[tuple[int, int], np.dtype[np.bool_]]", AnyArray]:
    """Pixels joined to the upper edge through small steps of colour and not far from its colour; that colour."""
    height, width = lab.shape[:2]
    top = np.median(lab[: max(height // 12, 2)].reshape(-1, 3), 0)
    flooded = np.zeros((height + 2, width + 2), np.uint8)
    soft = np.ascontiguousarray(lab * np.array([0.8, 1, 1], f32))
    flags = 4 | (255 << 8) | cv2.FLOODFILL_MASK_ONLY
    for i in range(0, width, 4):
        if flooded[1, i + 1] == 0 and np.linalg.norm(lab[0, i] - top) < 38:
            cv2.floodFill(soft, flooded, (i, 0), 0, (1.6,) * 3, (1.6,) * 3, flags)
    alike = np.linalg.norm((lab - top) * np.array([0.6, 1, 1]), axis=-1) < _SKY_REACH
    joined = ((flooded[1:-1, 1:-1] > 0) | alike).astype(np.uint8)
    joined = cv2.morphologyEx(joined, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    _, parts = cv2.connectedComponents(joined, connectivity=4)
    edge = set(np.unique(parts[0])) - {0}
    return np.isin(parts, list(edge)), top


def _plants(lab: Float, sky: AnyArray) -> tuple[list[tuple[float, float, float]], AnyArray]:
    """Dark green blobs below the sky: x, base and height of each tree in them; columns that they cover."""
    height, width = sky.shape
    light = lab[..., 0]
    covered = np.zeros(width, bool)
    if not (~sky).any():
        return [], covered
    green = (lab[..., 1] < -8) & (light < np.median(light[~sky]) * 0.78) & ~sky
    count, parts, stats, _ = cv2.connectedComponentsWithStats(green.astype(np.uint8))
    found = []
    for k in range(1, count):
        x, _y, wide, tall, area = (int(v) for v in stats[k])
        if area < 12 or wide > width * 0.8:
            continue
        covered[max(x - 2, 0) : x + wide + 2] = True
        trees = max(1, round(wide / (tall * 0.8)))
        for q in range(trees):
            middle = x + (q + 0.5) * wide / trees
            left = int(np.clip(middle - wide / trees * 0.4, 0, width - 1))
            right = int(np.clip(middle + wide / trees * 0.4, 1, width)) + 1
            rows = np.nonzero((parts[:, left:right] == k).any(1))[0]
            if len(rows) > 2:
                found.append((middle / width, (rows.max() + 1) / height, (rows.max() - rows.min() + 1) / height))
    return found[:60], covered


def _waterline(lab: Float, sky: AnyArray, line: Float) -> float | None:
    """Where a broad straight band of blue begins below the land, 0..1; bluish land alone is none.

    Blue hills end in no straight edge: where there is one that runs over a third of the picture with blue below it,
    the water begins there; else where blue does, if it begins well below the land.
    """
    height = sky.shape[0]
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    blue = (np.hypot(lab[..., 1], lab[..., 2]) > 8) & (hue >= 190) & (hue < 320) & ~sky
    share, band = blue.mean(1), max(int(0.06 * height), 1)
    across = np.linalg.norm(lab[4:] - lab[:-4], axis=-1) > _EDGE
    across &= np.arange(2, height - 2)[:, None] > line[None] + 0.02 * height
    for row in np.nonzero(across.mean(1) > 0.35)[0] + 2:
        if row + band < height and share[row + 2 : row + band].mean() > 0.35:
            # The first row that sees the edge lies two above it.
            return float((row + 2) / height)
    rows = np.nonzero(share > 0.35)[0]
    if len(rows) <= 0.06 * height or rows.min() < np.median(line) + 0.03 * height:
        return None
    return float(rows.min() / height)


def layout_of(rgb: Float, pull: tuple[float, float] = (1.0, 1.0)) -> Layout:
    """Read the layout of a source (h, w, 3), sRGB 0..1.

    pull : how far its broad lights and colours are to be taken over, 0..1.

    A skyline is only trusted where the sky is clean: in a photograph a cloud is easily taken for a hill, and then
    masses and colours alone are used. About 10 ms.
    """
    height, width = rgb.shape[:2]
    size = _WIDE, max(int(height * _WIDE / width), 32)
    small = cv2.resize(rgb.astype(f32), size, interpolation=cv2.INTER_AREA)
    lab = _lab(cv2.bilateralFilter(small, 7, 0.12, 5))
    rows = size[1]
    sky, top = _sky(lab)
    line = np.where(sky.all(0), rows, np.argmax(~sky, 0)).astype(f32)
    plants, covered = _plants(lab, sky)
    if covered.any() and not covered.all():
        line = np.interp(np.arange(_WIDE), np.nonzero(~covered)[0], line[~covered]).astype(f32)
    from scipy.ndimage import median_filter

    line = median_filter(line, 5)
    share = float(sky.mean())
    # A clean sky is one piece from the upper edge down: below its line hardly any of it is left.
    below = np.arange(rows)[:, None] > line[None] + 2
    clean = (
        0.06 < share < 0.92 and float((sky & below).mean()) < 0.03 and float(np.abs(np.diff(line)).mean()) < 0.02 * rows
    )
    layout = Layout(
        pull=pull, sky=cv2.resize(sky.astype(f32), (width, height)), guide=rgb.astype(f32), plants=tuple(plants)
    )
    chroma, hue = float(np.hypot(top[1], top[2])), math.degrees(math.atan2(top[2], top[1])) % 360
    if top[0] < 26:
        layout = replace(layout, time="night")
    elif chroma > 22 and (hue < 85 or hue > 330):
        layout = replace(layout, time="sunset")
    if not clean:
        return replace(layout, sky=None, plants=())
    span = float(np.percentile(line, 97) - np.percentile(line, 3)) / rows
    water = _waterline(lab, sky, line)
    horizon = float(np.percentile(line, 80) / rows)
    if water is not None and span > _STRAIGHT:
        horizon = water - 0.004
    elif span > 0.05:
        horizon = min(float(line.max() / rows) + 0.015, 0.92)
    layout = replace(layout, horizon=float(np.clip(horizon, 0.12, 0.9)), waterline=water)
    # Land has slopes; a line of many steps is roofs or masts, and land shaped by it would be a row of pillars.
    steps = float((np.abs(np.diff(line)) > _STEP * rows).mean())
    if span > _STRAIGHT and steps < _STEPPED:
        exact = np.interp(np.linspace(0, _WIDE - 1, width), np.arange(_WIDE), line / rows)
        layout = replace(layout, skyline=exact.astype(f32))
    return layout


def toned(picture: Float, sky: AnyArray, layout: Layout) -> Float:
    """Pull the broad colours of a scene toward those of its layout, sky and ground apart. (h, w, 3) sRGB 0..1."""
    assert layout.guide is not None
    height, width = picture.shape[:2]
    guide = _lab(cv2.resize(layout.guide, (width, height), interpolation=cv2.INTER_AREA))
    own = _lab(picture)
    out = own.copy()
    reach = width * 0.05
    mine = sky.astype(f32)
    theirs = cv2.resize(layout.sky, (width, height)) if layout.sky is not None else None
    # A picture of a sky over land was drawn for its colours too.
    least = _LEAST_PULL if theirs is not None else 0.0
    pulls = [least + (1 - least) * pull for pull in layout.pull]
    parts = (
        [(mine, theirs), (1 - mine, 1 - theirs)] if theirs is not None else [(np.ones_like(mine), np.ones_like(mine))]
    )
    for here, there in parts:
        have = blur(here, reach) + 1e-3
        give = blur(there * here, reach) + 1e-3
        change = np.dstack(
            [
                blur(guide[..., k] * there * here, reach) / give - blur(own[..., k] * here, reach) / have
                for k in range(3)
            ]
        )
        light, colour = _PULL_LIGHT * pulls[0], _PULL_COLOUR * pulls[1]
        change *= np.array([light, colour, colour], f32)
        out += change * blur(here, 1.0)[..., None] * np.clip(give * 8, 0, 1)[..., None]
    return np.clip(cv2.cvtColor(out, cv2.COLOR_LAB2RGB), 0, 1).astype(f32)
