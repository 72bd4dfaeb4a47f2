"""A head and shoulders as a distance field: x right, y up, z toward the eye; half a face is about .5 wide.

Each field gives a distance and leaves colours to `paint`. The head has a frame of its own, so that it can turn.

Sources
-------
1. J. Hart, "Sphere tracing: a geometric method for the antialiased ray tracing of implicit surfaces", 1996.
"""

import math

from numba import njit

SKIN, EYE, HAIR, COAT, SCARF, FRAME, HAT, DOG = 0, 1, 2, 3, 4, 5, 6, 7
EYE_X, EYE_Y, EYE_Z, EYE_R = 0.205, 0.04, 0.365, 0.115
MOUTH_Y = -0.43
# Farther away than this a part is smooth, and nearer by what its folds and strands may add.
_NEAR, _DEEP = 0.10, 0.04


@njit(cache=True)
def joined(a, b, k):  # type: ignore[no-untyped-def]
    """Union whose seam is rounded over `k`."""
    h = max(k - abs(a - b), 0.0) / k
    return min(a, b) - h * h * k * 0.25


@njit(cache=True)
def carved(a, b, k):  # type: ignore[no-untyped-def]
    """`a` without `b`, the rim rounded over `k`."""
    return -joined(-a, b, k)


@njit(cache=True)
def ball(x, y, z, a, b, c):  # type: ignore[no-untyped-def]
    """Distance to an ellipsoid about the origin, near enough."""
    far = math.sqrt((x / a) ** 2 + (y / b) ** 2 + (z / c) ** 2)
    slope = math.sqrt((x / (a * a)) ** 2 + (y / (b * b)) ** 2 + (z / (c * c)) ** 2)
    return far * (far - 1) / max(slope, 1e-9)


@njit(cache=True)
def rod(x, y, z, ax, ay, az, bx, by, bz, ra, rb):  # type: ignore[no-untyped-def]
    """Distance to a rod from a to b whose radius runs from `ra` to `rb`."""
    dx, dy, dz = bx - ax, by - ay, bz - az
    px, py, pz = x - ax, y - ay, z - az
    t = min(max((px * dx + py * dy + pz * dz) / (dx * dx + dy * dy + dz * dz), 0.0), 1.0)
    return math.sqrt((px - dx * t) ** 2 + (py - dy * t) ** 2 + (pz - dz * t) ** 2) - (ra + (rb - ra) * t)


@njit(cache=True)
def noise(x, y, z):  # type: ignore[no-untyped-def]
    """Smooth value noise, -1..1, one bump a unit."""
    xi, yi, zi = math.floor(x), math.floor(y), math.floor(z)
    fx, fy, fz = x - xi, y - yi, z - zi
    fx, fy, fz = fx * fx * (3 - 2 * fx), fy * fy * (3 - 2 * fy), fz * fz * (3 - 2 * fz)
    total = 0.0
    for k in range(2):
        for j in range(2):
            for i in range(2):
                n = (int(xi) + i) * 73856093 ^ (int(yi) + j) * 19349663 ^ (int(zi) + k) * 83492791
                n = (n ^ (n >> 13)) * 1274126177 & 0x7FFFFFFF
                share = (fx if i else 1 - fx) * (fy if j else 1 - fy) * (fz if k else 1 - fz)
                total += share * (n % 100003) / 50001.5
    return total - 1.0


@njit(cache=True)
def slit(b, ax, y):  # type: ignore[no-untyped-def]
    """How far inside the opening of the lids a place is (positive: open), and where across the eye, -1..1."""
    wide = 0.118 * b.eyes * (1 + 0.12 * b.child)
    u = (ax - EYE_X) / wide
    arch = max(1 - u * u, 0.0)
    v = y - EYE_Y - 0.012 * u
    upper = 0.050 * b.eyes * b.open * (1 + 0.2 * b.child) * arch**0.6
    lower = -0.034 * b.eyes * (0.6 + 0.4 * b.open) * arch**0.7
    return (min(upper - v, v - lower) if abs(u) < 1 else -0.05 * abs(u)), u


@njit(cache=True)
def face(b, x, y, z):  # type: ignore[no-untyped-def]
    """Skin of the head and neck. `b` is the person's `Build`."""
    ax = abs(x)
    # A child's skull is as large, its face shorter and rounder.
    low = y / (b.long * (1 - 0.13 * b.child)) if y < 0.2 else y
    jaw = b.jaw * (1 + 0.03 * b.child)
    d = ball(x, y - 0.20, z + 0.12, 0.50, 0.57, 0.60)
    d = joined(d, ball(x, low + 0.12, z - 0.05, 0.435, 0.50, 0.43), 0.16)
    d = joined(d, ball(x, low + 0.40, z - 0.07, 0.365 * jaw, 0.30, 0.34), 0.14)
    d = joined(d, ball(x, low + 0.665, z - 0.25, 0.115 * jaw, 0.10, 0.11), 0.16)
    slim = 0.265 * (1 - 0.18 * b.child)
    d = joined(d, rod(x, y, z, 0.0, -0.45, -0.12, 0.0, -1.3, -0.2, slim, slim + 0.05), 0.13)
    if d > 0.25:
        return d - 0.16
    full = 0.17 + 0.03 * b.child - 0.012 * b.age
    d = joined(d, ball(ax - 0.265, low + 0.14, z - 0.26, full, full, full), 0.14)
    d = joined(d, rod(ax, y, z, 0.04, 0.155, 0.435, 0.30, 0.165, 0.355, 0.055, 0.045), 0.10)
    d = carved(d, ball(ax - EYE_X, y - EYE_Y, z - 0.55, 0.155, 0.085, 0.125), 0.09)
    d = joined(
        d,
        rod(
            x,
            low,
            z,
            0.0,
            0.10,
            0.445,
            0.0,
            -0.205,
            0.565 + 0.06 * b.nose * (1 - 0.35 * b.child),
            0.048,
            0.074 * b.nose,
        ),
        0.075,
    )
    d = joined(d, ball(ax - 0.082 * b.nose, low + 0.235, z - 0.515, 0.056 * b.nose, 0.048, 0.07), 0.05)
    d = carved(d, ball(ax - 0.042 * b.nose, low + 0.268, z - 0.575, 0.026 * b.nose, 0.018, 0.035), 0.02)
    d = _mouth(b, d, x, low, z)
    if b.age > 0.3:
        deep = 0.012 + 0.016 * (b.age - 0.3)
        d = carved(d, rod(ax, low, z, 0.115, -0.245, 0.515, 0.215, -0.44, 0.40, deep, 0.4 * deep), 0.05)
    ear = ball(ax - 0.515, y + 0.02, z + 0.07, 0.045, 0.145, 0.085)
    d = joined(d, carved(ear, ball(ax - 0.555, y + 0.01, z + 0.045, 0.025, 0.085, 0.04), 0.03), 0.05)
    d = joined(d, _lids(b, ax, y, z), 0.022)
    if b.beard > 0:
        d -= 0.028 * b.beard * bearded(x, low, z) * (1 + 0.35 * noise(34 * x, 14 * y, 34 * z))
    return d


@njit(cache=True)
def _mouth(b, d, x, low, z):  # type: ignore[no-untyped-def]
    y = low - MOUTH_Y - b.smile * 1.1 * x * x
    d = joined(d, ball(x, y - 0.026, z - 0.435, 0.155, 0.030 * b.lips, 0.062), 0.05)
    d = joined(d, ball(x, y + 0.036, z - 0.428, 0.125, 0.038 * b.lips, 0.066), 0.05)
    return carved(d, ball(x, y, z - 0.49, 0.150 + 0.03 * b.smile, 0.007, 0.05), 0.022)


@njit(cache=True)
def lip(b, x, low, z):  # type: ignore[no-untyped-def]
    """How much of a lip a place on the skin is, 0..1."""
    y = low - MOUTH_Y - b.smile * 1.1 * x * x
    bow = 0.012 * math.exp(-((x / 0.03) ** 2))
    top, bottom = (0.046 * b.lips) * (1 - (x / 0.165) ** 2) - bow, -(0.070 * b.lips) * (1 - (x / 0.150) ** 2)
    inside = min(top - y, y - bottom)
    return min(max(inside / 0.012 + 0.5, 0.0), 1.0) if z > 0.2 else 0.0


@njit(cache=True)
def bearded(x, low, z):  # type: ignore[no-untyped-def]
    """How much of a beard grows at a place, 0..1."""
    ax = abs(x)
    chin = min(max((-0.50 + 0.45 * ax - low) / 0.06, 0.0), 1.0)
    jaw = min(max((ax - 0.27) / 0.05, 0.0), 1.0) * min(max((-0.18 - low) / 0.10, 0.0), 1.0)
    lip_ = min(max(1 - abs(low + 0.335) / 0.035, 0.0), 1.0) * min(max((0.20 - ax) / 0.05, 0.0), 1.0)
    mouth = min(max(1.3 - math.hypot(x / 0.155, (low - MOUTH_Y + 0.01) / 0.075), 0.0), 0.3) / 0.3
    front = min(max((z + 0.05) / 0.15, 0.0), 1.0) * min(max((low + 1.0) / 0.2, 0.0), 1.0)
    return max(max(chin, jaw) * (1 - mouth), lip_) * front


@njit(cache=True)
def _lids(b, ax, y, z):  # type: ignore[no-untyped-def]
    shell = math.sqrt((ax - EYE_X) ** 2 + (y - EYE_Y) ** 2 + (z - EYE_Z) ** 2) - EYE_R - 0.013
    inside, _ = slit(b, ax, y)
    return max(shell, inside)


@njit(cache=True)
def eyeball(ax, y, z):  # type: ignore[no-untyped-def]
    return math.sqrt((ax - EYE_X) ** 2 + (y - EYE_Y) ** 2 + (z - EYE_Z) ** 2) - EYE_R


@njit(cache=True)
def _clear(line):  # type: ignore[no-untyped-def]
    """1 at the hair's edge, 0 away from it."""
    return min(max(1 - abs(line) / 0.08, 0.0), 1.0)


@njit(cache=True)
def hair(b, x, y, z):  # type: ignore[no-untyped-def]
    """The hair of a head, as a body with strands on it."""
    if b.style == 0:
        return 9.0
    ax = abs(x)
    top = ball(x, y - 0.25, z + 0.13, 0.555, 0.595, 0.655)
    line = 0.125 - (0.75 * y - 0.66 * z) - 0.12 * ax
    d = max(top, line)
    if b.style == 2:
        side = ball(ax - 0.40, y + 0.35, z + 0.16, 0.21, 0.90, 0.30)
        back = ball(x, y + 0.30, z + 0.36, 0.50, 0.95, 0.26)
        d = joined(joined(d, side, 0.15), back, 0.15)
    if b.style == 3:
        d = joined(d, ball(x, y - 0.70, z + 0.50, 0.24, 0.22, 0.24), 0.06)
    if d > _NEAR:
        return d - _DEEP
    part = 0.02 * math.exp(-(((x - 0.12) / 0.03) ** 2))
    strands = 0.010 * noise(26 * x + 6 * y, 5 * (y + z), 30 * z) + 0.006 * noise(70 * x, 8 * y, 60 * z) - part
    d += 0.02 * noise(9 * x, 9 * y, 9 * z) * _clear(line)
    return d - strands


@njit(cache=True)
def hat(x, y, z):  # type: ignore[no-untyped-def]
    """A knitted cap with a turned brim."""
    cap = max(ball(x, y - 0.32, z + 0.11, 0.60, 0.60, 0.68), 0.36 - 0.18 * z - y)
    ring = math.sqrt((x / 0.585) ** 2 + ((z + 0.10) / 0.66) ** 2) - 1
    brim = math.sqrt((0.58 * ring) ** 2 + ((y - 0.40 + 0.12 * z) * 0.55) ** 2) - 0.065
    return joined(cap, brim, 0.03) + 0.008 * math.sin(58 * math.atan2(x, z + 0.1))


@njit(cache=True)
def frames(x, y, z):  # type: ignore[no-untyped-def]
    """Spectacles: two rounded boxes, a bridge, arms."""
    ax = abs(x)
    wide, tall, round_ = 0.142, 0.105, 0.07
    qx, qy = abs(ax - 0.205) - wide + round_, abs(y - 0.02) - tall + round_
    box = math.hypot(max(qx, 0.0), max(qy, 0.0)) + min(max(qx, qy), 0.0) - round_
    depth = z - (0.575 - 0.42 * ax * ax)
    d = math.sqrt(box * box + depth * depth) - 0.013
    d = min(d, rod(ax, y, z, 0.0, 0.055, 0.585, 0.07, 0.045, 0.573, 0.012, 0.012))
    return min(d, rod(ax, y, z, 0.345, 0.05, 0.52, 0.54, 0.03, -0.05, 0.012, 0.010))


@njit(cache=True)
def coat(b, x, y, z):  # type: ignore[no-untyped-def]
    """Shoulders and chest in a coat with an open collar."""
    ax, slim = abs(x), 1 - 0.22 * b.child
    d = rod(ax, y, z, 0.20, -1.30, -0.2, 0.98 * slim, -1.60, -0.24, 0.30, 0.26)
    d = joined(d, ball(x, y + 2.35, z + 0.12, 1.05 * slim, 1.05, 0.52), 0.25)
    d = joined(d, rod(ax, y, z, 0.98 * slim, -1.66, -0.22, 1.16 * slim, -3.0, -0.1, 0.26, 0.24), 0.16)
    lapel = ball(ax - 0.28, y + 1.36 - 0.5 * ax, z - 0.14, 0.30, 0.20, 0.11)
    d = joined(d, lapel, 0.05)
    if d > _NEAR:
        return d - _DEEP
    seam = math.exp(-((x / 0.012) ** 2)) * (1.0 if z > 0 else 0.0)
    folds = 0.03 * noise(3.2 * x + 1.3, 2.1 * y, 3 * z) + 0.0016 * noise(46 * x, 46 * y, 46 * z)
    return d + 0.012 * seam + folds


@njit(cache=True)
def scarf(x, y, z):  # type: ignore[no-untyped-def]
    """A knitted scarf around the neck, one end down the front."""
    ring = math.hypot(x / 1.12, z + 0.12) - 0.37
    d = math.hypot(ring, (y + 1.00 + 0.06 * math.sin(2.2 * x + 0.5)) * 0.9) - 0.135
    d = joined(d, rod(x, y, z, 0.10, -1.18, 0.30, 0.20, -2.3, 0.42, 0.13, 0.17), 0.08)
    if d > _NEAR:
        return d - _DEEP
    return d + 0.010 * math.sin(46 * x + 5 * math.sin(9 * y)) * math.sin(40 * y) + 0.012 * noise(6 * x, 6 * y, 6 * z)
