"""Noise fields of the scenes: fractal, ridged, and textures that repeat."""

from functools import cache

import cv2
import numpy as np

from .arrays import Float, f32
from .blur import blur
from .sampling import cells, scatter


def rng(*keys: int) -> np.random.Generator:
    """Random numbers that depend on nothing but the keys."""
    return np.random.default_rng([int(k) & 0xFFFFFFFF for k in keys])


def part(random: np.random.Generator) -> np.random.Generator:
    """A generator of its own for what needs more numbers the larger a picture is: the rest stays as it was."""
    return np.random.default_rng(int(random.integers(1 << 62)))


def lattice(key: int, rows: int, columns: int) -> Float:
    """Nearly normal noise in which a point's value follows from its place alone: a larger grid only adds points."""
    out = np.empty((rows, columns), f32)
    scatter(np.uint64(key), out)
    return out


def fractal(
    height: int, width: int, scale: float, random: np.random.Generator, octaves: int = 4, gain: float = 0.5
) -> Float:
    """Fractal noise of unit variance: each octave half as large and `gain` times as strong. scale : px.

    The same scene at another size has the same features.
    """
    total = np.zeros((height, width), f32)
    amount = 1.0
    for octave in range(octaves):
        cell = max(scale / 2**octave / 2, 1.0)
        rows, columns = int(height / cell) + 5, int(width / cell) + 5
        white = blur(lattice(int(random.integers(1 << 62)), rows, columns), 0.9)
        size = (int(columns * cell) + 1, int(rows * cell) + 1)
        total += amount * cv2.resize(white, size, interpolation=cv2.INTER_CUBIC)[:height, :width] / white.std()
        amount *= gain
    return ((total - total.mean()) / max(float(total.std()), 1e-6)).astype(f32)


def ridged(
    height: int, width: int, scale: float, random: np.random.Generator, octaves: int = 6, gain: float = 0.5
) -> Float:
    """Ridged noise: crests where a field changes its sign, finer ones on the flanks of coarse ones."""
    total = np.zeros((height, width), f32)
    amount = 1.0
    weight: Float | float = 1.0
    for octave in range(octaves):
        crest = np.clip(1 - np.abs(fractal(height, width, scale / 2**octave, random, 1)) * 0.8, 0, 1) ** 2 * weight
        total += amount * crest
        weight = np.clip(crest * 1.6, 0, 1).astype(f32)
        amount *= gain
    return total


def warped(field: Float, dx: Float, dy: Float) -> Float:
    """A field (h, w) looked up (dx, dy) pixels away, mirrored at its border."""
    height, width = field.shape
    xs, ys = np.meshgrid(np.arange(width, dtype=f32), np.arange(height, dtype=f32))
    return cv2.remap(
        field, (xs + dx).astype(f32), (ys + dy).astype(f32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT
    )


def repeating(size: int, slope: float, random: np.random.Generator, lowest: float = 1.0, highest: float = 1e9) -> Float:
    """A square texture of power-law noise (power falls as frequency^-slope) that repeats, of unit variance."""
    frequency = np.hypot(np.fft.fftfreq(size)[:, None] * size, np.fft.rfftfreq(size)[None] * size)
    frequency[0, 0] = 1
    spectrum = frequency ** (-slope / 2) * (frequency >= lowest) * (frequency <= highest)
    spectrum[0, 0] = 0
    field = np.fft.irfft2(np.fft.rfft2(random.standard_normal((size, size))) * spectrum, s=(size, size))
    return (field / field.std()).astype(f32)


@cache
def soft_texture() -> Float:
    """512 x 512: clouds, grass, stone seen from far."""
    return repeating(512, 2.4, rng(99, 1))


@cache
def fine_texture() -> Float:
    """512 x 512: grain without coarse parts."""
    return repeating(512, 1.2, rng(99, 2), 4)


@cache
def wave_texture() -> Float:
    """512 x 512: one size of swell, for caustics."""
    return repeating(512, 2.0, rng(99, 3), 6, 200)


def _cellular(size: int, counts: tuple[tuple[int, float], ...], random: np.random.Generator) -> Float:
    total = np.zeros((size, size, size), f32)
    layer = np.empty_like(total)
    for count, amount in counts:
        cells(random.random((count, count, count, 3)), size, count, layer)
        total += f32(amount) * layer
    return total


@cache
def cloud_volumes() -> tuple[Float, Float]:
    """Two repeating volumes: bodies of clouds (96^3, every value equally common) and what frays them (48^3).

    About .3 s, once a process.
    """
    random, size = rng(7), 96
    axis, half = np.fft.fftfreq(size) * size, np.fft.rfftfreq(size) * size
    frequency = np.sqrt(axis[:, None, None] ** 2 + axis[None, :, None] ** 2 + half[None, None] ** 2)
    frequency[0, 0, 0] = 1
    spectrum = frequency**-1.9 * (frequency >= 2.5)
    spectrum[0, 0, 0] = 0
    white = random.standard_normal((size, size, size))
    billows = np.fft.irfftn(np.fft.rfftn(white) * spectrum, s=(size, size, size), axes=(0, 1, 2))
    lumps = _cellular(size, ((5, 0.55), (10, 0.30), (20, 0.15)), random)
    mixed = billows / billows.std() * 0.62 + (lumps - lumps.mean()) / lumps.std() * 0.75
    ranks = np.empty(mixed.size, f32)
    ranks[np.argsort(mixed.ravel(), kind="stable")] = np.arange(mixed.size, dtype=f32) / mixed.size
    wisps = _cellular(48, ((4, 0.5), (8, 0.3), (14, 0.2)), random)
    wisps = (wisps - wisps.min()) / (wisps.max() - wisps.min())
    return ranks.reshape(mixed.shape), wisps.astype(f32)
