"""Strokes of a broad marker beside each other."""

import numpy as np

from ...maths.arrays import Float, f32
from ...maths.steps import smoothstep
from ...model.sitting import Sitting
from .texture import grain

_NIB = 15.0


def marker_streaks(sitting: Sitting, name: str, height: int, width: int, unit: float, angle: float) -> Float:
    """Strokes (h, w) of a broad nib beside each other, about -.1..+.3: where two overlap the colour is double."""
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    random = sitting.random(name)
    sway = grain(height, width, 120 * unit, sitting.random(f"{name} sway"))
    across = (-xs * np.sin(angle) + ys * np.cos(angle) + 2.2 * unit * sway) / (_NIB * unit)
    share, number = across - np.floor(across), np.floor(across).astype(int)
    strength = random.normal(0, 1, 4096)[number % 4096]
    overlap = np.maximum(smoothstep(0.78, 0.95, share), 1 - smoothstep(0.02, 0.10, share))
    fibre = grain(height, width, 60 * unit, sitting.random(f"{name} fibre"), 2 * unit, angle)
    return np.asarray(0.16 * overlap + 0.05 * strength + 0.03 * fibre, f32)
