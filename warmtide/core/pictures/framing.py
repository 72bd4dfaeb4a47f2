"""How a source is framed: turned, straightened, cropped, set on its ground, sized. The original stays as it came."""

import re
from dataclasses import dataclass
from typing import Literal, Self

import cv2
import numpy as np
from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from ..maths.arrays import AnyArray, Byte, f32
from .resampling import Way, interpolation

_LEAST_SHARE = 0.02
# The original is read with this many times the pixels that the framed picture has.
_SPARE = 2


def _hex(value: str, whose: str) -> str:
    if not re.fullmatch(r"#[0-9a-fA-F]{6}", value):
        raise ValueError(f"a {whose} colour looks like #f4efe6; {value!r} does not")
    return value.lower()


class NewColour(BaseModel):
    """A part's colour and what it becomes, as #rrggbb."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    part: str
    now: str

    @field_validator("part", "now")
    @classmethod
    def _colour(cls, value: str) -> str:
        return _hex(value, "part's")


class Framing(BaseModel):
    """Part of a source's record.

    Attributes
    ----------
    ground : behind transparency and around the picture, as #rrggbb. turn : degrees to the right. flip : mirrored from
    left to right, after the turn. straighten : degrees, turned about the middle; what comes in at the corners is
    ground. left, top, right, bottom : the crop, in shares of the turned picture. margin : ground around the crop, in
    shares of its long side. shape : width over height of the whole, or None for the crop's own; `fit` says how it
    is reached: by ground beside the picture, or by stretching it. scale, shift_x, shift_y : where the crop lies on its
    ground: its size, 1 as cropped, and its way from the middle in shares of the frame's width and height.
    recolour : parts in other colours (see `recolour`). resampling : how pixels are made at another
    size.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    ground: str = "#ffffff"
    turn: Literal[0, 90, 180, 270] = 0
    flip: bool = False
    straighten: float = Field(0.0, ge=-20, le=20)
    left: float = Field(0.0, ge=0, le=1)
    top: float = Field(0.0, ge=0, le=1)
    right: float = Field(1.0, ge=0, le=1)
    bottom: float = Field(1.0, ge=0, le=1)
    margin: float = Field(0.0, ge=0, le=0.5)
    shape: float | None = Field(None, ge=0.1, le=10)
    fit: Literal["pad", "stretch"] = "pad"
    scale: float = Field(1.0, ge=0.1, le=3)
    shift_x: float = Field(0.0, ge=-1, le=1)
    shift_y: float = Field(0.0, ge=-1, le=1)
    recolour: tuple[NewColour, ...] = Field((), max_length=24)
    resampling: Way = "auto"

    @field_validator("ground")
    @classmethod
    def _colour(cls, value: str) -> str:
        return _hex(value, "ground")

    @property
    def new_colours(self) -> tuple[tuple[str, str], ...]:
        """Pairs of a part's colour and its new one."""
        return tuple((change.part, change.now) for change in self.recolour)

    @model_validator(mode="after")
    def _something_left(self) -> Self:
        if self.right - self.left < _LEAST_SHARE or self.bottom - self.top < _LEAST_SHARE:
            raise ValueError("the crop leaves less than a fiftieth of a side; leave more of the picture")
        return self


@dataclass(frozen=True)
class _Plan:
    """Pixels of the crop in the turned picture, and its size and place in the output."""

    rows: slice
    columns: slice
    whole: tuple[float, float]
    stretch: tuple[float, float]


def _planned(height: int, width: int, framing: Framing) -> _Plan:
    if framing.turn in (90, 270):
        height, width = width, height
    top, bottom = round(framing.top * height), max(round(framing.bottom * height), round(framing.top * height) + 1)
    left, right = round(framing.left * width), max(round(framing.right * width), round(framing.left * width) + 1)
    tall, wide = float(bottom - top), float(right - left)
    pad = 2 * framing.margin * max(tall, wide)
    whole_tall, whole_wide, stretch = tall + pad, wide + pad, (1.0, 1.0)
    if framing.shape is not None:
        now = whole_wide / whole_tall
        if framing.fit == "stretch":
            # Stretching keeps the area, so neither side is simply enlarged.
            change = (framing.shape / now) ** 0.5
            stretch = (1 / change, change)
            whole_tall, whole_wide = whole_tall / change, whole_wide * change
        elif framing.shape > now:
            whole_wide = whole_tall * framing.shape
        else:
            whole_tall = whole_wide / framing.shape
    return _Plan(slice(top, bottom), slice(left, right), (whole_tall, whole_wide), stretch)


def framed_natural(height: int, width: int, framing: Framing) -> tuple[int, int]:
    """Height and width of a picture as framed, before it is sized."""
    tall, wide = _planned(height, width, framing).whole
    return max(round(tall), 1), max(round(wide), 1)


def framed_shape(height: float, width: float, size: int) -> tuple[int, int]:
    """Height and width with a long side of `size` and the picture's own shape, at least 8 px a side."""
    scale = size / max(height, width)
    return max(8, round(height * scale)), max(8, round(width * scale))


def _turned(rgba: Byte, framing: Framing) -> Byte:
    out = np.rot90(rgba, -(framing.turn // 90)) if framing.turn else rgba
    return np.ascontiguousarray(out[:, ::-1] if framing.flip else out)


def _straightened(weighted: AnyArray, degrees: float) -> AnyArray:
    height, width = weighted.shape[:2]
    turn = cv2.getRotationMatrix2D(((width - 1) / 2, (height - 1) / 2), degrees, 1)
    return cv2.warpAffine(weighted, turn, (width, height), flags=cv2.INTER_CUBIC, borderValue=(0, 0, 0, 0))


def framed_points(height: int, width: int, framing: Framing) -> AnyArray:
    """Where points of an original (height, width) in pixels come to lie when it is framed: a (2, 3) affine matrix.

    It gives shares of the framed picture's long side, which hold at every size.
    """
    plan = _planned(height, width, framing)
    turns = {
        0: ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)), 90: ((0.0, -1.0, height), (1.0, 0.0, 0.0)),
        180: ((-1.0, 0.0, width), (0.0, -1.0, height)), 270: ((0.0, 1.0, 0.0), (-1.0, 0.0, width)),
    }  # fmt: skip
    whole = np.vstack([turns[framing.turn], (0, 0, 1)])
    if framing.turn in (90, 270):
        height, width = width, height
    if framing.flip:
        whole = np.array([(-1, 0, width), (0, 1, 0), (0, 0, 1)]) @ whole
    if framing.straighten:
        about = cv2.getRotationMatrix2D((width / 2, height / 2), framing.straighten, 1)
        whole = np.vstack([about, (0, 0, 1)]) @ whole
    part = (plan.rows.stop - plan.rows.start, plan.columns.stop - plan.columns.start)
    across = np.eye(3)
    for axis, (side, start, shift) in enumerate(
        ((part[1], plan.columns.start, framing.shift_x), (part[0], plan.rows.start, framing.shift_y))
    ):
        out, scale = plan.whole[1 - axis], plan.stretch[1 - axis] * framing.scale
        across[axis, axis], across[axis, 2] = scale, (out - side * scale) / 2 + shift * out - start * scale
    matrix: AnyArray = (across @ whole)[:2] / max(plan.whole)
    return matrix


def original_side(height: int, width: int, framing: Framing, size: int) -> int:
    """Long side of the original (height, width) that is enough to frame it at `size` with pixels to spare."""
    return round(_SPARE * size * max(height, width) / max(_planned(height, width, framing).whole))


def frame(rgba: Byte, framing: Framing, size: int, whole: tuple[int, int] | None = None) -> Byte:
    """The picture that the engine sees: (h, w, 3) with a long side of `size` pixels.

    By default shrinking averages areas and enlarging is Lanczos. Colour is weighted by alpha, so no fringe of
    hidden colour appears at the edge of a cut-out.

    Parameters
    ----------
    whole : height and width of the original, where `rgba` is a smaller reading of it.
    """
    plan = _planned(rgba.shape[0], rgba.shape[1], framing)
    tall, wide = whole or (rgba.shape[0], rgba.shape[1])
    height, width = framed_shape(*_planned(tall, wide, framing).whole, size)
    part = rgba
    if framing.turn or framing.flip:
        part = _turned(part, framing)
    if not framing.straighten:
        part = part[plan.rows, plan.columns]
    opaque = not framing.straighten and bool((part[..., 3] == 255).all())
    still = plan.stretch == (1, 1) and framing.scale == 1 and framing.shift_x == 0 and framing.shift_y == 0
    if opaque and still and (height, width) == part.shape[:2] and plan.whole == part.shape[:2]:
        return np.ascontiguousarray(part[..., :3])
    laid: AnyArray = np.ascontiguousarray(part[..., :3]) if opaque else _weighted(part)
    if framing.straighten:
        laid = _straightened(laid, framing.straighten)[plan.rows, plan.columns]
    inner = tuple(
        max(round(side * stretch * framing.scale * out / of), 1)
        for side, stretch, out, of in zip(laid.shape, plan.stretch, (height, width), plan.whole, strict=False)
    )
    if inner != laid.shape[:2]:
        shrinks = inner[0] * inner[1] < laid.shape[0] * laid.shape[1]
        how = interpolation(framing.resampling, shrinks)
        laid = cv2.resize(np.ascontiguousarray(laid), inner[::-1], interpolation=how)
    top = (height - inner[0]) // 2 + round(framing.shift_y * height)
    left = (width - inner[1]) // 2 + round(framing.shift_x * width)
    return _on_ground(laid, top, left, framing.ground, (height, width))


def _weighted(rgba: Byte) -> AnyArray:
    """Colour times alpha, and alpha 0..1: what may be resized and turned without fringes."""
    alpha = rgba[..., 3:].astype(f32) / f32(255)
    return np.dstack([rgba[..., :3].astype(f32) * alpha, alpha])


def framed_cover(rgba: Byte, framing: Framing, size: int, whole: tuple[int, int] | None = None) -> Byte | None:
    """How solid the framed picture is, (h, w), 255 where its ground is hidden; None where nothing of it is transparent."""
    if bool((rgba[..., 3] == 255).all()):
        return None
    white = np.full_like(rgba, 255)
    white[..., 3] = rgba[..., 3]
    return np.ascontiguousarray(frame(white, framing.model_copy(update={"ground": "#000000"}), size, whole)[..., 0])


def _on_ground(laid: AnyArray, top: int, left: int, ground: str, shape: tuple[int, int]) -> Byte:
    """A picture, with or without weights, laid on a ground colour; what reaches over the edge is cut."""
    out = np.empty((*shape, 3), np.uint8)
    colour = np.array([int(ground[i : i + 2], 16) for i in (1, 3, 5)], f32)
    out[:] = colour.astype(np.uint8)
    first = (max(top, 0), max(left, 0))
    last = (min(top + laid.shape[0], shape[0]), min(left + laid.shape[1], shape[1]))
    if first[0] >= last[0] or first[1] >= last[1]:
        return out
    seen = laid[first[0] - top : last[0] - top, first[1] - left : last[1] - left]
    if seen.shape[2] == 4:
        cover = np.clip(seen[..., 3:], 0, 1)
        seen = np.clip(seen[..., :3] + colour * (1 - cover) + f32(0.5), 0, 255).astype(np.uint8)
    out[first[0] : last[0], first[1] : last[1]] = seen
    return out


def cropped_to(picture: Byte, height: int, width: int) -> Byte:
    """A picture cropped around its middle and resized to (height, width), (h, w, 3) or (h, w)."""
    if picture.shape[:2] == (height, width):
        return picture
    scale = max(height / picture.shape[0], width / picture.shape[1])
    rows, columns = min(round(height / scale), picture.shape[0]), min(round(width / scale), picture.shape[1])
    top, left = (picture.shape[0] - rows) // 2, (picture.shape[1] - columns) // 2
    part = np.ascontiguousarray(picture[top : top + rows, left : left + columns])
    return cv2.resize(part, (width, height), interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_LANCZOS4)
