"""Felt: parts cut from wool felt, laid on each other and sewn down, fuzz at every edge, on linen."""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.outline import distance_in
from ...maths.relief import normals
from ...model.sitting import Sitting
from ..shared.shading import Surface, shade
from ..shared.texture import over
from .fibres import hairs
from .look import material
from .workpiece import Workpiece, workpiece

_HAIRS = 70_000
_STITCH, _SEAM, _BROAD = 27, 15, 34


def _layers(piece: Workpiece) -> Float:
    """Thickness of the stacked pieces."""
    art, u = piece.art, piece.unit
    level = art.by_part(art.levels.astype(f32))
    height = np.zeros((piece.height, piece.width), f32)
    for k in range(1, int(art.levels.max(initial=1)) + 1):
        edge = distance_in(level >= k)
        height += np.where(edge > 0, 13 * u * piece.thick * (1 - np.exp(-edge / (6 * u))), 0).astype(f32)
    wool = 1.3 * piece.noise("wool", 40) + 0.45 * piece.noise("wool mid", 9) + 0.35 * piece.noise("wool fine", 3)
    return blur(height + art.solid * wool * f32(u * np.exp(0.5 * piece.word("rough"))), 0.8 * u)


def _wool(piece: Workpiece, image: Float, colours: Float) -> Float:
    """Hairs over every piece, and fuzz over its edges; drawn on the image, their height returned."""
    art, u = piece.art, piece.unit
    raised = np.zeros((piece.height, piece.width), f32)
    random = piece.random("hairs")
    rows, columns = np.nonzero(art.solid)
    if not len(rows):
        return raised
    n = int(_HAIRS * art.solid.mean() / 0.35)
    pick = random.integers(0, len(rows), n)
    y, x = rows[pick], columns[pick]
    colour = colours[art.parts[y, x]] * random.lognormal(0, 0.22, (n, 1))
    room = np.minimum(art.within[y, x] + 3 * u, 22 * u)
    hairs(
        image, raised, art.parts, True, (x + random.uniform(0, 1, n), y + random.uniform(0, 1, n)),
        random.uniform(0, 6.28, n), np.maximum(room * random.uniform(0.5, 1.2, n), 4 * u),
        random.uniform(0.7, 1.5, n) * u, random.normal(0, 0.07, n) / u, colour, random.uniform(0.25, 0.6, n),
        random.uniform(0.5, 2.2, n) * u,
    )  # fmt: skip
    rows, columns = np.nonzero(art.border & art.solid)
    n = int(len(rows) * (1.1 + 0.9 * max(piece.word("wear"), 0)))
    pick = random.integers(0, len(rows), n)
    y, x = rows[pick], columns[pick]
    soft = blur((art.deep - art.away), 2 * u)
    outward = np.arctan2(-cv2.Sobel(soft, cv2.CV_32F, 0, 1), -cv2.Sobel(soft, cv2.CV_32F, 1, 0))[y, x]
    angle = outward + random.normal(0, 0.9, n)
    colour = colours[art.parts[y, x]] * random.lognormal(0.05, 0.2, (n, 1))
    # Fuzz is seen, but so thin that the outline stays where it was cut.
    hairs(
        image, raised, art.parts, False, (x - np.cos(angle) * 5 * u, y - np.sin(angle) * 5 * u), angle,
        random.gamma(3, 2.6, n).clip(5, 16) * u, random.uniform(0.5, 0.9, n) * u, random.normal(0, 0.09, n) / u,
        colour, random.uniform(0.15, 0.5, n), random.uniform(0.5, 3, n) * u,
    )  # fmt: skip
    return raised


def _seams(piece: Workpiece) -> list[tuple[int, AnyArray]]:
    """Closed lines a little inside every broad piece, counting what lies on it as part of it."""
    art, u = piece.art, piece.unit
    found = []
    for k in range(art.count):
        if art.areas[k] < 5000 * u * u:
            continue
        x, y, wide, tall = (int(v) for v in art.boxes[k])
        view = np.s_[y : y + tall, x : x + wide]
        mine = art.parts[view] == k
        if art.within[view][mine].max() < _BROAD * u:
            continue
        above = art.by_part(art.levels.astype(f32))[view] > art.levels[k]
        inner = np.pad(mine | above, 1)
        depth = distance_in(inner)[1:-1, 1:-1]
        lines, _ = cv2.findContours((depth > _SEAM * u).astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
        for line in lines:
            points = line[:, 0].astype(float) + (x, y)
            if len(points) >= 60 * u:
                from scipy import ndimage

                smooth = np.stack([ndimage.gaussian_filter1d(points[:, i], 4 * u, mode="wrap") for i in (0, 1)], 1)
                found.append((k, smooth))
    return found


def _sewn(piece: Workpiece, image: Float, height: Float, colours: Float) -> tuple[Float, Float, Float]:
    """Running stitches: image and height with the thread, and where the thread is."""
    u = piece.unit
    random = piece.random("stitches")
    thread, raised = np.zeros_like(image), np.zeros_like(height)
    cover = np.zeros_like(height)
    for k, line in _seams(piece):
        lab = piece.colours[k]
        light = lab[0] + (0.28 if lab[0] < 0.62 else -0.20)
        colour = linear_of(np.array([[np.clip(light, 0, 0.97), lab[1] * 0.7, lab[2] * 0.7]]))[0]
        along = np.r_[0, np.cumsum(np.hypot(*np.diff(line, axis=0).T))]
        count = max(int(along[-1] / (_STITCH * u)), 3)
        step_ = along[-1] / count
        for i in range(count):
            t = i * step_ + np.linspace(0, step_ * random.uniform(0.58, 0.66), 12)
            x = np.interp(t, along, line[:, 0]) + random.normal(0, 0.5) * u
            y = np.interp(t, along, line[:, 1]) + random.normal(0, 0.5) * u
            x0, y0 = max(int(x.min() - 9 * u), 0), max(int(y.min() - 9 * u), 0)
            x1, y1 = min(int(x.max() + 10 * u), piece.width), min(int(y.max() + 10 * u), piece.height)
            if x1 - x0 < 3 or y1 - y0 < 3:
                continue
            tile = np.zeros((y1 - y0, x1 - x0), np.uint8)
            points = (np.stack([x - x0, y - y0], 1) * 8).astype(np.int32).reshape(-1, 1, 2)
            cv2.polylines(tile, [points], False, 255, max(int(6.5 * u), 1), cv2.LINE_AA, 3)
            share = tile.astype(f32) / 255
            inside = distance_in(tile > 128)
            round_ = np.sqrt(np.clip(inside * 6.4 * u - inside * inside, 0, None)) * 1.25
            rows, columns = np.mgrid[0 : tile.shape[0], 0 : tile.shape[1]]
            twist = 0.5 + 0.5 * np.sin((columns + 0.4 * rows) * 1.9 / u + i)
            view = np.s_[y0:y1, x0:x1]
            raised[view] = np.maximum(
                raised[view], (round_ + 0.5 * u * twist * (inside > 0) + 2 * u * share) * (share > 0.3)
            )
            cover[view] = np.maximum(cover[view], share)
            thread[view] = over(thread[view], colour * (0.8 + 0.3 * twist[..., None]), share)
            for end in (0, -1):
                # The thread pulls the felt in where it goes through.
                a, b = max(int(x[end] - 9 * u), 0), max(int(y[end] - 9 * u), 0)
                ys, xs = np.mgrid[b : min(b + int(18 * u), piece.height), a : min(a + int(18 * u), piece.width)]
                dent = np.exp(-((xs - x[end]) ** 2 + (ys - y[end]) ** 2) / (2 * (3.8 * u) ** 2))
                height[b : b + dent.shape[0], a : a + dent.shape[1]] -= (3.6 * u * dent).astype(f32)
    return over(image, thread, cover), np.asarray(height + raised, f32), cover


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in felt. About 1.7 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    ground = piece.ground("linen")
    colours = piece.albedo(0.92, 0.025, 0.80)
    plain = piece.painted(colours, 0.7)
    mottled = (
        0.10 * piece.noise("dyed", 60)
        + 0.07 * piece.noise("carded", 20, 6, 0.6)
        + 0.07 * piece.noise("carded too", 20, 5, 1.4)
    )
    image = over(ground.albedo, np.clip(plain * (1 + mottled[..., None]), 0.01, 1), art.cover)
    height = (ground.height * (1 - art.cover) + _layers(piece)).astype(f32)
    image = np.ascontiguousarray(image, dtype=f32)
    height = (height + _wool(piece, image, colours)).astype(f32)
    image, height, thread = _sewn(piece, image, height, colours)
    lamp = piece.lamp("window", (2.2, 2.12, 1.98), 1.0, 0.24)
    light = shade(Surface(height, np.clip(image, 0, 1), 0.95, 0.0, 0.02), lamp, u, 1.25)
    # Fibres that stand up catch light at a grazing angle.
    _, _, facing = normals(blur(height, 2 * u))
    sheen = art.cover * (1 - thread) * (1 - facing) ** 1.5 * 0.7
    return piece.finished(np.asarray(light + sheen[..., None] * plain, f32), 0.66, 0.02, chroma=0.97)


LOOK = material(
    "felt",
    "Felt",
    "Pieces of wool felt laid on each other and sewn down, fuzzy at the edges.",
    paint,
    1.7,
)
