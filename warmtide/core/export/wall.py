"""Pictures on a wall: rows that fill the width, each picture as large in its row as it is wished."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ..maths.arrays import Byte
from ..model.text import Line
from .pages import PAPERS, Entry, Laid, Spot
from .strip import wrapped

_MARGIN, _GAP, _LINE, _TITLE = 36.0, 10.0, 10.0, 24.0
# The usual height of a picture on paper, in shares of the width there is.
_USUAL = 0.24


class WallWish(BaseModel):
    """How a wall looks on paper."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    title: Line = Field("", max_length=200)
    paper: Literal["a4", "a3", "a5", "letter", "tabloid"] = "a3"
    landscape: bool = True


@dataclass(frozen=True)
class Hung:
    """One picture: (h, w, 3) uint8, its size as a share of what is usual, what stands below it."""

    picture: Byte
    size: float
    caption: str


@dataclass(frozen=True)
class Placed:
    """Where the picture of an index stands."""

    index: int
    x: float
    y: float
    width: float
    height: float


def rows(
    shapes: list[tuple[float, float]], width: float, usual: float, gap: float, below: float = 0.0
) -> list[list[Placed]]:
    """Pictures in rows that fill a width; the last row is not enlarged to fill it.

    Parameters
    ----------
    shapes : of each picture its width over its height, and its size as a share of what is usual. usual : the height of one of size 1.
    gap : between pictures and rows. below : room under each row.

    Returns
    -------
    list of rows : in a row all stand on one line at their lower edge; heights go as sizes do.
    """
    found: list[list[Placed]] = []
    row: list[int] = []
    y = 0.0

    def closed(members: list[int], last: bool) -> float:
        nonlocal y
        wide = sum(shapes[k][0] * shapes[k][1] * usual for k in members)
        room = width - gap * (len(members) - 1)
        scale = room / wide if not last or wide > room else 1.0
        high = max(shapes[k][1] for k in members) * usual * scale
        placed, x = [], 0.0
        for k in members:
            aspect, size = shapes[k]
            tall = size * usual * scale
            placed.append(Placed(k, x, y + high - tall, aspect * tall, tall))
            x += aspect * tall + gap
        found.append(placed)
        return high

    for index, (aspect, size) in enumerate(shapes):
        row.append(index)
        wide = sum(shapes[k][0] * shapes[k][1] * usual for k in row) + gap * (len(row) - 1)
        if wide >= width:
            # Without the newest the row is nearer to its width.
            without = wide - aspect * size * usual - gap
            if len(row) > 1 and wide - width > width - without:
                row.pop()
                y += closed(row, False) + gap + below
                row = [index]
            else:
                y += closed(row, False) + gap + below
                row = []
    if row:
        closed(row, True)
    return found


def wall_pages(hung: list[Hung], wish: WallWish) -> list[Laid]:
    """A wall on as many pages as its rows need; a row that is higher than a page is made as high as the page."""
    short, long_side = PAPERS[wish.paper]
    width, height = (long_side, short) if wish.landscape else (short, long_side)
    inner = width - 2 * _MARGIN
    top = _MARGIN + (_TITLE if wish.title else 0)
    shapes = [(one.picture.shape[1] / one.picture.shape[0], one.size) for one in hung]
    pages: list[list[Spot]] = [[]]
    y = top
    for row in rows(shapes, inner, inner * _USUAL, _GAP):
        lines = {p.index: tuple(wrapped(hung[p.index].caption, p.width)) if hung[p.index].caption else () for p in row}
        said = _LINE * max(len(found) for found in lines.values())
        high = max(p.height for p in row)
        room = height - top - _MARGIN - said
        scale = min(1.0, room / high)
        if y + high * scale + said > height - _MARGIN + 0.5 and pages[-1]:
            pages.append([])
            y = top
        for p in row:
            entry = Entry(np.ascontiguousarray(hung[p.index].picture[..., :3]), lines[p.index])
            drop = (high - p.height) * scale
            pages[-1].append(Spot(entry, _MARGIN + p.x * scale, y + drop, p.width * scale, p.height * scale))
        y += high * scale + said + _GAP
    return [Laid(width, height, wish.title, tuple(spots)) for spots in pages if spots]
