"""Soft toon: big simple forms, smooth shading, a warm key from the left and a rim of light from the right.

Sources
-------
1. D. Min et al., 2014 (weighted least squares, see `looks.shared.flatten`).
2. S. Johnston, "Lumo: illumination for cel animation", 2002 (volume puffed up from outlines).
"""

import cv2
import numpy as np

from ...maths.arrays import Float, Int, f32, summed
from ...maths.blur import quick_blur
from ...maths.filters import brought_out, soften
from ...maths.steps import smoothstep
from ...model.look import Handling, Look
from ...model.sitting import Sitting
from ...understanding.areas import merged, parts
from ...understanding.palette import CHANNELS, colour_labels, palette
from ..shared.flatten import crisp, flatten, smooth_within
from ..shared.flow import directions
from ..shared.ground import stretch


def _walls(flat: Float, ids: Int, s: float) -> tuple[Float, Float]:
    """How firmly neighbours are tied across and down: hardly over the border of an area or a steep step."""
    image = flat * CHANNELS
    ties = []
    for axis in (1, 0):
        step = np.sqrt(summed(np.diff(image, axis=axis, append=np.take(image, [-1], axis)) ** 2))
        same = np.diff(ids, axis=axis, append=np.take(ids, [-1], axis)) == 0
        ties.append(((0.03 + 0.97 * same) / (1 + (step * s / 0.011) ** 4)).astype(f32))
    return ties[0], ties[1]


def _volume(flat: Float, forms: Float, broad: Float, s: float) -> tuple[Float, Float]:
    """Distance to the long silhouettes, and a height that swells away from them."""
    _, _, magnitude = directions(flat, 1.2 * s)
    steep = (magnitude * s > 0.040).astype(np.uint8)
    _, ids, stats, _ = cv2.connectedComponentsWithStats(steep, connectivity=8)
    long_enough = np.maximum(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT]) > 34 * s
    wall = (long_enough[ids] & (ids > 0)).astype(np.uint8)
    # Without any wall the distance is endless.
    distance = np.minimum(cv2.distanceTransform(1 - wall, cv2.DIST_L2, 5), f32(1e3 * s))
    cap = 30 * s
    dome = cap * np.sqrt(np.clip(1 - (1 - np.minimum(distance / cap, 1)) ** 2, 0, 1))
    height = quick_blur(dome.astype(f32), 3.5 * s) + 30 * s * (forms - broad)
    return distance, height.astype(f32)


def paint(lab: Float, sitting: Sitting) -> Float:
    """Render an OKLab picture (h, w, 3) in soft rounded forms. About .3 s at 512 px."""
    s = sitting.scale
    flat = flatten(soften(brought_out(lab, 18 * s), 1, 0.05, 1.4 * s), 4.0 * s, 0.0006, 3)
    flat = quick_blur(flat + 0.9 * (crisp(flat, 1.6 * s, 3) - flat), 0.62 * s)
    flat[..., 0] = stretch(np.ascontiguousarray(flat[..., 0]), sitting, (0.5, 99.5), (0.07, 0.97), 0.75)
    labels = colour_labels(flat, palette(flat, 14), 2.0 * s)
    ids = merged(parts(labels)[0], flat, 0.08, 70 * s * s)
    across, down = _walls(flat, ids, s)
    small = smooth_within(flat, across, down, 26 * s * s)
    large = smooth_within(small, across, down, 600 * s * s)
    light = small[..., 0] + 0.62 * (flat[..., 0] - small[..., 0])
    light = light + 0.38 * (small[..., 0] - large[..., 0])
    chroma = 0.45 * small[..., 1:] + 0.55 * flat[..., 1:]

    distance, height = _volume(flat, small[..., 0], large[..., 0], s)
    gx, gy = cv2.Sobel(height, cv2.CV_32F, 1, 0) / 8, cv2.Sobel(height, cv2.CV_32F, 0, 1) / 8
    length = 1 / np.sqrt(1 + gx * gx + gy * gy)
    nx, ny, nz = -gx * length, -gy * length, length
    # The seed walks the key light around the top left, and the rim stays opposite.
    turn = float(sitting.random("key").normal(0, 0.35))
    kx, ky = -0.77 * np.sin(0.63 + turn), -0.77 * np.cos(0.63 + turn)
    key = np.clip((kx * nx + ky * ny + 0.64 * nz) * 0.75 + 0.25, 0, 1) - 0.73
    light = light + 0.11 * key * (0.35 + light)
    near = np.exp(-((distance / (3.4 * s)) ** 2)) * smoothstep(0, 1.5 * s, distance)
    rim = quick_blur(
        (near * np.clip(-1.8 * kx * nx - 0.55 * ky * ny, 0, 1) * smoothstep(0.02, 0.3, 1 - light)).astype(f32), 0.7 * s
    )
    light = light + 0.15 * rim
    gloss = np.clip(0.65 * kx * nx + 0.65 * ky * ny + 0.86 * nz, 0, 1) ** 26
    bright = smoothstep(0.025, 0.12, flat[..., 0] - quick_blur(np.ascontiguousarray(flat[..., 0]), 13 * s))
    light = light + 0.085 * quick_blur(bright * smoothstep(0.35, 0.75, flat[..., 0]), 1.6 * s)
    light = light + 0.05 * gloss * smoothstep(0.3, 0.7, light.astype(f32))
    crease = np.clip(quick_blur(np.ascontiguousarray(flat[..., 0]), 5 * s) - flat[..., 0], 0, 0.2)
    light = (light - 0.25 * quick_blur(crease.astype(f32), 1.5 * s)).astype(f32)

    strength = np.sqrt(summed(chroma**2)) + f32(1e-6)
    hue = np.arctan2(chroma[..., 1], chroma[..., 0])
    vivid = 0.205 * np.tanh(strength * (1.22 + 0.35 * np.clip(0.6 - light, 0, 0.5)) / 0.205)
    # Warm light bleeds into the shadow of warm things; neutral shadows go cool; the rim is warm.
    warm = smoothstep(0.02, 0.05, strength) * np.clip(np.cos(hue - 0.9), 0, 1)
    terminator = np.exp(-(((light - large[..., 0] + 0.05) / 0.06) ** 2)) * warm
    a = np.cos(hue) * vivid + 0.014 * terminator + 0.012 * rim
    b = np.sin(hue) * vivid + 0.010 * terminator + 0.030 * rim - 0.014 * np.clip(0.45 - light, 0, 0.4) * (1 - warm)
    light = np.clip(light, 0, 1.02)
    light = light + 0.14 * quick_blur(np.clip(light - 0.78, 0, 1).astype(f32), 7 * s) * (1 - light)
    return np.dstack([np.clip(light, 0, 1), a, b]).astype(f32)


LOOK = Look(
    name="soft-toon",
    title="Soft toon",
    category="graphic",
    kinds=("photo", "flat art", "render"),
    description="Rounded forms with smooth shading, a soft key and a warm rim of light; the seed moves the light.",
    strengths=(0.35, 0.75),
    paint=paint,
    seconds=0.30,
    handling=Handling(deep_trust=0.8),
)
