"""Embroidered patch: satin stitches across what is narrow, rows of filling stitches over what is broad, on cloth."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.relief import rounded
from ...model.sitting import Sitting
from ..shared.shading import Surface, shade
from ..shared.texture import over
from .fibres import hairs
from .look import material
from .workpiece import Workpiece, workpiece

_NARROW, _THREAD, _FILL = 24.0, 3.4, 34.0


def _sewn(piece: Workpiece, image: Float, colours: Float) -> Float:
    """Threads over every part, drawn on the image; their height."""
    art, u = piece.art, piece.unit
    raised = np.zeros((piece.height, piece.width), f32)
    random = piece.random("threads")
    widest = np.zeros(art.count + 1, f32)
    np.maximum.at(widest, art.parts.ravel() + 1, art.within.ravel())
    narrow = (widest[1:] < _NARROW * u)[np.maximum(art.parts, 0)] & art.solid
    thread = _THREAD * u * float(np.exp(0.3 * piece.word("thick")))

    def lay(x: "np.ndarray", y: "np.ndarray", angle: "np.ndarray", length: "np.ndarray", lift: float) -> None:  # type: ignore[type-arg]
        n = len(x)
        part = art.parts[y.astype(int), x.astype(int)]
        # Thread shines where the lamp meets it square.
        shine = 0.80 + 0.42 * np.abs(np.sin(angle - np.arctan2(piece.sun[1], piece.sun[0])))
        colour = colours[part] * (shine * random.lognormal(0, 0.06, n))[:, None]
        hairs(
            image, raised, art.parts, True, (x, y), angle + random.normal(0, 0.02, n), length, np.full(n, thread),
            random.normal(0, 0.0015, n) / u, colour, np.full(n, 0.95), lift * u * random.uniform(0.85, 1.15, n),
        )  # fmt: skip

    broad_rows, broad_columns = np.nonzero(art.solid & ~narrow)
    if len(broad_rows):
        angles = random.uniform(-0.6, 0.6, art.count) + np.where(random.random(art.count) < 0.5, 0.0, np.pi / 2)
        n = int(2.1 * len(broad_rows) / (thread * _FILL * u) + 1)
        pick = random.integers(0, len(broad_rows), n)
        y, x = broad_rows[pick].astype(float), broad_columns[pick].astype(float)
        # Stitches of one part lie in rows; every row begins a third of a stitch further.
        angle = angles[art.parts[broad_rows[pick], broad_columns[pick]]]
        across = -x * np.sin(angle) + y * np.cos(angle)
        move = np.round(across / (0.8 * thread)) * (0.8 * thread) - across
        x, y = x - move * np.sin(angle), y + move * np.cos(angle)
        inside = (x >= 0) & (x < piece.width) & (y >= 0) & (y < piece.height)
        x, y, angle = x[inside], y[inside], angle[inside]
        keep = art.solid[y.astype(int), x.astype(int)]
        lay(x[keep], y[keep], angle[keep], np.full(int(keep.sum()), _FILL * u), 3.0)
    # Satin over narrow parts, and a satin rim around broad ones, square to the outline.
    rows, columns = np.nonzero(art.border & art.solid)
    if len(rows):
        soft = blur(np.where(art.solid, art.within, -art.away), 2.5 * u)
        inward = np.arctan2(cv2.Sobel(soft, cv2.CV_32F, 0, 1), cv2.Sobel(soft, cv2.CV_32F, 1, 0))
        order = random.permutation(len(rows))[: int(0.62 * len(rows) / max(thread * 0.5, 1)) + 1]
        y, x = rows[order], columns[order]
        thin = narrow[y, x]
        across = np.where(thin, 2 * widest[art.parts[y, x] + 1], 13 * u)
        lay(x.astype(float), y.astype(float), inward[y, x].astype(float), across, 5.0)
    return raised


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) as embroidery. About 1.4 s at 512 px, once more for a source's parts."""
    piece = workpiece(lab, sitting)
    art, u = piece.art, piece.unit
    ground = piece.ground("linen")
    colours = piece.albedo(1.05, 0.02, 0.80)
    padded = 5 * u * piece.thick * rounded(art.deep, 12 * u) + 3.5 * u * piece.thick * rounded(art.within, 13 * u)
    image = np.ascontiguousarray(over(ground.albedo, piece.painted(colours * f32(0.55), 0.6), art.cover))
    raised = _sewn(piece, image, colours)
    pucker = 1.6 * u * np.exp(-art.away / (14 * u)) * piece.noise("pucker", 40)
    height = ground.height * (1 - art.cover) + (padded + raised * 0.9) * art.solid + pucker * (1 - art.cover)
    gloss = float(np.clip(0.42 * np.exp(-0.7 * piece.word("polish")), 0.2, 0.95))
    rough = ground.rough + (gloss - ground.rough) * art.cover
    lamp = piece.lamp("window", (2.15, 2.08, 1.95), 1.0, 0.2)
    light = shade(
        Surface(height.astype(f32), np.clip(image, 0.005, 1), rough.astype(f32), 0.0, 0.035), lamp, u, 1.2, reach=120
    )
    return piece.finished(light, 0.70, 0.03)


LOOK = material(
    "patch",
    "Embroidered patch",
    "Satin stitches across narrow parts, rows of thread over broad ones, sewn on cloth.",
    paint,
    1.4,
)
