"""Pen lines: thin lines of a picture linked to chains, and pens drawn along them.

Sources
-------
1. T. Zhang, C. Suen, "A fast parallel algorithm for thinning digital patterns", 1984.
"""

import math
from itertools import pairwise

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Mask, f32
from ...maths.filters import evened
from ...maths.jit import kernel
from .brush import Strokes
from .flow import ink_lines

# Below this size of marks lines are looked for in an enlarged picture, above that in a reduced one.
_LEAST_SCALE, _MOST_SCALE = 0.64, 1.0
# Places along a lens at which its width is told.
_PROFILE = 512


@kernel
def _walk(thin, xs, ys, starts):  # type: ignore[no-untyped-def]
    """Order the pixels of a thinned picture into chains, straight on at junctions; returns how many chains."""
    h, w = thin.shape
    count = chains = 0
    for turn in range(2):
        for y0 in range(h):
            for x0 in range(w):
                if thin[y0, x0] == 0:
                    continue
                if turn == 0:
                    around = -1
                    for dy in range(-1, 2):
                        for dx in range(-1, 2):
                            if 0 <= y0 + dy < h and 0 <= x0 + dx < w and thin[y0 + dy, x0 + dx]:
                                around += 1
                    if around > 1:
                        continue
                starts[chains] = count
                chains += 1
                y, x = y0, x0
                vx = vy = 0.0
                while True:
                    xs[count], ys[count] = x, y
                    count += 1
                    thin[y, x] = 0
                    best, by, bx = -9.0, -1, -1
                    for dy in range(-1, 2):
                        for dx in range(-1, 2):
                            if 0 <= y + dy < h and 0 <= x + dx < w and thin[y + dy, x + dx]:
                                score = (dx * vx + dy * vy) / math.sqrt(dx * dx + dy * dy) - 0.01 * (dx * dx + dy * dy)
                                if score > best:
                                    best, by, bx = score, y + dy, x + dx
                    if by < 0 or best < -0.75:
                        break
                    vx, vy = 0.6 * vx + (bx - x), 0.6 * vy + (by - y)
                    norm = math.sqrt(vx * vx + vy * vy) + 1e-6
                    vx, vy = vx / norm, vy / norm
                    y, x = by, bx
    starts[chains] = count
    return chains


def chains(mask: Mask, least: float) -> list[Float]:
    """Centre lines of a mask as polylines (n, 2) of x, y, each at least `least` pixels long."""
    # Loaded here: the server names looks but never draws.
    from skimage.morphology import skeletonize

    thin = skeletonize(mask).astype(np.uint8)
    total = int(thin.sum())
    if not total:
        return []
    xs, ys, starts = np.empty(total, f32), np.empty(total, f32), np.empty(total + 1, np.int64)
    count = _walk(thin, xs, ys, starts)
    lines = []
    for k in range(count):
        a, b = starts[k], starts[k + 1]
        if b - a >= max(least, 3):
            lines.append(np.stack([xs[a:b], ys[a:b]], 1))
    return lines


def runs(along: Mask) -> list[tuple[int, int]]:
    """First and end of every stretch of a line (n,) that is true."""
    cuts = np.flatnonzero(np.diff(np.concatenate([[0], along.astype(int), [0]]))).tolist()
    return list(zip(cuts[::2], cuts[1::2], strict=True))


def placed(chain: Float, zoom: float) -> Float:
    """A chain of another size's pixels as one of the take's, a point a pixel."""
    line = (chain + 0.5) * f32(zoom) - 0.5
    count = max(round(len(line) * zoom), 3)
    at = np.linspace(0, len(line) - 1, count)
    return np.stack([np.interp(at, np.arange(len(line)), line[:, k]) for k in range(2)], 1).astype(f32)


def smoothed(line: Float, reach: float) -> tuple[Float, bool]:
    """A polyline smoothed along itself over `reach` points, and whether it closes."""
    closed = len(line) > 20 and float(np.hypot(*(line[0] - line[-1]))) < 3
    taps = min(int(3 * reach), len(line) - 2)
    if taps < 1:
        return line, closed
    weights = np.exp(-(np.arange(-taps, taps + 1) ** 2) / (2 * reach * reach))
    weights /= weights.sum()
    if closed:
        padded = np.concatenate([line[-taps - 1 : -1], line, line[1 : taps + 1]])
    else:
        padded = np.pad(line, ((taps, taps), (0, 0)), mode="reflect", reflect_type="odd")
    return np.stack([np.convolve(padded[:, k], weights, "valid") for k in range(2)], 1).astype(f32), closed


def cornered(line: Float, reach: float, turn: float = 0.8) -> list[Float]:
    """A polyline cut where it turns by more than `turn` radians within `reach` points, so that corners stay corners."""
    step = max(round(reach), 2)
    if len(line) < 3 * step:
        return [line]
    back, ahead = line[step:-step] - line[: -2 * step], line[2 * step :] - line[step:-step]
    angles = np.abs(np.angle(np.exp(1j * (np.arctan2(ahead[:, 1], ahead[:, 0]) - np.arctan2(back[:, 1], back[:, 0])))))
    cuts = [0]
    for k in np.argsort(-angles):
        if angles[k] < turn:
            break
        if all(abs(k + step - c) >= step for c in cuts):
            cuts.append(int(k + step))
    cuts = [*sorted(cuts), len(line) - 1]
    return [line[a : b + 1] for a, b in pairwise(cuts) if b > a]


def drawn_lines(
    lab: Float, scale: float, width: float = 1.0, threshold: float = -0.003, least: float = 9.0
) -> list[Float]:
    """The lines that a draughtsman would draw, as chains; `scale` is the size of marks, `width` of lines.

    In a small picture they are looked for in a larger one: filters of less than a pixel find others. In a large one they
    are looked for in a smaller one, so that the same picture twice as large is drawn with the same lines.
    """
    zoom = min(max(_LEAST_SCALE / scale, 1.0), 2.0) if scale < _MOST_SCALE else _MOST_SCALE / scale
    if abs(zoom - 1) > 0.02:
        rows, columns = (round(n * zoom) for n in lab.shape[:2])
        how = cv2.INTER_CUBIC if zoom > 1 else cv2.INTER_AREA
        other = cv2.resize(lab, (columns, rows), interpolation=how)
        return [placed(chain, 1 / zoom) for chain in drawn_lines(other, scale * zoom, width, threshold, least)]
    ink = ink_lines(evened(lab, 14 * scale), width * scale, 4.5 * scale, 0.99, 2.4 * scale, 60.0, threshold)
    mask = ink < 0.5
    _, ids, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    long_enough = np.maximum(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT]) >= least * scale
    long_enough[0] = False
    return chains(long_enough[ids], least * scale * 0.8)


@kernel
def _pen(cover, xs, ys, radii, inks):  # type: ignore[no-untyped-def]
    h, w = cover.shape
    for i in range(len(xs) - 1):
        steps = int(math.hypot(xs[i + 1] - xs[i], ys[i + 1] - ys[i]) / 0.5) + 1
        for k in range(steps):
            f = f32(k) / f32(steps)
            x = xs[i] + f * (xs[i + 1] - xs[i])
            y = ys[i] + f * (ys[i + 1] - ys[i])
            r = radii[i] + f * (radii[i + 1] - radii[i])
            left, right = max(math.ceil(x - r - 0.5), 0), min(math.floor(x + r + 0.5), w - 1)
            for row in range(max(math.ceil(y - r - 0.5), 0), min(math.floor(y + r + 0.5), h - 1) + 1):
                for column in range(left, right + 1):
                    distance = math.sqrt((row - y) * (row - y) + (column - x) * (column - x))
                    c = f32(min(max(r + 0.5 - distance, 0.0), 1.0)) * inks[i]
                    if c > cover[row, column]:
                        cover[row, column] = c


def pen(cover: Float, line: AnyArray, radii: AnyArray | float, inks: AnyArray | float = 1.0) -> None:
    """Draw a round nib along a polyline (n, 2), in place; the darker of what is there and the line stays."""
    count = len(line)
    if count < 2:
        return
    _pen(
        cover, np.ascontiguousarray(line[:, 0], dtype=f32), np.ascontiguousarray(line[:, 1], dtype=f32),
        np.broadcast_to(np.asarray(radii, f32), count).copy(), np.broadcast_to(np.asarray(inks, f32), count).copy(),
    )  # fmt: skip


@kernel
def _lenses(cover, paths, first, last, depths, profile, zoom):  # type: ignore[no-untyped-def]
    h, w = cover.shape
    half, one = f32(0.5), f32(1)
    fine = len(profile) - 1
    for i in range(len(depths)):
        count = last[i] - first[i]
        if count < 2:
            continue
        depth = depths[i] * zoom
        bx, by, br = f32(0), f32(0), f32(0)
        for j in range(count + 1):
            ax, ay, ar = bx, by, br
            bx, by = paths[i, first[i] + j, 0] * zoom, paths[i, first[i] + j, 1] * zoom
            br = depth * profile[j * fine // count]
            if j == 0:
                continue
            # A piece between two discs: each pixel takes the disc where the path is nearest.
            ex, ey, wider = bx - ax, by - ay, br - ar
            per = one / (ex * ex + ey * ey + f32(1e-12))
            reach = max(ar, br) + half
            left, right = max(math.ceil(min(ax, bx) - reach), 0), min(math.floor(max(ax, bx) + reach), w - 1)
            for row in range(max(math.ceil(min(ay, by) - reach), 0), min(math.floor(max(ay, by) + reach), h - 1) + 1):
                qy = f32(row) - ay
                for column in range(left, right + 1):
                    qx = f32(column) - ax
                    t = min(max((qx * ex + qy * ey) * per, f32(0)), one)
                    px, py, rim = qx - t * ex, qy - t * ey, ar + t * wider + half
                    # Without branches: here and there a guess of which way they go would be as good as any.
                    c = min(rim - math.sqrt(px * px + py * py), one)
                    cover[row, column] = max(cover[row, column], c)


def lenses(cover: Float, strokes: Strokes, depths: AnyArray, skew: float, power: float, zoom: float) -> None:
    """Lens-shaped marks along strokes, in place: half as wide as `depths` (n,), widest where the skew puts it.

    The cover is `zoom` times as large as the picture that the strokes belong to.
    """
    # Powers cost more than the marks themselves; a lens this smooth is told by its width at so many places.
    along = np.arange(_PROFILE + 1) / _PROFILE
    profile = (np.maximum(np.sin(np.pi * along**skew), 0) ** power).astype(f32)
    _lenses(cover, strokes.paths, strokes.first, strokes.last, depths.astype(f32), profile, f32(zoom))


def tapered(count: int, ends: float) -> Float:
    """Pressure 0..1 along a line of `count` points that thins over `ends` points at both ends."""
    along = np.arange(count)
    near = np.minimum(along, count - 1 - along) / max(ends, 1e-3)
    return (np.clip(near, 0, 1) ** 0.6).astype(f32)
