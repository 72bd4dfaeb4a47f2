"""From strength and steps to noise levels.

Sources
-------
1. T. Karras et al., "Elucidating the design space of diffusion-based generative models", 2022 (eq. 5).
"""

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


def steps_run(strength: float, steps: int) -> int:
    """How many of the steps run at a strength: strength x steps, at least one."""
    return max(1, round(steps * strength))


def sigmas(strength: float, steps: int) -> list[float]:
    """Noise levels of the steps that run, ending in 0."""
    count = steps_run(strength, steps)
    begin = 1 - strength**_SHAPE
    return [karras(begin + (1 - begin) * i / max(count - 1, 1)) for i in range(count)] + [0.0]
