"""Tone and paper, shared by painters."""

import numpy as np

from ...maths.arrays import Float, f32
from ...model.sitting import Sitting


def stretch(
    light: Float, sitting: Sitting, percentiles: tuple[float, float], to: tuple[float, float], amount: float
) -> Float:
    """Pull the tone range toward `to` by percentiles; on a flat ground hardly, or the ground would turn grey.

    Parameters
    ----------
    light : (h, w) lightness 0..1. percentiles : which of its values become the ends of `to`.
    amount : 0 (as it is) to 1 (all the way).
    """
    amount *= 0.15 if sitting.flat else 1.0
    low, high = sitting.decided(f"tones {to}", lambda: np.percentile(light[::4, ::4], percentiles))
    full = to[0] + (to[1] - to[0]) * np.clip((light - low) / (high - low + 1e-3), 0, 1)
    return ((1 - amount) * light + amount * full).astype(f32)


def paper(sitting: Sitting, grain: float) -> Float:
    """Relief of a paper, unit variance; `grain` is its size in marks."""
    size = grain * sitting.scale
    relief = (
        f32(0.55) * sitting.field("paper fine", 1.6 * size)
        + f32(0.45) * sitting.field("paper", 3.2 * size)
        + f32(0.25) * sitting.field("paper broad", 9 * size)
    )
    return (relief / relief.std()).astype(f32)
