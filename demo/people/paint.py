"""What colour a place on a made-up person is, in linear light, and how it shines."""

import math

from numba import njit

from .shape import COAT, EYE, EYE_R, EYE_X, EYE_Y, EYE_Z, FRAME, HAIR, HAT, SCARF, bearded, lip, noise, slit


@njit(cache=True)
def _fall(x):  # type: ignore[no-untyped-def]
    return math.exp(-x * x)


@njit(cache=True)
def skin_colour(b, x, y, z):  # type: ignore[no-untyped-def]
    """Albedo of skin with its blood, lips, brows, lashes, freckles and stubble."""
    ax = abs(x)
    low = y / (b.long * (1 - 0.13 * b.child)) if y < 0.2 else y
    r, g, a = b.skin
    mottled = 1 + 0.05 * noise(14 * x, 14 * y, 14 * z) + 0.03 * noise(60 * x, 60 * y, 60 * z)
    blood = 0.75 * _fall(math.hypot(ax - 0.27, low + 0.16) / 0.15) + 0.6 * _fall(math.hypot(x, low + 0.20) / 0.10) * (
        1 if z > 0.4 else 0
    )
    blood += 0.8 * _fall((ax - 0.53) / 0.05) + 0.25 * _fall(math.hypot(ax - EYE_X, y - 0.0) / 0.11)
    r, g, a = r * mottled * (1 + 0.05 * blood), g * mottled * (1 - 0.20 * blood), a * mottled * (1 - 0.16 * blood)
    if b.freckles > 0 and z > 0.1:
        spot = noise(55 * x, 55 * y, 55 * z) + noise(90 * x, 90 * y, 90 * z + 7)
        f = (
            0.45
            * b.freckles
            * min(max((spot - 0.55) / 0.25, 0.0), 1.0)
            * _fall(math.hypot(ax - 0.2, (low + 0.15) * 1.2) / 0.24)
        )
        r, g, a = r * (1 - 0.7 * f), g * (1 - 0.9 * f), a * (1 - f)
    m = lip(b, x, low, z)
    if m > 0:
        # Lips are the skin's colour with more blood in it.
        r, g, a = r + m * (0.86 * r - r), g + m * (0.50 * g - g), a + m * (0.56 * a - a)
    dark = _brow(b, x, y, z)
    if z > 0.2:
        inside, u = slit(b, ax, y)
        if y > EYE_Y - 0.004 and abs(u) < 1.05:
            dark = max(dark, 0.95 * _fall(inside / 0.011))
        elif abs(u) < 1:
            dark = max(dark, 0.35 * _fall(inside / 0.009))
        dark = max(
            dark,
            0.9 * (1.0 if math.hypot(ax - 0.044 * b.nose, (low + 0.262) * 1.3) < 0.020 * b.nose and z > 0.48 else 0.0),
        )
    if b.beard > 0:
        dark = max(
            dark, 0.96 * b.beard * min(1.0, 1.3 * bearded(x, low, z)) * (0.8 + 0.2 * noise(50 * x, 20 * y, 50 * z))
        )
    h = b.hair
    return r + dark * (0.7 * h[0] - r), g + dark * (0.7 * h[1] - g), a + dark * (0.7 * h[2] - a)


@njit(cache=True)
def _brow(b, x, y, z):  # type: ignore[no-untyped-def]
    if z < 0.2:
        return 0.0
    ax = abs(x)
    t = (ax - 0.075) / 0.265
    if t < 0 or t > 1:
        return 0.0
    middle = 0.152 + 0.055 * math.sin(min(t * 1.25, 1.0) * 2.2) - 0.03 * t * t
    thick = 0.026 * b.brows * (1.0 - 0.65 * t) * (1 - 0.3 * b.child) + 0.004
    hairs = 0.75 + 0.45 * noise(80 * ax + 60 * y, 22 * y, 30 * z)
    return 0.92 * min(max((thick - abs(y - middle)) / 0.010 + 0.5, 0.0), 1.0) * hairs


@njit(cache=True)
def eye_colour(b, x, y, z):  # type: ignore[no-untyped-def]
    """The white, the iris with its rays and dark rim, the pupil."""
    side = 1.0 if x > 0 else -1.0
    # Both eyes look the same way; the iris lies on the front of the ball.
    u = (x - side * EYE_X) / EYE_R - 0.45 * b.gaze
    v = (y - EYE_Y - 0.004) / EYE_R
    r = math.hypot(u, v)
    size = 0.50 * (1 + 0.10 * b.child)
    if r < 0.20:
        return 0.004, 0.004, 0.004
    if r < size:
        rays = 1 + 0.35 * noise(9 * math.atan2(v, u), 7 * r, 1.0)
        rim = min(max((size - r) / 0.08, 0.0), 1.0)
        glow = (1.2 + 0.9 * max(-v / size, 0.0)) * rays * (0.25 + 0.75 * rim)
        return b.iris[0] * glow, b.iris[1] * glow, b.iris[2] * glow
    veins = 0.04 * max(noise(30 * x, 30 * y, 30 * z), 0.0) + 0.10 * min(max((abs(u) - 0.7) / 0.5, 0.0), 1.0)
    return 0.66, 0.62 - veins, 0.60 - veins


@njit(cache=True)
def colour_of(b, part, x, y, z):  # type: ignore[no-untyped-def]
    """Albedo of a place, then how strongly and how sharply it shines."""
    if part == EYE:
        r, g, a = eye_colour(b, x, y, z)
        return r, g, a, 0.55, 260.0
    if part == HAIR:
        shade = 1 + 0.45 * noise(60 * x, 9 * (y + z), 60 * z) + 0.2 * noise(15 * x, 4 * y, 15 * z)
        return b.hair[0] * shade, b.hair[1] * shade, b.hair[2] * shade, 0.10 + 0.35 * b.hair[0], 14.0
    if part == COAT:
        weave = 1 + 0.14 * noise(90 * x, 90 * y, 90 * z)
        return b.coat[0] * weave, b.coat[1] * weave, b.coat[2] * weave, 0.02, 6.0
    if part == SCARF:
        stripe = 0.55 if math.sin(9 * y + 2 * x) > 0.75 else 1.0
        return b.scarf[0] * stripe, b.scarf[1] * stripe, b.scarf[2] * stripe, 0.01, 5.0
    if part == HAT:
        rib = 0.75 + 0.25 * math.sin(58 * math.atan2(x, z + 0.1))
        return b.scarf[0] * rib, b.scarf[1] * rib, b.scarf[2] * rib, 0.01, 5.0
    if part == FRAME:
        return 0.02, 0.018, 0.016, 0.5, 60.0
    r, g, a = skin_colour(b, x, y, z)
    return r, g, a, 0.10 + 0.10 * lip(b, x, y, z), 22.0


__all__ = ["EYE_Z", "colour_of"]
