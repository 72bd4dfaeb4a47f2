"""Where a face is."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Face:
    """A face as an upright oval turned by `angle` degrees: centre and width in shares of the picture's long side,
    measured from the top left."""

    x: float
    y: float
    width: float
    angle: float = 0.0
