"""A made-up person traced and lit: a lamp at one side, the evening sky, lanterns out of focus behind."""

import math
import os
from concurrent.futures import ThreadPoolExecutor

import cv2
import numpy as np
from numba import njit

from warmtide.core.maths.arrays import Byte, Float

from .build import Build
from .dog import dog, dog_colour
from .paint import colour_of
from .shape import COAT, DOG, EYE, FRAME, HAIR, HAT, SCARF, SKIN, coat, eyeball, face, frames, hair, hat, scarf

# The head turns about this place in the neck.
_PIVOT_Y, _PIVOT_Z = -0.72, -0.15
_FAR, _NEAREST = 11.0, 0.0012
_EYE_AWAY = 8.0
_DOG_X, _DOG_Y = 1.15, -0.95
_BAND = 32


@njit(cache=True)
def _apart(b, turned, x, y, z):  # type: ignore[no-untyped-def]
    """Distance to the nearest part, which part, and the place in the head's own frame."""
    py, pz = y - _PIVOT_Y, z - _PIVOT_Z
    hx = turned[0, 0] * x + turned[1, 0] * py + turned[2, 0] * pz
    hy = turned[0, 1] * x + turned[1, 1] * py + turned[2, 1] * pz + _PIVOT_Y
    hz = turned[0, 2] * x + turned[1, 2] * py + turned[2, 2] * pz + _PIVOT_Z
    d, part = coat(b, x, y, z) * 0.8, COAT
    s = scarf(x, y, z) * 0.7
    if s < d:
        d, part = s, SCARF
    if b.dog > 0:
        # Beside the fisher, its head turned a little to us.
        dx, dy, dz = (x - _DOG_X) * 0.97 - (z - 0.35) * 0.24, y - _DOG_Y, (z - 0.35) * 0.97 + (x - _DOG_X) * 0.24
        near = math.sqrt(dx * dx + (dy + 0.6) ** 2 + dz * dz) - 1.7
        if near < 0.2:
            k, which = dog(dx * 1.25, dy * 1.25, dz * 1.25)
            if k / 1.25 < d:
                d, part = k / 1.25, DOG + which
        elif near < d:
            d, part = near, DOG
    reach = math.sqrt(hx * hx + (hy + 0.1) ** 2 + (hz + 0.1) ** 2) - 1.35
    if reach > 0.25:
        return (d, part, hx, hy, hz) if d < reach else (reach, SKIN, hx, hy, hz)
    f = face(b, hx, hy, hz) * 0.8
    if f < d:
        d, part = f, SKIN
    e = eyeball(abs(hx), hy, hz)
    if e < d:
        d, part = e, EYE
    h = hair(b, hx, hy, hz) * 0.7
    if h < d:
        d, part = h, HAIR
    if b.hat > 0:
        k = hat(hx, hy, hz) * 0.7
        if k < d:
            d, part = k, HAT
    if b.glasses > 0:
        g = frames(hx, hy, hz)
        if g < d:
            d, part = g, FRAME
    return d, part, hx, hy, hz


@njit(cache=True)
def _lit(b, turned, x, y, z, lx, ly, lz):  # type: ignore[no-untyped-def]
    """How much of the lamp reaches a place, 0..1, with a soft edge."""
    seen, t = 1.0, 0.03
    while t < 2.6:
        d = _apart(b, turned, x + lx * t, y + ly * t, z + lz * t)[0]
        seen = min(seen, 0.5 + 0.5 * d / (0.09 * t))
        if seen <= 0:
            return 0.0
        t += min(max(d * 0.8, 0.015), 0.2)
    return seen * seen * (3 - 2 * seen)


@njit(cache=True)
def _shaded(b, turned, x, y, z, part, hx, hy, hz):  # type: ignore[no-untyped-def]
    e = 0.0016
    a = _apart(b, turned, x + e, y - e, z - e)[0]
    c = _apart(b, turned, x - e, y - e, z + e)[0]
    f = _apart(b, turned, x - e, y + e, z - e)[0]
    g = _apart(b, turned, x + e, y + e, z + e)[0]
    nx, ny, nz = a - c - f + g, -a - c + f + g, -a + c - f + g
    n = math.sqrt(nx * nx + ny * ny + nz * nz) + 1e-12
    nx, ny, nz = nx / n, ny / n, nz / n
    open_ = 0.0
    for k in range(1, 5):
        open_ += (_apart(b, turned, x + nx * 0.06 * k, y + ny * 0.06 * k, z + nz * 0.06 * k)[0] - 0.06 * k) / k
    open_ = min(max(1 + 2.2 * open_, 0.12), 1.0)
    lx, ly, lz = 0.62 * (1.0 if b.light > 0 else -1.0) * (0.4 + 0.6 * abs(b.light)), 0.42, 0.66
    n = math.sqrt(lx * lx + ly * ly + lz * lz)
    lx, ly, lz = lx / n, ly / n, lz / n
    shadow = _lit(b, turned, x + nx * 0.01, y + ny * 0.01, z + nz * 0.01, lx, ly, lz)
    toward = nx * lx + ny * ly + nz * lz
    if part >= DOG:
        ux, uz = (x - _DOG_X) * 0.97 - (z - 0.35) * 0.24, (z - 0.35) * 0.97 + (x - _DOG_X) * 0.24
        r, g_, a_, shine, sharp = dog_colour(part - DOG, ux * 1.25, (y - _DOG_Y) * 1.25, uz * 1.25)
    else:
        r, g_, a_, shine, sharp = colour_of(b, part, hx, hy, hz)
    soft = 0.18 if part == SKIN else 0.0
    # Light that goes through skin comes out red.
    red = max((toward + 1.8 * soft) / (1 + 1.8 * soft), 0.0) * (0.25 * soft / 0.18 + (1 - 0.25 * soft / 0.18) * shadow)
    cool = max((toward + 0.5 * soft) / (1 + 0.5 * soft), 0.0) * shadow
    sky, ground = 0.5 + 0.5 * ny, 0.5 - 0.5 * ny
    rim = max(1 - abs(nz), 0.0) ** 3 * max(-nx * lx * 2 + 0.2, 0.0) * open_
    hx_, hy_, hz_ = lx, ly, lz + 1
    n = math.sqrt(hx_ * hx_ + hy_ * hy_ + hz_ * hz_)
    gloss = max((nx * hx_ + ny * hy_ + nz * hz_) / n, 0.0) ** sharp * shine * shadow * (1 if part != HAIR else 0.6)
    fill = open_ * (0.42 + 0.25 * max(nz, 0.0))
    return (
        r * (2.35 * red + fill * (0.62 * sky + 0.50 * ground) + 0.9 * rim) + 1.6 * gloss,
        g_ * (2.15 * cool + fill * (0.70 * sky + 0.40 * ground) + 0.6 * rim) + 1.5 * gloss,
        a_ * (1.85 * cool + fill * (0.86 * sky + 0.34 * ground) + 0.35 * rim) + 1.35 * gloss,
    )


@njit(cache=True, nogil=True)
def _traced(b, turned, left, top, pixel, out):  # type: ignore[no-untyped-def]
    rows, columns, _ = out.shape
    for j in range(rows):
        for i in range(columns):
            tx, ty = left + (i + 0.5) * pixel, top - (j + 0.5) * pixel
            n = math.sqrt(tx * tx + ty * ty + _EYE_AWAY * _EYE_AWAY)
            dx, dy, dz = tx / n, ty / n, -_EYE_AWAY / n
            t = _EYE_AWAY - 2.2
            for _ in range(140):
                x, y, z = dx * t, dy * t, _EYE_AWAY + dz * t
                d, part, hx, hy, hz = _apart(b, turned, x, y, z)
                if d < _NEAREST:
                    r, g, a = _shaded(b, turned, x, y, z, part, hx, hy, hz)
                    out[j, i, 0], out[j, i, 1], out[j, i, 2], out[j, i, 3] = r, g, a, 1.0
                    break
                t += d
                if t > _FAR:
                    break


def _turned(build: Build) -> Float:
    """The head's rotation: nod, then turn, then tilt."""
    ct, st, cn, sn, cr, sr = (f(v) for v in (build.turn, -build.nod, -build.tilt) for f in (math.cos, math.sin))
    nod = np.array([[1, 0, 0], [0, cn, -sn], [0, sn, cn]])
    turn = np.array([[ct, 0, st], [0, 1, 0], [-st, 0, ct]])
    tilt = np.array([[cr, -sr, 0], [sr, cr, 0], [0, 0, 1]])
    return np.ascontiguousarray((tilt @ turn @ nod).astype(np.float64))


def _behind(height: int, width: int, seed: int) -> Float:
    """An evening quay out of focus, linear light: sky, dark houses, lanterns as soft discs."""
    lot = np.random.default_rng([51, seed])
    ys = np.linspace(0, 1, height)[:, None, None]
    out = np.broadcast_to(
        np.array([0.10, 0.15, 0.24]) * (1 - ys) + np.array([0.05, 0.055, 0.07]) * ys, (height, width, 3)
    ).astype(np.float32)
    out = np.ascontiguousarray(out)
    x = 0
    while x < width:
        wide, top = int(lot.uniform(0.12, 0.3) * width), int(lot.uniform(0.25, 0.5) * height)
        out[top:, x : x + wide] = np.array([0.05, 0.045, 0.05]) * lot.uniform(0.6, 1.6)
        x += wide
    out = cv2.GaussianBlur(out, (0, 0), 0.03 * width)
    for _ in range(16):
        disc = np.zeros((height, width), np.float32)
        centre = (int(lot.uniform(0, 1) * width), int(lot.uniform(0.2, 0.8) * height))
        cv2.circle(disc, centre, max(int(lot.uniform(0.015, 0.045) * width), 1), 1, -1, cv2.LINE_AA)
        warm = np.array([1.0, 0.55 + 0.2 * lot.uniform(), 0.2 + 0.15 * lot.uniform()]) * lot.uniform(0.2, 0.7)
        out += cv2.GaussianBlur(disc, (0, 0), 0.004 * width)[..., None] * warm.astype(np.float32)
    return out


def traced(
    build: Build, height: int, width: int, zoom: float = 1.0, across: float = 0.0, down: float = 0.0, fine: int = 2
) -> Float:
    """A person in linear light with how solid each pixel is, (h, w, 4) float32, about 2 s at 640 px on two cores.

    Parameters
    ----------
    zoom : 1 shows head and chest. across, down : where the person stands off the middle, in picture heights.
    fine : rays across a pixel.
    """
    rows, columns = fine * height, fine * width
    pixel = 3.3 / rows / zoom
    out = np.zeros((rows, columns, 4), np.float32)
    left, top = -pixel * (columns / 2 + across * rows), 1.22 / zoom**0.5 + pixel * down * rows
    turned = _turned(build)

    def band(first: int) -> None:
        _traced(build, turned, left, top - pixel * first, pixel, out[first : first + _BAND])

    with ThreadPoolExecutor(max_workers=os.cpu_count()) as workers:
        list(workers.map(band, range(0, rows, _BAND)))
    return cv2.resize(out, (width, height), interpolation=cv2.INTER_AREA)


def developed(light: Float, seed: int = 0) -> Byte:
    """Linear light (h, w, 3) as a photograph: a gentle shoulder, a little grain."""
    shoulder = 1 - np.exp(-0.78 * np.clip(light, 0, None))
    grain = np.random.default_rng([9, seed]).normal(0, 0.006, light.shape[:2])[..., None]
    code = np.where(shoulder <= 0.0031308, 12.92 * shoulder, 1.055 * shoulder ** (1 / 2.4) - 0.055) + grain
    return (np.clip(code, 0, 1) * 255 + 0.5).astype(np.uint8)


def portrait(
    build: Build, height: int = 512, width: int = 448, seed: int = 0, zoom: float = 1.0, across: float = 0.0, down: float = 0.0,
    fine: int = 2,
) -> Byte:  # fmt: skip
    """A made-up person before the evening quay, (h, w, 3) uint8 sRGB."""
    person = traced(build, height, width, zoom, across, down, fine)
    cover = np.clip(person[..., 3:], 0, 1)
    return developed(_behind(height, width, seed) * (1 - cover) + person[..., :3], seed)


def cut_portrait(build: Build, height: int = 512, width: int = 448, zoom: float = 1.0) -> tuple[Byte, Float]:
    """The same without a ground: colours (h, w, 3) and how solid each pixel is (h, w)."""
    person = traced(build, height, width, zoom)
    cover = np.clip(person[..., 3], 0, 1)
    return developed(person[..., :3] / np.maximum(cover, 1e-3)[..., None]), cover
