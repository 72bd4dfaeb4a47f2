"""A face as the character is made from it: its axes, its size, and an upright chart that features are measured on."""

from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...model.face import Face
from ...understanding.faces import in_profile
from ...understanding.people.features import EARS, EYES, OVAL

# The chart: pixels between the ears, and its side.
CHART, CHART_SIDE = 160, 224


@dataclass(frozen=True, eq=False)
class Head:
    """A face with points, in pixels of its picture; all lengths of the character are shares of its `width`."""

    xy: Float
    z: Float
    yaw: float
    # In profile the points are guessed: no feature is drawn.
    drawn: bool

    @classmethod
    def of(cls, face: Face, long_side: float) -> "Head | None":
        if face.points is None:
            return None
        places = face.points.places * f32(long_side)
        return cls(
            np.ascontiguousarray(places[:, :2]), np.ascontiguousarray(places[:, 2]), face.points.yaw, not in_profile(face.points)
        )  # fmt: skip

    @cached_property
    def right(self) -> AnyArray:
        across = self.xy[EYES[1][0][0]] - self.xy[EYES[0][0][0]]
        return across / (np.hypot(*across) + 1e-6)

    @cached_property
    def down(self) -> AnyArray:
        return np.array([-self.right[1], self.right[0]], f32)

    @cached_property
    def axes(self) -> AnyArray:
        """(2, 2), right and down as columns."""
        return np.column_stack([self.right, self.down]).astype(f32)

    @cached_property
    def middle(self) -> AnyArray:
        return self.xy[list(OVAL)].mean(0)

    @cached_property
    def width(self) -> float:
        """Between the ears, foreshortening undone."""
        left, right = EARS
        across = float((self.xy[right] - self.xy[left]) @ self.right)
        return max(float(np.hypot(across, self.z[right] - self.z[left])), 4.0)

    @cached_property
    def turned(self) -> float:
        """How far the tip of the nose lies off the middle of the cheeks, -1..1."""
        left, right, nose = (float(self.xy[i] @ self.right) for i in (*EARS, 1))
        return float(np.clip((nose - left) / max(right - left, 1e-6) * 2 - 1, -1, 1))

    def own(self, points: AnyArray) -> AnyArray:
        """Points of the picture in the head's frame: across and down from its middle, in widths."""
        return ((np.asarray(points, f32) - self.middle.astype(f32)) @ self.axes) / f32(self.width)

    def placed(self, own: AnyArray) -> AnyArray:
        """The way back from `own`."""
        return (np.asarray(own, f32) * f32(self.width)) @ self.axes.T + self.middle.astype(f32)

    @cached_property
    def _chart(self) -> tuple[AnyArray, AnyArray]:
        turn = self.axes * f32(self.width / CHART)
        return turn, self.middle - turn @ (CHART_SIDE / 2, CHART_SIDE / 2)

    def charted(self, plane: Float) -> Float:
        """A plane (h, w) or (h, w, 3) of the picture on the chart."""
        turn, shift = self._chart
        if self.width > 1.5 * CHART:
            plane = blur(plane, self.width / CHART * 0.4)
        flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
        matrix = np.column_stack([turn, shift]).astype(np.float64)
        return cv2.warpAffine(plane, matrix, (CHART_SIDE, CHART_SIDE), flags=flags, borderMode=cv2.BORDER_REPLICATE)

    @cached_property
    def charted_points(self) -> Float:
        return self.on_chart(self.xy)

    def on_chart(self, points: AnyArray) -> AnyArray:
        """Places on the chart of points of the picture."""
        turn, shift = self._chart
        return ((np.asarray(points, f32) - shift.astype(f32)) @ np.linalg.inv(turn).T.astype(f32)).astype(f32)
