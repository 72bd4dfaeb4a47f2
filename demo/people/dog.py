"""The fisher's dog as a distance field: sitting, seen from the front; a frame of its own beside the fisher."""

import math

from numba import njit

from .shape import ball, joined, noise, rod


@njit(cache=True)
def dog(x, y, z):  # type: ignore[no-untyped-def]
    """Distance to the dog, and which part: coat, nose, eye."""
    ax = abs(x)
    d = ball(x, y + 1.25, z + 0.25, 0.42, 0.72, 0.42)
    d = joined(d, rod(x, y, z, 0.0, -0.55, -0.05, 0.0, -0.20, 0.05, 0.30, 0.26), 0.2)
    d = joined(d, ball(x, y - 0.05, z - 0.02, 0.33, 0.31, 0.33), 0.12)
    d = joined(d, rod(x, y, z, 0.0, -0.06, 0.25, 0.0, -0.11, 0.50, 0.165, 0.115), 0.10)
    d = joined(d, ball(ax - 0.10, y + 0.10, z - 0.42, 0.085, 0.075, 0.10), 0.05)
    d = joined(d, rod(ax, y, z, 0.22, -1.0, 0.10, 0.20, -1.95, 0.18, 0.13, 0.10), 0.12)
    ear = rod(ax, y, z, 0.24, 0.26, -0.02, 0.40, -0.14, 0.04, 0.10, 0.13)
    d = joined(d, ear, 0.04)
    if d < 0.1:
        d += 0.014 * noise(24 * x, 11 * y, 24 * z) + 0.006 * noise(60 * x, 30 * y, 60 * z)
    part = 0
    nose = ball(x, y + 0.045, z - 0.605, 0.062, 0.046, 0.045)
    if nose < d:
        d, part = nose, 1
    eye = ball(ax - 0.135, y - 0.10, z - 0.285, 0.052, 0.050, 0.052)
    if eye < d:
        d, part = eye, 2
    return d * 0.75, part


@njit(cache=True)
def dog_colour(part, x, y, z):  # type: ignore[no-untyped-def]
    """Albedo of a place on the dog, then how strongly and how sharply it shines."""
    if part == 1:
        return 0.012, 0.011, 0.011, 0.5, 40.0
    if part == 2:
        pupil = math.hypot(abs(x) - 0.135, y - 0.10)
        return (0.006, 0.005, 0.004, 0.6, 220.0) if pupil < 0.034 else (0.055, 0.028, 0.010, 0.6, 220.0)
    shade = 1 + 0.35 * noise(40 * x, 14 * y, 40 * z)
    blaze = math.exp(-((x / 0.075) ** 2)) if z > 0.0 and y > -0.25 else 0.0
    chest = math.exp(-((x / 0.20) ** 2)) if z > -0.1 and y < -0.45 else 0.0
    muzzle = 1.0 if z > 0.33 and y < 0.0 else 0.0
    white = min(max(max(blaze, chest), muzzle), 1.0)
    ear = 0.62 if abs(x) > 0.30 and y < 0.32 and y > -0.3 else 1.0
    r, g, a = 0.26 * ear * shade, 0.125 * ear * shade, 0.045 * ear * shade
    return r + white * (0.62 * shade - r), g + white * (0.57 * shade - g), a + white * (0.50 * shade - a), 0.05, 9.0
