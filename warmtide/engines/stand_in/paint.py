"""What the simulated engines paint: plainly, quickly, and so that nobody takes one for the other."""

from collections.abc import Callable, Iterator

import cv2
import numpy as np

from ...core.maths.arrays import Byte, Float, f32
from ...core.model.recipe import Recipe

# Dark to light.
_DAY = np.array([(38, 34, 60), (112, 62, 84), (196, 106, 82), (236, 178, 108), (252, 236, 200)], f32)
_NIGHT = np.array([(14, 20, 42), (28, 52, 92), (60, 104, 138), (150, 176, 160), (250, 226, 150)], f32)
_SLATE, _CHALK = np.array((40, 48, 52), f32), np.array((236, 230, 214), f32)
# How far outlines wander at strength 1 where nothing holds them, as a share of the short side.
_WANDER = 0.06


def _grey(rgb: Float) -> Float:
    return (rgb @ np.array((0.299, 0.587, 0.114), f32)).astype(f32)


def _bands(palette: Float) -> Callable[[Float], Float]:
    """Flat areas of five tones."""

    def paint(rgb: Float) -> Float:
        calm = cv2.bilateralFilter(rgb, 9, 40, 7)
        grey = _grey(calm)
        ends = np.quantile(grey, (0.2, 0.4, 0.6, 0.8))
        flat: Float = palette[np.digitize(grey, ends)]
        return flat

    return paint


def _chalk(rgb: Float) -> Float:
    """Light lines on a slate."""
    grey = cv2.GaussianBlur(_grey(rgb), (0, 0), 1.2)
    edges = np.hypot(cv2.Sobel(grey, cv2.CV_32F, 1, 0), cv2.Sobel(grey, cv2.CV_32F, 0, 1))
    share = np.clip(edges / (np.quantile(edges, 0.97) + 1), 0, 1)[..., None] + f32(0.12) * (grey / 255)[..., None]
    drawn: Float = (_SLATE + np.clip(share, 0, 1) * (_CHALK - _SLATE)).astype(f32)
    return drawn


PAINTS: dict[str, dict[str, tuple[str, Callable[[Float], Float]]]] = {
    "a": {"day-bands": ("Day bands", _bands(_DAY)), "night-bands": ("Night bands", _bands(_NIGHT))},
    "b": {"slate": ("Slate", _chalk)},
}


def _wandered(rgb: Float, seed: int, by: float) -> Float:
    height, width = rgb.shape[:2]
    random = np.random.default_rng(seed)
    amount = f32(by * min(height, width))
    fields = [
        cv2.resize(random.standard_normal((6, 6)).astype(f32), (width, height), interpolation=cv2.INTER_CUBIC)
        for _ in range(2)
    ]
    ys, xs = np.mgrid[:height, :width].astype(f32)
    moved: Float = cv2.remap(
        rgb, xs + amount * fields[0], ys + amount * fields[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT
    )
    return moved


def painted(variant: str, source: Byte, recipe: Recipe, region: Byte | None = None) -> Iterator[tuple[int, int, Byte]]:
    """A source (h, w, 3) uint8 step by step: how many are done, of how many, and the picture by then."""
    _, paint = PAINTS[variant][recipe.look]
    before = source.astype(f32)
    held = recipe.holds.lines if variant == "a" else 0.0
    moved = _wandered(before, recipe.seed, _WANDER * recipe.strength**1.5 * (1 - held))
    full = paint(moved)
    louder = 0.55 + 0.45 * min(recipe.guidance / 5, 2)
    mean = full.mean((0, 1))
    full = np.clip(mean + f32(louder) * (full - mean), 0, 255)
    grain = np.random.default_rng(recipe.seed + 1).standard_normal(source.shape[:2]).astype(f32)[..., None]
    steps = max(recipe.steps_run, 1)
    share = np.ones(source.shape[:2], f32) if region is None else region.astype(f32) / 255
    for step in range(1, steps + 1):
        reached = recipe.strength * step / steps
        noise = f32(30 * recipe.strength * (1 - step / steps) + 3 * recipe.strength) * grain
        mixed = (1 - reached) * moved + reached * full + noise
        out = before + share[..., None] * (mixed - before)
        yield step, steps, np.clip(out + f32(0.5), 0, 255).astype(np.uint8)
