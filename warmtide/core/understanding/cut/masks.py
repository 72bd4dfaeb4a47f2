"""Hard masks of what is cut out: from a network, from what stands out, from a rough line around it.

Sources
-------
1. C. Rother, V. Kolmogorov, A. Blake, "GrabCut: interactive foreground extraction using iterated graph cuts", 2004.
"""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, Mask, f32
from ...maths.colour import bytes_to_lab

OUT, IN, MAYBE_OUT, MAYBE_IN = cv2.GC_BGD, cv2.GC_FGD, cv2.GC_PR_BGD, cv2.GC_PR_FGD
# OKLab as bytes, chroma stretched as it counts.
_STRETCH, _MIDDLE = np.array([255, 420, 420], f32), np.array([0, 128, 128], f32)
_LEAST_ROOM = 12


def disc(radius: int) -> Byte:
    """A round structuring element."""
    return cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1, 2 * radius + 1))


def grown(mask: Mask, radius: int) -> Mask:
    found: Mask = cv2.dilate(mask.astype(np.uint8), disc(radius)) > 0
    return found


def shrunk(mask: Mask, radius: int) -> Mask:
    """The mask without a rim; the border of the picture is no rim."""
    found: Mask = cv2.erode(mask.astype(np.uint8), disc(radius), borderValue=1) > 0
    return found


def without_crumbs(mask: Mask, least: float = 0.06, holes: float = 0.0015) -> Mask:
    """A mask without islands below `least` of the largest and without holes below `holes` of the picture."""
    count, parts, sizes, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=4)
    if count > 2:
        large = sizes[:, 4] >= least * sizes[1:, 4].max()
        large[0] = False
        mask = large[parts]
    _, parts, sizes, _ = cv2.connectedComponentsWithStats((~mask).astype(np.uint8), connectivity=4)
    small = sizes[:, 4] < holes * mask.size
    small[0] = False
    filled: Mask = mask | small[parts]
    return filled


def parted(rgb: Byte, states: Byte, rounds: int = 3) -> Mask:
    """What belongs to the subject, from pixels that surely or maybe do (`IN`, `MAYBE_IN`, `MAYBE_OUT`, `OUT`).

    The same states give the same mask. 100 to 300 ms at 512 px.
    """
    known: Mask = (states == IN) | (states == MAYBE_IN)
    open_ = (states == MAYBE_IN) | (states == MAYBE_OUT)
    if not open_.any() or not known.any() or known.all():
        return known
    height, width = states.shape
    rows, columns = np.flatnonzero(open_.any(1)), np.flatnonzero(open_.any(0))
    room = max(_LEAST_ROOM, max(height, width) // 16)
    box = (slice(max(0, rows[0] - room), rows[-1] + room + 1), slice(max(0, columns[0] - room), columns[-1] + room + 1))
    part = states[box].copy()
    inside = (part == IN) | (part == MAYBE_IN)
    if not inside.any() or inside.all():
        box, part = (slice(None), slice(None)), states.copy()
    lab = np.clip(bytes_to_lab(np.ascontiguousarray(rgb[box])) * _STRETCH + _MIDDLE, 0, 255).astype(np.uint8)
    cv2.setRNGSeed(7)
    cv2.grabCut(lab, part, None, np.zeros((1, 65)), np.zeros((1, 65)), rounds, cv2.GC_INIT_WITH_MASK)
    out = known.copy()
    out[box] = (part == IN) | (part == MAYBE_IN)
    return out


def states_of_odds(odds: Float, reach: int | None = None) -> Byte:
    """States from a network's odds: sure well inside and well outside, open in a belt."""
    likely = odds > 0.5
    reach = reach or max(4, int(0.045 * np.sqrt(likely.sum())))
    states = np.where(likely, MAYBE_IN, MAYBE_OUT).astype(np.uint8)
    states[shrunk(odds > 0.8, reach)] = IN
    states[~grown(odds > 0.3, reach)] = OUT
    return states


def states_of_salience(plane: Float, threshold: float) -> Byte:
    """States from how much places stand out."""
    states = np.where(plane > threshold, MAYBE_IN, MAYBE_OUT).astype(np.uint8)
    states[plane > max(1.45 * threshold, float(np.percentile(plane, 92)))] = IN
    states[plane < 0.35 * threshold] = OUT
    return states


def states_of_line(shape: tuple[int, int], line: AnyArray, inside: float = 0.13, outside: float = 0.05) -> Byte:
    """States from a rough closed line (n, 2) in pixels, drawn rather outside than inside; belts in shares of its size."""
    filled = np.zeros(shape, np.uint8)
    cv2.fillPoly(filled, [np.round(line).astype(np.int32)], 1)
    within = filled > 0
    size = float(np.sqrt(within.sum()))
    states = np.where(within, MAYBE_IN, MAYBE_OUT).astype(np.uint8)
    states[shrunk(within, max(3, int(inside * size)))] = IN
    states[~grown(within, max(2, int(outside * size)))] = OUT
    return states


# A stroke reaches this share of the long side, and at most this many sizes of what is there.
_REACH, _REACH_OF_SIZE = 0.16, 0.4


# A colour this near to a stroke's own goes with it at first.
_LIKE_STROKE = 0.05


def _lean(rgb: Byte, states: Byte, strokes: AnyArray) -> None:
    """Let pixels of a stroke's colours lean its way at first, those out of its reach too: what they were taken for would hold
    them else."""
    lab = bytes_to_lab(rgb)
    for sign, others, to in ((1, (OUT, MAYBE_OUT), MAYBE_IN), (-1, (IN, MAYBE_IN), MAYBE_OUT)):
        own = lab[strokes == sign]
        if not len(own):
            continue
        steps = np.linspace(0, len(own) - 1, min(len(own), 5)).astype(int)
        nearest = np.full(states.shape, 9, f32)
        for colour in own[np.argsort(own[:, 0])][steps]:
            off = lab - colour
            np.minimum(nearest, np.sqrt((off * off).sum(2)), out=nearest)
        states[np.isin(states, others) & (nearest < _LIKE_STROKE)] = to


def mended(rgb: Byte, mask: Mask, strokes: AnyArray, kept: AnyArray | None = None) -> Mask:
    """A mask as strokes mend it, near them only; of what changes only pieces that a stroke touches.

    Parameters
    ----------
    strokes : (h, w) 1 in, -1 out, 0 nothing said. kept : earlier strokes, which still bind.
    """
    if not (strokes != 0).any():
        return mask
    said = strokes if kept is None else np.where(strokes != 0, strokes, kept)
    long_side = max(mask.shape)
    reach = _REACH * long_side
    if mask.any():
        reach = min(reach, _REACH_OF_SIZE * float(np.sqrt(mask.sum())))
    reach = max(8, int(reach))
    near = grown(strokes != 0, reach)
    states = np.where(mask, MAYBE_IN, MAYBE_OUT).astype(np.uint8)
    states[~near & mask] = IN
    states[~near & ~mask] = OUT
    _lean(rgb, states, strokes)
    for sign, state in ((1, IN), (-1, OUT)):
        states[said == sign] = state
        states[grown(strokes == sign, 1)] = state
    new = parted(rgb, states)
    out = mask.copy()
    for sign in (1, -1):
        changed = ((new & ~out) if sign > 0 else (out & ~new)) & near
        count, parts = cv2.connectedComponents(changed.astype(np.uint8), connectivity=4)
        touched = np.zeros(count, bool)
        touched[np.unique(parts[grown(strokes == sign, 2)])] = True
        touched[0] = False
        out = out | touched[parts] if sign > 0 else out & ~touched[parts]
    out[said > 0], out[said < 0] = True, False
    return out
