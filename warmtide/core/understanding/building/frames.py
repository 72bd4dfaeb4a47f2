"""Window frames on a wall that is seen from straight ahead: what is drawn on an untextured wall is let into it.

Panes of the wall's own grey, glazing bars and jambs in shadow all break a window up; its outline stays four straight
edges that run with the wall.
"""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float

# The least run of edge that counts, and how near the wall's outline nothing counts, px.
_RUN, _RIM = 7, 5
# A frame's sides in shares of the wall's height; how much of three of its sides is drawn, and of the fourth.
_SMALL, _LARGE, _DRAWN_SIDE, _FOURTH_SIDE = 0.08, 0.75, 0.65, 0.2
_HALF = 2
# A notch in the wall's outline that something let into it makes, at most, in shares of the wall's height.
_NOTCH = 0.3
# The sill lies below this share of a frame's height.
_SILL = 0.85
# Mean step of lightness from a pixel to the next that shows where a side is.
_STEP = 0.004


def _aligned(edges: Byte) -> Byte:
    """Edges that run across or upright; a shadow's and a gable's do not."""
    across = cv2.morphologyEx(edges, cv2.MORPH_OPEN, np.ones((1, _RUN), np.uint8))
    upright = cv2.morphologyEx(edges, cv2.MORPH_OPEN, np.ones((_RUN, 1), np.uint8))
    return np.maximum(across, upright)


def _sides(edges: Byte, x: int, y: int, wide: int, tall: int) -> list[float]:
    """The share that is drawn of each of a box's four sides, the least first."""
    near = 4
    box = edges[y : y + tall, x : x + wide]
    sides = box[:near].any(0), box[-near:].any(0), box[:, :near].any(1), box[:, -near:].any(1)
    return sorted(float(side.mean()) for side in sides)


def _without_sill(edges: Byte, x: int, y: int, wide: int, tall: int) -> tuple[int, int]:
    """Left and width of a frame whose sill is wider: how far what lies above the sill reaches."""
    above = np.flatnonzero(edges[y : y + round(_SILL * tall), x : x + wide].any(0))
    return x + int(above[0]), int(np.ptp(above)) + 1


def _apart(box: Byte) -> list[tuple[int, int]]:
    """Left and right of every frame in a box of edges that hang together by their sills: between them the upper half is empty."""
    upper = box[: max(box.shape[0] // 2, 1)].any(0)
    ends = np.flatnonzero(np.diff(np.concatenate([[0], upper.astype(np.int8), [0]])))
    return [(int(a), int(b)) for a, b in zip(ends[::2], ends[1::2], strict=True)]


def frames_of(edges: Byte, wall: Byte) -> list[tuple[int, int, int, int]]:
    """Boxes x, y, width, height of the frames on a wall.

    Parameters
    ----------
    edges : (h, w) 1 where an edge is seen. wall : (h, w) 1 on the wall with what is let into it. Both as seen from
        straight ahead, px.
    """
    rows = np.flatnonzero(wall.any(1))
    height = float(np.ptp(rows)) if len(rows) else 0.0
    # What is let in breaks a wall's outline.
    size = 2 * round(_NOTCH * height) + 1
    whole = cv2.morphologyEx(np.pad(wall, size), cv2.MORPH_CLOSE, np.ones((size, size), np.uint8))
    inner = cv2.erode(whole, np.ones((2 * _RIM + 1, 2 * _RIM + 1), np.uint8))[size:-size, size:-size]
    drawn = cv2.morphologyEx(_aligned(edges) * inner, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    count, names, stats, _ = cv2.connectedComponentsWithStats(drawn, connectivity=8)
    found = []
    for k in range(1, count):
        left, top, across, tall = (int(v) for v in stats[k, :4])
        own = drawn[top : top + tall, left : left + across] * (names[top : top + tall, left : left + across] == k)
        for start, end in _apart(own):
            rows = np.flatnonzero(own[:, start:end].any(1))
            y, high = top + int(rows[0]), int(np.ptp(rows)) + 1
            if not (_SMALL * height < end - start < _LARGE * height and _SMALL * height < high < _LARGE * height):
                continue
            x, wide = _without_sill(drawn, left + start, y, end - start, high)
            least, second = _sides(drawn, x, y, wide, high)[:2]
            if least > _FOURTH_SIDE and second > _DRAWN_SIDE and 0.15 < wide / high < 6:
                # An edge is as wide as the blur it was found with.
                found.append((x + _HALF, y + _HALF, wide - 2 * _HALF, high - 2 * _HALF))
    return found


def snapped(
    light: Float, box: tuple[int, int, int, int], reach: tuple[float, float]
) -> tuple[float, float, float, float]:
    """A frame's box x, y, width, height with its sides where lightness (h, w) steps most, to a part of a pixel.

    Parameters
    ----------
    reach : how far a side may move along x and y, px.
    """
    x, y, wide, tall = box
    rows = slice(y + tall // 4, y + tall - tall // 4)
    columns = slice(x + wide // 4, x + wide - wide // 4)
    across = np.abs(np.diff(light[rows], axis=1)).mean(0)
    down = np.abs(np.diff(light[:, columns], axis=0)).mean(1)
    left, right = (_step_near(across, at, reach[0]) for at in (x, x + wide))
    top, low = (_step_near(down, at, reach[1]) for at in (y, y + tall))
    return left, top, max(right - left, 1.0), max(low - top, 1.0)


def _step_near(steps: Float, at: int, reach: float) -> float:
    """Where the greatest step near an edge between pixels lies; the edge itself where nothing steps."""
    first, last = max(round(at - reach) - 1, 0), min(round(at + reach), len(steps))
    near = steps[first:last]
    if len(near) < 3 or near.max() < _STEP:
        return float(at)
    peak = int(near.argmax())
    around = slice(max(peak - 2, 0), peak + 3)
    weight = np.maximum(near[around] - near.max() / 2, 0)
    return first + 1 + float((weight * np.arange(len(near))[around]).sum() / weight.sum())


def filled(mask: AnyArray) -> Byte:
    """A mask with its holes filled, 0 or 1."""
    lines, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    out = np.zeros(mask.shape, np.uint8)
    cv2.drawContours(out, lines, -1, 1, -1)
    return out
