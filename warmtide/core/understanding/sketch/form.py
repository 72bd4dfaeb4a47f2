"""What a sketch's areas look like as things: straight-edged ones flat, curved ones round, and the light on them."""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, f32
from ...maths.blur import blur
from ...maths.relief import normals, swollen
from .areas import areas_of, border_of, to_border
from .strokes import Strokes, strokes_of

_STRAIGHT = 0.62


@dataclass(frozen=True)
class Sketch:
    """A sketch understood.

    Attributes
    ----------
    strokes : what is drawn. areas : (h, w), 0 for the paper around. border : (h, w) distance to the next area.
    normal : three planes, x right, y down, z toward the eye. height : (h, w). flat : (n + 1,) by area, 0..1.
    colours : (n + 1, 3) OKLab, the sketch's own, paper taken away. open_share : share of the drawing's lines that
    lie in no closed area.
    """

    strokes: Strokes
    areas: Int
    border: Float
    normal: tuple[Float, Float, Float]
    height: Float
    flat: AnyArray
    colours: Float
    open_share: float

    @property
    def count(self) -> int:
        return len(self.flat) - 1

    @property
    def unit(self) -> float:
        return self.strokes.unit

    @property
    def inside(self) -> Float:
        """Where there is a thing, 0..1."""
        return blur((self.areas > 0).astype(f32), 0.9 * self.unit)


def straightness(mask: "np.ndarray") -> float:  # type: ignore[type-arg]
    """How much of a mask's outline lies in long straight pieces, 0..1."""
    lines, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    line = max(lines, key=len)
    length = cv2.arcLength(line, True)
    corners = cv2.approxPolyDP(line, max(0.02 * length, 1.5), True)[:, 0].astype(float)
    if len(corners) < 3:
        return 1.0
    sides = np.hypot(*(np.roll(corners, -1, 0) - corners).T)
    return float(sides[sides > 0.14 * length].sum() / max(sides.sum(), 1e-6))


def _heights(areas: Int, flat: AnyArray, unit: float) -> Float:
    """Round areas blown up, flat ones leaning outward from the middle of the whole thing."""
    inside = areas > 0
    whole = swollen(np.pad(inside, 2))[2:-2, 2:-2]
    parts = swollen(np.pad(inside & ~border_of(areas), 2))[2:-2, 2:-2]
    # A long slow swell over the whole thing, so that its parts belong together.
    height = 0.30 * np.minimum(whole, 120 * unit)
    round_ = 1 - flat[areas]
    height = height + round_ * 0.60 * np.minimum(parts, 90 * unit) + (1 - round_) * 0.05 * np.minimum(parts, 30 * unit)
    return np.asarray(np.where(inside, height, 0), f32)


def _lean(areas: Int, flat: AnyArray, count: int) -> tuple[Float, Float]:
    """A flat area faces the way it lies from the middle: the left side of a box faces left."""
    ys, xs = np.nonzero(areas > 0)
    if not len(xs):
        zero = np.zeros(areas.shape, f32)
        return zero, zero
    wide, tall = max(np.ptp(xs), 1), max(np.ptp(ys), 1)
    middle = (xs.min() + xs.max()) / 2, (ys.min() + ys.max()) / 2
    size = np.maximum(np.bincount(areas.ravel(), minlength=count + 1), 1)
    columns, rows = np.meshgrid(np.arange(areas.shape[1], dtype=f32), np.arange(areas.shape[0], dtype=f32))
    cx = np.bincount(areas.ravel(), columns.ravel(), count + 1) / size
    cy = np.bincount(areas.ravel(), rows.ravel(), count + 1) / size
    x = np.clip(1.3 * (cx - middle[0]) / wide, -0.6, 0.6) * flat
    y = np.clip(0.9 * (cy - middle[1]) / tall, -0.5, 0.5) * flat
    x[0] = y[0] = 0
    return x.astype(f32)[areas], y.astype(f32)[areas]


def understand_sketch(lab: Float) -> Sketch:
    """Strokes, areas and form of a sketch (h, w, 3) OKLab. About 1.1 s at 512 px; once a source."""
    strokes = strokes_of(lab)
    areas = areas_of(strokes)
    count = int(areas.max())
    flat = np.zeros(count + 1)
    for k in range(1, count + 1):
        flat[k] = np.clip((straightness(areas == k) - _STRAIGHT) / 0.2 + 0.5, 0, 1)
    height = blur(_heights(areas, flat, strokes.unit), 2.2 * strokes.unit)
    nx, ny, _ = normals(height)
    lean_x, lean_y = _lean(areas, flat, count)
    nx, ny = nx + blur(lean_x, 1.2 * strokes.unit), ny + blur(lean_y, 1.2 * strokes.unit)
    length = 1 / np.sqrt(nx * nx + ny * ny + 1)
    paper = np.median(lab[areas == 0], axis=0) if (areas == 0).any() else np.array([0.95, 0, 0])
    clear = strokes.ink < 0.25
    pixels, ids = lab[clear] - paper, areas[clear]
    size = np.maximum(np.bincount(ids, minlength=count + 1), 1)
    colours = np.stack([np.bincount(ids, pixels[:, k], count + 1) / size for k in range(3)], 1)
    drawn = strokes.line > 0.35
    near = cv2.dilate((areas > 0).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    lost = float((drawn & ~near).sum() / max(drawn.sum(), 1))
    return Sketch(
        strokes, areas, to_border(areas), ((nx * length).astype(f32), (ny * length).astype(f32), length.astype(f32)),
        height, flat, colours.astype(f32), lost,
    )  # fmt: skip
