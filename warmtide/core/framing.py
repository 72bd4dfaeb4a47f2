"""How a source is framed: its size and the ground behind its transparency."""

import re

import cv2
import numpy as np
from pydantic import BaseModel, ConfigDict, field_validator

from .arrays import Byte, f32


class Framing(BaseModel):
    """Part of a source's record; the original file stays as it was brought in.

    `ground` lies behind transparency, as #rrggbb.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    ground: str = "#ffffff"

    @field_validator("ground")
    @classmethod
    def _colour(cls, value: str) -> str:
        if not re.fullmatch(r"#[0-9a-fA-F]{6}", value):
            raise ValueError(f"a ground colour looks like #f4efe6; {value!r} does not")
        return value.lower()


def framed_shape(height: int, width: int, size: int) -> tuple[int, int]:
    """Height and width with a long side of `size` and the picture's own shape, at least 8 px a side."""
    scale = size / max(height, width)
    return max(8, round(height * scale)), max(8, round(width * scale))


def frame(rgba: Byte, framing: Framing, size: int) -> Byte:
    """The picture that the engine sees: (h, w, 3) with a long side of `size` pixels.

    Shrinking averages areas; enlarging is Lanczos. Colour is weighted by alpha, so no fringe of hidden
    colour appears at the edge of a cut-out.
    """
    height, width = framed_shape(rgba.shape[0], rgba.shape[1], size)
    shrink = height * width < rgba.shape[0] * rgba.shape[1]
    how = cv2.INTER_AREA if shrink else cv2.INTER_LANCZOS4
    if (height, width) == rgba.shape[:2] and (rgba[..., 3] == 255).all():
        return np.ascontiguousarray(rgba[..., :3])
    alpha = rgba[..., 3:].astype(f32) / f32(255)
    weighted = np.dstack([rgba[..., :3].astype(f32) * alpha, alpha])
    if (height, width) != rgba.shape[:2]:
        weighted = cv2.resize(weighted, (width, height), interpolation=how)
    ground = np.array([int(framing.ground[i : i + 2], 16) for i in (1, 3, 5)], f32)
    cover = np.clip(weighted[..., 3:], 0, 1)
    flat = weighted[..., :3] + ground * (1 - cover)
    return np.clip(flat + f32(0.5), 0, 255).astype(np.uint8)
