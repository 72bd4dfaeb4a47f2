"""What a polished thing mirrors: rooms with lamps and windows, and the scene that it stands in.

A room is a picture of all directions (rows from up to down, columns around, the middle toward the eye) in linear
light, with softer and softer copies for rough surfaces.
"""

import math
from functools import cache

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import blur
from ...maths.steps import smoothstep

_ROWS, _COLUMNS = 128, 256
_SOFTER = (1.5, 4, 10, 24, 48)


class _Room:
    """A room that lamps are put into."""

    def __init__(self, light: Float) -> None:
        rows = ((np.arange(_ROWS) + 0.5) / _ROWS - 0.5) * math.pi
        columns = ((np.arange(_COLUMNS) + 0.5) / _COLUMNS - 0.5) * 2 * math.pi
        around, up = np.meshgrid(columns, rows)
        self.x = np.sin(around) * np.cos(up)
        self.y = np.sin(up)
        self.z = np.cos(around) * np.cos(up)
        self.light = light

    def panel(
        self, toward: tuple[float, float, float], half: tuple[float, float], bright: float,
        colour: tuple[float, float, float], soft: float, turn: float = 0.0, bars: bool = False,
    ) -> None:  # fmt: skip
        """A shining rectangle. toward : its direction, y down. half : its size at distance 1. bars : as of a window."""
        n = np.array(toward)
        n = n / np.linalg.norm(n)
        t = np.cross((0, 1.0, 0), n)
        t = t / np.linalg.norm(t)
        b = np.cross(n, t)
        t, b = t * math.cos(turn) + b * math.sin(turn), b * math.cos(turn) - t * math.sin(turn)
        ahead = self.x * n[0] + self.y * n[1] + self.z * n[2]
        d = np.maximum(ahead, 1e-3)
        p = np.abs(self.x * t[0] + self.y * t[1] + self.z * t[2]) / d
        q = np.abs(self.x * b[0] + self.y * b[1] + self.z * b[2]) / d
        shown = (
            (1 - smoothstep(half[0] - soft, half[0] + soft, p))
            * (1 - smoothstep(half[1] - soft, half[1] + soft, q))
            * (ahead > 2e-3)
        )
        if bars:
            shown = shown * (1 - 0.85 * np.maximum(1 - smoothstep(0.02, 0.05, p), 1 - smoothstep(0.02, 0.05, q)))
        self.light = (self.light + bright * shown[..., None] * np.array(colour, f32)).astype(f32)

    def darken_behind(self, amount: float, where: float) -> None:
        """What is on the eye's side of the room is dark: nothing stands in front of the thing."""
        shade = amount * (1 - smoothstep(-0.5, where, self.z))
        self.light = (self.light * (1 - shade)[..., None]).astype(f32)


def _graded(
    low: float, high: float, ends: tuple[float, float], colour: tuple[float, float, float], power: float = 1.0
) -> _Room:
    room = _Room(np.zeros((_ROWS, _COLUMNS, 3), f32))
    up = 1 - smoothstep(ends[1], ends[0], room.y)
    room.light = ((low + high * up**power)[..., None] * np.array(colour, f32)).astype(f32)
    return room


def _softened(light: Float) -> Float:
    """The room and its softer copies (6, 128, 256, 3)."""
    levels = [light]
    for sigma in _SOFTER:
        wide = np.concatenate([light[:, -64:], light, light[:, :64]], 1)
        wide = np.concatenate([wide[:40][::-1], wide, wide[-40:][::-1]], 0)
        levels.append(blur(wide, sigma)[40:-40, 64:-64])
    return np.ascontiguousarray(np.stack(levels), dtype=f32)


def _studio() -> _Room:
    room = _graded(0.16, 0.22, (0.4, -1), (0.95, 1, 1.08))
    room.panel((-0.75, -0.85, 0.75), (0.62, 0.42), 7.5, (1, 0.98, 0.94), 0.05, 0.35)
    room.panel((1, -0.1, 0.35), (0.22, 0.95), 2.2, (0.86, 0.93, 1), 0.05)
    room.panel((0.1, 0.95, 0.5), (0.8, 0.16), 0.9, (1, 0.9, 0.8), 0.08)
    room.darken_behind(0.75, 0.0)
    return room


def _window() -> _Room:
    room = _graded(0.12, 0.20, (0.5, -1), (1, 0.98, 0.95))
    room.panel((-0.8, -0.75, 0.7), (0.55, 0.55), 8, (0.93, 0.98, 1.05), 0.03, 0.2, bars=True)
    room.panel((1, 0.1, 0.5), (0.3, 0.8), 1.1, (1, 0.9, 0.75), 0.15)
    room.darken_behind(0.7, 0.0)
    return room


def _metal() -> _Room:
    room = _graded(0.13, 0.55, (0.9, -1), (1, 0.97, 0.92), 1.5)
    room.panel((-0.6, -0.8, 0.9), (0.5, 0.34), 6, (1, 0.97, 0.9), 0.08, 0.3)
    room.panel((1, -0.3, 0.5), (0.2, 0.9), 3, (1, 0.92, 0.8), 0.06)
    room.panel((-0.9, 0.5, 0.6), (0.14, 0.5), 1.4, (0.8, 0.9, 1), 0.06)
    room.darken_behind(0.8, 0.05)
    return room


def _horizon() -> _Room:
    """Bright above, a dark line, a warm floor: what makes polished steel look like polished steel."""
    room = _graded(0.10, 1.05, (-0.02, -0.9), (0.86, 0.95, 1.08), 0.8)
    floor = smoothstep(0.03, 0.55, room.y) * 0.42
    line = np.exp(-(((room.y + 0.01) / 0.05) ** 2)) * 0.12
    room.light = (
        (room.light + floor[..., None] * np.array((1, 0.93, 0.85), f32) - line[..., None]).clip(0.01).astype(f32)
    )
    room.panel((-0.65, -0.75, 0.85), (0.5, 0.3), 6.5, (1, 0.99, 0.96), 0.05, 0.3)
    room.panel((1, -0.25, 0.45), (0.16, 0.9), 3.2, (0.9, 0.95, 1), 0.05)
    room.darken_behind(0.6, -0.1)
    return room


_ROOMS = {"studio": _studio, "window": _window, "metal": _metal, "horizon": _horizon}


@cache
def room(kind: str) -> Float:
    """A room by name, (6, 128, 256, 3) linear. About 30 ms, once a process."""
    return _softened(_ROOMS[kind]().light)


def mirrored(picture: Float) -> Float:
    """The surroundings that a scene (h, w, 3) linear suggests: what is seen continues, mirrored, behind the eye."""
    both = np.concatenate([picture, picture[:, ::-1]], 1)
    light = cv2.resize(both, (_COLUMNS, _ROWS), interpolation=cv2.INTER_AREA)
    # A picture ends at white; what shines in it is brighter than that.
    bright = np.clip((light.mean(-1, keepdims=True) - 0.62) / 0.3, 0, 1)
    light = light * (1 + 3.5 * bright * bright)
    return _softened(np.roll(light, _COLUMNS // 4, 1).astype(f32))
