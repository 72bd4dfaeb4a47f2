"""Means that stay within a mask, and along a flow: what skin, hair and ground are smoothed by."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.jit import kernel
from ...maths.steps import smoothstep


def within(picture: Float, mask: Float, sigma: float) -> Float:
    """Blur of (h, w) or (h, w, c) that takes values only from inside a mask."""
    weight = mask.astype(f32) + f32(1e-4)
    spread = quick_blur(weight, sigma).clip(1e-5)
    if picture.ndim == 3:
        return np.asarray(quick_blur(picture * weight[..., None], sigma) / spread[..., None], f32)
    return np.asarray(quick_blur(picture * weight, sigma) / spread, f32)


def filled_in(picture: Float, mask: Float, sigma: float) -> Float:
    """Holes of a mask take the colours around them, from coarse to fine."""
    base = within(picture, mask, 4 * sigma)
    for scale in (2, 1):
        near = smoothstep(0.02, 0.25, quick_blur(mask, sigma * scale))
        near = near[..., None] if picture.ndim == 3 else near
        base = base + near * (within(picture, mask, sigma * scale) - base)
    own = mask[..., None] if picture.ndim == 3 else mask
    return np.asarray(base + own * (picture - base), f32)


@kernel
def _along(image, tx, ty, reach, out):  # type: ignore[no-untyped-def]
    """Mean of each pixel along the flow both ways, as far as the mask (where the flow is not zero) goes."""
    height, width, _ = image.shape
    for y in range(height):
        for x in range(width):
            a, b, c, n = image[y, x, 0], image[y, x, 1], image[y, x, 2], f32(1)
            if tx[y, x] != 0 or ty[y, x] != 0:
                for sign in range(2):
                    turn = f32(1) if sign == 0 else f32(-1)
                    px, py, dx, dy = f32(x), f32(y), tx[y, x] * turn, ty[y, x] * turn
                    for _ in range(reach):
                        px, py = px + dx, py + dy
                        i, j = int(px + f32(0.5)), int(py + f32(0.5))
                        if i < 0 or j < 0 or i >= width or j >= height or (tx[j, i] == 0 and ty[j, i] == 0):
                            break
                        a, b, c, n = a + image[j, i, 0], b + image[j, i, 1], c + image[j, i, 2], n + f32(1)
                        same = f32(1) if tx[j, i] * dx + ty[j, i] * dy >= 0 else f32(-1)
                        dx, dy = tx[j, i] * same, ty[j, i] * same
            out[y, x, 0], out[y, x, 1], out[y, x, 2] = a / n, b / n, c / n


def along(picture: Float, angle: Float, mask: Float, reach: float, rounds: int = 1) -> Float:
    """Mean along a flow (angles), within a mask; (h, w) or (h, w, 3)."""
    inside = mask > 0.1
    tx, ty = (np.cos(angle) * inside).astype(f32), (np.sin(angle) * inside).astype(f32)
    flat = picture.ndim == 2
    image = np.ascontiguousarray(np.dstack([picture] * 3) if flat else picture, dtype=f32)
    for _ in range(rounds):
        out = np.empty_like(image)
        _along(image, tx, ty, int(max(reach, 1)), out)
        image = out
    return np.ascontiguousarray(image[..., 0]) if flat else image
