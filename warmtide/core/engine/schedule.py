"""From strength and steps to noise levels.

Sources
-------
1. T. Karras et al., "Elucidating the design space of diffusion-based generative models", 2022 (eq. 5).
"""

from ..model.sampling import steps_run

SIGMA_MAX = 8.0
SIGMA_MIN = 0.03
_RHO = 7.0
# Near 1 the composition falls most evenly over strength; larger leaves the whole fall to the last third.
_SHAPE = 1.1


def karras(position: float) -> float:
    """Noise level at a position 0 (most) to 1 (least) of the schedule."""
    most, least = SIGMA_MAX ** (1 / _RHO), SIGMA_MIN ** (1 / _RHO)
    return float((most + position * (least - most)) ** _RHO)


def start_sigma(strength: float) -> float:
    """Noise level at which a strength 0..1 begins: .3 -> .23, .5 -> .67, .7 -> 2.0, 1 -> 8."""
    return karras(1 - strength**_SHAPE)


def sigmas(strength: float, steps: int) -> list[float]:
    """Noise levels of the steps that run, ending in 0."""
    count = steps_run(strength, steps)
    begin = 1 - strength**_SHAPE
    return [karras(begin + (1 - begin) * i / max(count - 1, 1)) for i in range(count)] + [0.0]


def fewer(levels: list[float], kept: int, count: int) -> list[float]:
    """A schedule of at most `count` steps from one with more: some of its own noise levels.

    Parameters
    ----------
    levels : noise levels of the steps, ending in 0. kept : a step whose level must be among them, since what happens
        there, the painting, must see the same picture. The first and the last step stay too where there is room.
    """
    last = len(levels) - 2
    if count > last:
        return levels
    # More of them before the painting, which decides what is painted, than after it.
    before = round(count * 0.75 * (kept + 1) / (0.75 * (kept + 1) + 0.5 * (last - kept)))
    before = min(max(before, 1 + (kept > 0)), count - (kept < last and count > 1))
    after = count - before
    chosen = {kept}
    chosen |= {round(kept * (1 - (k + 1) / max(before - 1, 1))) for k in range(before - 1)}
    chosen |= {round(kept + (last - kept) * (k + 1) / after) for k in range(after)}
    return [levels[k] for k in sorted(chosen)] + [0.0]
