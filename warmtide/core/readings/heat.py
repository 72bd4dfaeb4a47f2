"""Where the composition gave way: a heat map, and the box of the worst place."""

from dataclasses import dataclass

import cv2
import numpy as np

from ..maths.arrays import Float
from ..maths.blur import blur
from .composition import Composition

_REACH = 5.0


@dataclass(frozen=True)
class Region:
    """A box in shares of the picture, and what was kept inside, 0..100."""

    left: float
    top: float
    right: float
    bottom: float
    kept: float


def heat(composition: Composition) -> Float:
    """Loss of each place (h, w), 0 where all was kept; 1 is the loss of an average place that is gone."""
    return blur(composition.loss, _REACH)


def worst_region(composition: Composition, loss: Float | None = None) -> Region | None:
    """The heaviest blob above half of the greatest heat, or None where nothing was lost.

    Parameters
    ----------
    loss : another map to search, such as the difference of the heat of two takes.
    """
    warm = heat(composition) if loss is None else loss
    top = float(warm.max())
    if top < 0.05:
        return None
    count, labels, stats, _ = cv2.connectedComponentsWithStats((warm > top / 2).astype(np.uint8))
    mass = [float(warm[labels == i].sum()) for i in range(1, count)]
    chosen = 1 + int(np.argmax(mass))
    x, y, w, h = (int(v) for v in stats[chosen][:4])
    height, width = warm.shape
    inside = labels == chosen
    weight = composition.weight[inside]
    kept = 100 * float((weight * composition.share[inside]).sum() / max(float(weight.sum()), 1e-9))
    return Region(x / width, y / height, (x + w) / width, (y + h) / height, max(0.0, kept))
