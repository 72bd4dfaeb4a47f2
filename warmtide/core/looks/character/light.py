"""Light on a character: normals from the points of the face, and from a head and a body blown up from their masks.

Sources
-------
1. S. Johnston, "Lumo: illumination for cel animation", 2002 (normals blown up from outlines).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...understanding.people.features import OVAL
from ...understanding.people.outlines import filled
from .head import Head

Box = tuple[slice, slice]
# Heights in head widths: of the head's dome, of the body's, of the mesh's own depth.
_HEAD, _BODY, _MESH = 0.42, 0.55, 1.15
_GRID = 140


@dataclass(frozen=True)
class Lamp:
    """Where light comes from: `side` -1 left to 1 right; `strength` of what it adds to the photograph's own; `rim` of the light
    from behind; `soft` 0..1."""

    side: float
    strength: float = 1.0
    rim: float = 1.0
    soft: float = 0.0

    @property
    def way(self) -> AnyArray:
        return _unit(np.array([0.52 * self.side, -0.55, 0.66 + 0.3 * self.soft]))


@dataclass(frozen=True, eq=False)
class Lit:
    """Of each pixel: `normals` (h, w, 3), `wrap` 0..1 how much it faces the lamp, `shade` a factor on luminance about 1,
    `gloss` 0..1, `rim` light from behind."""

    normals: Float
    wrap: Float
    shade: Float
    gloss: Float
    rim: Float
    lamp: Lamp

    def part(self, box: Box) -> "Lit":
        return Lit(self.normals[box], self.wrap[box], self.shade[box], self.gloss[box], self.rim[box], self.lamp)


def _unit(way: AnyArray) -> AnyArray:
    return np.asarray(way / np.linalg.norm(way), f32)


def relit(light: Float, ratio: Float) -> Float:
    """OKLab lightness under a factor of luminance: it is the cube root of that."""
    return np.asarray(light * np.cbrt(np.clip(ratio, 0.05, 4)), f32)


def dome(mask: Float, most: float) -> Float:
    """Height that swells from the edge of a mask; the border of the picture is no edge."""
    pad = int(most) + 2
    inside = cv2.copyMakeBorder((mask > 0.5).astype(np.uint8), pad, pad, pad, pad, cv2.BORDER_REPLICATE)
    share = np.minimum(cv2.distanceTransform(inside, cv2.DIST_L2, 5)[pad:-pad, pad:-pad] / most, 1)
    return blur((most * np.sqrt(np.clip(1 - (1 - share) ** 2, 0, 1))).astype(f32), 0.09 * most)


def normals_of(height: Float) -> Float:
    across, down = (cv2.Sobel(height, cv2.CV_32F, *way) / 8 for way in ((1, 0), (0, 1)))
    found = np.dstack([-across, -down, np.ones_like(height)])
    return np.asarray(found / np.sqrt((found * found).sum(2, keepdims=True)), f32)


def box_around(points: AnyArray, margin: float, shape: tuple[int, ...]) -> Box:
    """Rows and columns around points, kept in the picture."""
    low = np.clip(np.floor(points.min(0) - margin).astype(int), 0, (shape[1], shape[0]))
    high = np.clip(np.ceil(points.max(0) + margin).astype(int) + 1, 0, (shape[1], shape[0]))
    return slice(int(low[1]), int(high[1])), slice(int(low[0]), int(high[0]))


def too_small(box: Box, least: int = 8) -> bool:
    return min(part.stop - part.start for part in box) < least


def _with_head(normals: Float, head: Head, points: Float, body: Float, hair: Float) -> None:
    """The normals of one head, into those of the body."""
    wide, middle = head.width, points[list(OVAL)].mean(0)
    box = box_around(points, 1.2 * wide, body.shape)
    if too_small(box):
        return
    corner = np.array([box[1].start, box[0].start], f32)
    shape = (box[0].stop - box[0].start, box[1].stop - box[1].start)
    ys, xs = np.mgrid[box].astype(f32)
    ring = points[list(OVAL)] - corner
    skull = ring.mean(0) + 1.25 * (ring - ring.mean(0)) - head.down * 0.12 * wide
    mask = np.maximum(
        filled(shape, [skull]) * body[box], hair[box] * (np.hypot(xs - middle[0], ys - middle[1]) < 1.6 * wide)
    )
    part = normals[box]
    part += blur(mask, 0.05 * wide)[..., None] * (normals_of(dome(mask, _HEAD * wide)) - part)
    if not head.drawn:
        return
    # Loaded here: a server that lists the looks needn't wait for it.
    from scipy.interpolate import LinearNDInterpolator

    gx, gy = np.meshgrid(
        np.linspace(box[1].start, box[1].stop - 1, _GRID), np.linspace(box[0].start, box[0].stop - 1, _GRID)
    )
    depth = float(head.z[list(OVAL)].max()) - head.z
    height = LinearNDInterpolator(points, depth, fill_value=0.0)(gx, gy).astype(f32)
    height = blur(cv2.resize(height, shape[::-1], interpolation=cv2.INTER_CUBIC), 0.022 * wide)
    inside = blur(filled(shape, [ring.mean(0) + 0.90 * (ring - ring.mean(0))]), 0.06 * wide)[..., None]
    part += inside * (normals_of(_MESH * height) - part)


def lit(body: Float, hair: Float, heads: list[tuple[Head, Float]], lamp: Lamp) -> Lit:
    """Light of a lamp on a person; `heads` with their points as they lie in the character. 60 ms at 512 px, one head."""
    if float(body.max()) > 0.5:
        swell = _BODY * heads[0][0].width if heads else 0.16 * body.shape[1]
        normals = normals_of(dome(body, swell))
    else:
        normals = np.zeros((*body.shape, 3), f32)
        normals[..., 2] = 1
    for head, points in heads:
        _with_head(normals, head, points, body, hair)
    normals = blur(normals, (0.8 + 1.6 * lamp.soft) * max(body.shape) / 512)
    normals = normals / (np.sqrt((normals * normals).sum(2, keepdims=True)) + f32(1e-6))
    way, fill_way = lamp.way, np.array([-0.6 * lamp.side, 0.35, 0.55], f32)
    wrap = np.clip((normals @ way + f32(0.45)) / f32(1.45), 0, 1)
    fill = np.clip(normals @ fill_way, 0, 1)
    usual = 0.30 + 0.85 * (float(way[2]) + 0.45) / 1.45 + 0.12 * 0.55
    shade = (0.30 + 0.85 * wrap + 0.12 * fill) / f32(usual)
    toward = np.clip(-lamp.side * normals[..., 0] - 0.25 * normals[..., 1] + 0.15, 0, 1)
    rim = np.clip(1 - normals[..., 2], 0, 1) ** 1.6 * toward
    gloss = np.clip(normals @ _unit(way + np.array([0, 0, 1], f32)), 0, 1)
    strength = lamp.strength * (1 - 0.35 * lamp.soft)
    return Lit(
        normals.astype(f32), wrap.astype(f32), (1 + strength * (shade - 1)).astype(f32), gloss.astype(f32),
        (lamp.strength * lamp.rim * rim).astype(f32), lamp,
    )  # fmt: skip
