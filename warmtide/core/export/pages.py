"""Contact sheets on paper: pictures in columns, each with what is wished to be said of it.

Where everything stands is worked out once, in points of paper; a page is then drawn as PDF or as PNG.
"""

import io
from dataclasses import dataclass
from typing import Literal

import numpy as np
from PIL import Image, ImageDraw, ImageFont
from pydantic import BaseModel, ConfigDict, Field

from ..maths.arrays import Byte

PAPERS = {
    "a4": (595.28, 841.89),
    "a3": (841.89, 1190.55),
    "a5": (419.53, 595.28),
    "letter": (612.0, 792.0),
    "tabloid": (792.0, 1224.0),
}
_MARGIN, _GAP, _LINE, _TITLE = 36.0, 12.0, 10.0, 22.0
FONT, SIZE, _TITLE_SIZE = "Helvetica", 7.5, 13.0
# Pixels that a picture keeps on paper, an inch; points to one.
PNG_DPI = 150
_KEPT_DPI, _POINTS = 300, 72
_JPEG = 92


class SheetWish(BaseModel):
    """How a contact sheet looks."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    paper: Literal["a4", "a3", "a5", "letter", "tabloid"] = "a4"
    landscape: bool = True
    columns: int = Field(4, ge=1, le=10)
    labels: bool = True
    readings: bool = True
    recipes: bool = False
    title: str = Field("", max_length=200)


@dataclass(frozen=True)
class Entry:
    """One picture (h, w, 3) uint8 and the lines that are said of it, already chosen."""

    picture: Byte
    lines: tuple[str, ...]


@dataclass(frozen=True)
class Spot:
    """Where an entry stands on its page, in points from the upper left."""

    entry: Entry
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Laid:
    """One page: its size in points, what is on it; `arrows` as left end, height, length."""

    width: float
    height: float
    title: str
    spots: tuple[Spot, ...]
    arrows: tuple[tuple[float, float, float], ...] = ()


def laid_out(entries: list[Entry], wish: SheetWish) -> list[Laid]:
    """Entries on as many pages as they need, row by row; every row is as high as its highest picture, and no picture is cut."""
    short, long_side = PAPERS[wish.paper]
    width, height = (long_side, short) if wish.landscape else (short, long_side)
    top = _MARGIN + (_TITLE if wish.title else 0)
    wide = (width - 2 * _MARGIN - (wish.columns - 1) * _GAP) / wish.columns
    room = height - top - _MARGIN
    pages: list[list[Spot]] = [[]]
    y = top
    for begin in range(0, len(entries), wish.columns):
        row = entries[begin : begin + wish.columns]
        said = _LINE * max(len(entry.lines) for entry in row)
        sizes = []
        for entry in row:
            tall, across = entry.picture.shape[:2]
            scale = min(wide / across, max(room - said, _LINE) / tall)
            sizes.append((across * scale, tall * scale))
        high = max(size[1] for size in sizes) + said
        if y + high > height - _MARGIN + 0.5 and pages[-1]:
            pages.append([])
            y = top
        for k, (entry, (across, tall)) in enumerate(zip(row, sizes, strict=True)):
            pages[-1].append(Spot(entry, _MARGIN + k * (wide + _GAP), y, across, tall))
        y += high + _GAP
    return [Laid(width, height, wish.title, tuple(spots)) for spots in pages if spots]


def _cut(line: str, width: float) -> str:
    """A line as far as it goes."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    if stringWidth(line, FONT, SIZE) <= width:
        return line
    while line and stringWidth(f"{line}...", FONT, SIZE) > width:
        line = line[:-1]
    return f"{line}..."


def _shown(picture: Byte, width: float, dpi: int) -> Image.Image:
    """A picture with no more pixels than its place on paper shows."""
    image = Image.fromarray(picture)
    most = max(round(width / _POINTS * dpi), 1)
    return (
        image
        if image.width <= most
        else image.resize((most, max(round(image.height * most / image.width), 1)), Image.Resampling.LANCZOS)
    )


def _arrow(x: float, y: float, length: float) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """An arrow to the right as three lines."""
    tip, head = x + length, length * 0.3
    return [((x, y), (tip, y)), ((tip - head, y - head), (tip, y)), ((tip - head, y + head), (tip, y))]


def as_pdf(pages: list[Laid]) -> bytes:
    """Pages as one PDF; pictures with at most 300 pixels an inch."""
    from reportlab import rl_config
    from reportlab.lib.utils import ImageReader
    from reportlab.pdfgen.canvas import Canvas

    # Bytes as bytes: in letters they would take a quarter more.
    rl_config.useA85 = 0
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setCreator("Warm Tide")
    canvas.setTitle(pages[0].title if pages and pages[0].title else "Contact sheet")
    for page in pages:
        canvas.setPageSize((page.width, page.height))
        if page.title:
            canvas.setFont(FONT, _TITLE_SIZE)
            canvas.drawString(_MARGIN, page.height - _MARGIN - _TITLE_SIZE + 2, page.title)
        canvas.setFont(FONT, SIZE)
        for x, y, length in page.arrows:
            for (x1, y1), (x2, y2) in _arrow(x, page.height - y, length):
                canvas.line(x1, y1, x2, y2)
        for spot in page.spots:
            data = io.BytesIO()
            _shown(spot.entry.picture, spot.width, _KEPT_DPI).save(data, "JPEG", quality=_JPEG, subsampling=0)
            canvas.drawImage(ImageReader(data), spot.x, page.height - spot.y - spot.height, spot.width, spot.height)
            for k, line in enumerate(spot.entry.lines):
                canvas.drawString(
                    spot.x, page.height - spot.y - spot.height - _LINE * (k + 1) + 1.5, _cut(line, spot.width)
                )
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def as_picture(page: Laid, dpi: int = PNG_DPI) -> Byte:
    """A page (h, w, 3) uint8 on white."""
    scale = dpi / _POINTS
    sheet = Image.new("RGB", (round(page.width * scale), round(page.height * scale)), "white")
    draw = ImageDraw.Draw(sheet)
    if page.title:
        draw.text(
            (_MARGIN * scale, (_MARGIN - 2) * scale),
            page.title,
            fill="black",
            font=ImageFont.load_default(size=_TITLE_SIZE * scale),
        )
    for x, y, length in page.arrows:
        for ends in _arrow(x * scale, y * scale, length * scale):
            draw.line(ends, fill="black", width=max(round(scale), 1))
    font = ImageFont.load_default(size=SIZE * scale)
    for spot in page.spots:
        size = (max(round(spot.width * scale), 1), max(round(spot.height * scale), 1))
        sheet.paste(
            Image.fromarray(spot.entry.picture).resize(size, Image.Resampling.LANCZOS),
            (round(spot.x * scale), round(spot.y * scale)),
        )
        for k, line in enumerate(spot.entry.lines):
            draw.text(
                (spot.x * scale, (spot.y + spot.height + _LINE * k + 1) * scale),
                _cut(line, spot.width),
                fill="black",
                font=font,
            )
    return np.asarray(sheet).copy()
