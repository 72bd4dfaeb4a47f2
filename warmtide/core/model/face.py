"""Where a face is, and where its features are."""

from dataclasses import dataclass, field, replace

import numpy as np

from ..maths.arrays import AnyArray


@dataclass(frozen=True, eq=False)
class FacePoints:
    """468 places on a face, as `understanding.people.features` names them.

    Attributes
    ----------
    places : (468, 3) across, down and away from the eye (less is nearer) in shares of the picture's long side.
    yaw, pitch : where the face looks, in degrees: to the right of the picture, and up.
    """

    places: AnyArray
    yaw: float
    pitch: float


@dataclass(frozen=True)
class Face:
    """A face as an upright oval turned by `angle` degrees: centre and width in shares of the picture's long side,
    measured from the top left; and its points where they could be found, which follow from the oval and the picture."""

    x: float
    y: float
    width: float
    angle: float = 0.0
    points: FacePoints | None = field(default=None, compare=False, repr=False)

    def within(self, left: float, top: float, side: float) -> "Face":
        """The same face as it lies in a square part of its picture; all in shares of the picture's long side."""
        points = self.points
        if points is not None:
            places = (points.places - np.array([left, top, 0])) / side
            points = replace(points, places=places.astype(points.places.dtype))
        return replace(self, x=(self.x - left) / side, y=(self.y - top) / side, width=self.width / side, points=points)
