"""A picture as curves, by what it is."""

from typing import Literal, get_args

import numpy as np

from ...maths.arrays import Byte, f32
from ...model.errors import BadInput
from ...understanding.kind import guess_kind
from .areas import MOST_COLOURS, traced_areas
from .drawing import Drawing
from .lines import traced_lines
from .outlines import traced_outlines

As = Literal["areas", "lines", "outlines"]
LONGEST = 4096


def flattened(rgba: Byte) -> Byte:
    """A picture (h, w, 4) uint8 on white, (h, w, 3)."""
    share = rgba[..., 3:].astype(f32) / f32(255)
    return np.asarray(rgba[..., :3] * share + f32(255) * (1 - share) + f32(0.5), np.uint8)


def as_what(rgb: Byte) -> As:
    """How a picture (h, w, 3) uint8 is best traced: a sketch by its lines, all else by its areas."""
    opaque = np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)])
    return "lines" if guess_kind(opaque) == "sketch" else "areas"


def traced(rgb: Byte, how: str | None = None, colours: int | None = None, title: str = "") -> Drawing:
    """A picture (h, w, 3) uint8 sRGB as curves.

    Parameters
    ----------
    how : areas, lines or outlines; None for what fits its kind. colours : of areas, 2 to 32; None for as many as it has.

    Raises
    ------
    BadInput : there is no such way, too many colours, or the picture is larger than 4096 px.
    """
    if max(rgb.shape[:2]) > LONGEST:
        raise BadInput(f"Pictures up to {LONGEST} px are traced; make this one smaller first, curves have no size.")
    if how is not None and how not in get_args(As):
        raise BadInput(f"Nothing is traced as {how[:60]!r}; use one of {', '.join(get_args(As))}.")
    if colours is not None and not 2 <= colours <= MOST_COLOURS:
        raise BadInput(f"Areas have 2 to {MOST_COLOURS} colours; {colours} is not in that range.")
    chosen = how or as_what(rgb)
    if chosen == "lines":
        return traced_lines(rgb, title)
    if chosen == "outlines":
        return traced_outlines(rgb, title)
    return traced_areas(rgb, colours, title)
