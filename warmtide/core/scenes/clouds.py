"""Clouds: a slab of repeating noise, marched through from the eye, lit along five steps toward the sun.

Sources
-------
1. A. Schneider, N. Vos, "The real-time volumetric cloudscapes of Horizon", 2015 (bodies eroded by cellular noise).
2. L. Henyey, J. Greenstein, "Diffuse radiation in the galaxy", 1941 (phase functions).
"""

import math
from typing import NamedTuple

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Float, f32
from ..maths.blur import blur
from ..maths.jit import kernel
from ..maths.noise import cloud_volumes, soft_texture
from ..maths.sampling import chance, solid, tiled
from .given import eye_of, lit_by
from .view import Camera, Light


class Deck(NamedTuple):
    """One layer of clouds: share of sky covered, where it begins and ends (m), size of its bodies (m), density."""

    cover: float
    base: float
    top: float
    size: float
    density: float
    frayed: float
    shift: tuple[float, float, float]


class _Fields(NamedTuple):
    """What clouds are cut from: their bodies, the wisps that fray them, and a map of where there are more."""

    bodies: Float
    wisps: Float
    weather: Float


@kernel
def _body(bodies, x, y, z, size, shift, cover, weather, profile):  # type: ignore[no-untyped-def]
    return solid(bodies, x / size, y / size * 0.9 + shift, z / size) - (1 - cover) + weather - (1 - profile) * 0.38


# Long: a walk through the clouds whose state is in a dozen numbers.
@kernel
def _march(eye, lit, deck, fields, out):  # type: ignore[no-untyped-def]
    height, width = out.shape[:2]
    steps = 34
    for j in range(height):
        for i in range(width):
            dx = (i + 0.5 - eye.middle) / eye.focal
            dy = (eye.horizon - j - 0.5) / eye.focal
            out[j, i, 3] = 1.0
            if dy < 0.012:
                continue
            norm = 1 / math.sqrt(dx * dx + dy * dy + 1)
            dx *= norm
            dy *= norm
            dz = norm
            first = deck.base / dy
            if first > 60e3:
                continue
            last = min(deck.top / dy, first + 9000.0)
            mu = dx * lit.sun[0] + dy * lit.sun[1] + dz * lit.sun[2]
            # Forward, backward and a narrow lobe that gives clouds before the sun their bright rims.
            phase = 0.165 * 0.64 / (1.36 - 1.2 * mu) ** 1.5 + 0.225 * 0.9375 / (1.0625 + 0.5 * mu) ** 1.5 + 0.22
            phase += 0.018 / (1.7225 - 1.7 * mu) ** 1.5
            part = (last - first) / steps
            through = 1.0
            t = first + part * chance(i, j, 3)
            far = 0.0
            weight = 0.0
            skipped = False
            for step in range(steps):
                if skipped:
                    # Far from any cloud every other step is enough.
                    skipped = False
                    t += part
                    continue
                px = dx * t + deck.shift[0]
                py = dy * t
                pz = dz * t + deck.shift[2]
                level = (py - deck.base) / (deck.top - deck.base)
                profile = max(min(level / 0.15, 1.0) * min((1 - level) / 0.6, 1.0), 0.0)
                weather = 0.13 * tiled(fields.weather, px / 90.0 + 40.0, pz / 90.0 + 7.0) - min(t / 60e3, 0.12)
                d = _body(fields.bodies, px, py, pz, deck.size, deck.shift[1], deck.cover, weather, profile)
                skipped = d < -0.14 and step % 2 == 0
                if d > 0:
                    fray = solid(fields.wisps, px / 1400.0, py / 1400.0, pz / 1400.0)
                    d -= deck.frayed * (1 - fray) * (1 - min(d * 2.2, 1.0))
                if d > 0:
                    tau = 0.0
                    stride = 45.0
                    q = 0.0
                    for _m in range(5):
                        q += stride
                        level2 = (py + lit.sun[1] * q - deck.base) / (deck.top - deck.base)
                        if level2 > 1:
                            break
                        profile2 = max(min(level2 / 0.15, 1.0) * min((1 - level2) / 0.6, 1.0), 0.0)
                        d2 = _body(
                            fields.bodies, px + lit.sun[0] * q, py + lit.sun[1] * q, pz + lit.sun[2] * q, deck.size, deck.shift[1], deck.cover, weather,
                            profile2,
                        )  # fmt: skip
                        if d2 > 0:
                            tau += d2 * stride * deck.density * 3.0
                        stride *= 1.6
                    shine = (math.exp(-tau) * 0.72 + math.exp(-tau * 0.22) * 0.28) * phase
                    shine *= (1 - 0.6 * math.exp(-d * 14)) * 1.6
                    from_sky = 0.3 + 0.7 * level
                    a = through * (1 - math.exp(-d * part * deck.density * 3.0))
                    for c in range(3):
                        out[j, i, c] += a * (lit.colour[c] * shine + lit.ambient[c] * from_sky)
                    far += a * t
                    weight += a
                    through *= 1 - a / max(through, 1e-6)
                    if through < 0.015:
                        through = 0.0
                        break
                t += part
            out[j, i, 3] = through
            out[j, i, 4] = far / max(weight, 1e-4)


def over(sky: Float, camera: Camera, light: Light, deck: Deck, ambient: AnyArray, direct: AnyArray) -> Float:
    """Lay clouds on a sky (h, w, 3), in place; how much of the sky shows through, (h, w).

    Marched at half size, about .2 s at 512 px.
    """
    height, width = sky.shape[:2]
    through = np.ones((height, width), f32)
    rows = min(int(camera.horizon + 2), height)
    small = int(rows / 2), int(width / 2)
    if small[0] < 4:
        return through
    seen = np.zeros((*small, 5), f32)
    bodies, wisps = cloud_volumes()
    eye = eye_of(camera, 0.0)
    eye = eye._replace(focal=eye.focal / 2, middle=eye.middle / 2, horizon=eye.horizon / 2)
    lit = lit_by(light.sun, direct, ambient, np.zeros((0, 3)))
    _march(eye, lit, deck, _Fields(bodies, wisps, soft_texture()), seen)
    large = cv2.resize(blur(seen, 0.55), (width, small[0] * 2), interpolation=cv2.INTER_CUBIC)
    rows = min(large.shape[0], height)
    large = large[:rows]
    shows = np.clip(large[..., 3:4], 0, 1)
    # Far clouds take the colour of the air before them.
    air = blur(np.repeat(sky[max(int(camera.horizon) - 4, 0)][None], 3, 0), width * 0.05)[1][None]
    near = np.exp(-np.maximum(large[..., 4:5], 0) / (14e3 if light.dull else 26e3))
    cloud = np.maximum(large[..., :3], 0)
    cloud = cloud * near + air * (1 - shows) * (1 - near) * 0.95
    if light.sky == "storm":
        cloud = cloud * 0.38
    sky[:rows] = sky[:rows] * shows + cloud
    through[:rows] = shows[..., 0]
    return through
