"""A part of the picture enlarged for drawing a feature, and laid back when done."""

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep
from ...understanding.people.outlines import filled
from .head import Head
from .light import box_around, too_small


def curve(points: AnyArray, count: int = 48) -> Float:
    """A smooth line of `count` points through given ones (n, 2)."""
    # Loaded here: a server that lists the looks needn't wait for it.
    from scipy.interpolate import CubicSpline

    points = np.asarray(points, np.float64)
    lengths = np.maximum(np.hypot(*np.diff(points, axis=0).T), 1e-3)
    at = np.concatenate([[0], np.cumsum(lengths)])
    return np.asarray(CubicSpline(at, points, bc_type="natural")(np.linspace(0, at[-1], count)), f32)


def ribbon(line: AnyArray, widths: AnyArray | float) -> Float:
    """Outline of a stroke along a line (n, 2), with a width at every point."""
    along = np.gradient(np.asarray(line, f32), axis=0)
    across = np.stack([-along[:, 1], along[:, 0]], 1) / (np.hypot(*along.T)[:, None] + 1e-6)
    half = across * (np.broadcast_to(np.asarray(widths, f32), len(along))[:, None] / 2)
    return np.asarray(np.concatenate([line + half, (line - half)[::-1]]), f32)


def swelling(count: int = 48) -> Float:
    """0 at the ends of a line, 1 in its middle."""
    return np.sin(np.pi * np.linspace(0, 1, count)).clip(0).astype(f32)


class Canvas:
    """Part of a picture around points, `fine` times as large.

    `xs`, `ys` are the picture's coordinates of its pixels; `empty` says that nothing of it is in the picture.
    """

    def __init__(self, lab: Float, points: AnyArray, margin: float, fine: int, back: Float) -> None:
        self.lab, self.fine, self._back = lab, fine, back
        self.box = box_around(np.asarray(points), margin, lab.shape)
        self.empty = too_small(self.box, 3)
        if self.empty:
            return
        self._left, self._top = self.box[1].start, self.box[0].start
        self.size = ((self.box[1].stop - self._left) * fine, (self.box[0].stop - self._top) * fine)
        self.image = cv2.resize(lab[self.box], self.size, interpolation=cv2.INTER_LINEAR)
        self._start = self.image.copy()
        ys, xs = np.mgrid[0 : self.size[1], 0 : self.size[0]].astype(f32)
        self.xs, self.ys = (xs + f32(0.5)) / fine - f32(0.5) + self._left, (ys + f32(0.5)) / fine - f32(0.5) + self._top

    def cover(self, outline: AnyArray, soft: float = 0.0) -> Float:
        """How far pixels lie within an outline of the picture; `soft` in its pixels."""
        own = (np.asarray(outline, f32) - np.array([self._left, self._top], f32) + f32(0.5)) * self.fine - f32(0.5)
        mask = filled(self.image.shape[:2], [own])
        return blur(mask, soft * self.fine) if soft else mask

    def lay(self, colour: AnyArray | tuple[float, float, float], share: Float) -> None:
        """Lay a colour, one or one a pixel, over what is there."""
        self.image += np.asarray(share, f32)[..., None] * (np.asarray(colour, f32) - self.image)

    def from_chart(self, head: Head, plane: Float) -> Float:
        """A plane of a head's chart as it lies here."""
        there = head.on_chart(cv2.resize(self._back[self.box], self.size).reshape(-1, 2)).reshape(*self.size[::-1], 2)
        return cv2.remap(
            plane, np.ascontiguousarray(there[..., 0]), np.ascontiguousarray(there[..., 1]), cv2.INTER_LINEAR
        )

    def away(self, place: AnyArray) -> Float:
        """Distance of each pixel to a place of the picture."""
        return np.asarray(np.hypot(self.xs - f32(place[0]), self.ys - f32(place[1])), f32)

    def disc(self, distance: Float, radius: float, edge: float) -> Float:
        return np.asarray(1 - smoothstep(radius - edge, radius + edge, distance), f32)

    def done(self, share: float = 1.0) -> None:
        """Lay what was drawn back into the picture."""
        drawn = self.image - self._start
        size = (drawn.shape[1] // self.fine, drawn.shape[0] // self.fine)
        self.lab[self.box] += f32(share) * cv2.resize(drawn, size, interpolation=cv2.INTER_AREA)


def fineness(width: float, wanted: float, least: int = 2, most: int = 6) -> int:
    """How many times a feature is enlarged so that it is `wanted` pixels wide."""
    return int(np.clip(np.ceil(wanted / max(width, 1)), least, most))
