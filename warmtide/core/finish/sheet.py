"""A labelled contact sheet of a sweep, source first."""

import io

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from ..maths.arrays import Byte

_GREY = (119, 119, 119)
_TEXT = (240, 240, 240)
_GAP, _BAR, _MARGIN = 8, 20, 16


def contact_sheet(source: Byte, takes: list[tuple[str, Byte]], columns: int, cell: int = 320) -> Byte:
    """Pictures in rows of `columns` on neutral grey, each under its label; the source stands first, alone.

    `cell` is the long side of a picture on the sheet; pictures are never enlarged.
    """
    small = [(label, _shrunk(picture, cell)) for label, picture in [("source", source), *takes]]
    width = max(p.shape[1] for _, p in small)
    height = max(p.shape[0] for _, p in small) + _BAR
    columns = max(1, min(columns, len(takes)))
    rows = -(-len(takes) // columns)
    size = (
        2 * _MARGIN + (columns + 1) * width + columns * _GAP,
        2 * _MARGIN + max(rows, 1) * height + (max(rows, 1) - 1) * _GAP,
    )
    sheet = Image.new("RGB", size, _GREY)
    draw = ImageDraw.Draw(sheet)
    font = ImageFont.load_default(size=13)
    for i, (label, picture) in enumerate(small):
        row, column = (0, 0) if i == 0 else ((i - 1) // columns, (i - 1) % columns + 1)
        x = _MARGIN + column * (width + _GAP)
        y = _MARGIN + row * (height + _GAP)
        draw.text((x, y), _cut(label, font, width), fill=_TEXT, font=font)
        sheet.paste(Image.fromarray(picture), (x, y + _BAR))
    return np.asarray(sheet).copy()


def _cut(label: str, font: ImageFont.FreeTypeFont | ImageFont.ImageFont, width: int) -> str:
    """The label as far as it goes into a cell."""
    if font.getlength(label) <= width:
        return label
    while label and font.getlength(f"{label}\u2026") > width:
        label = label[:-1]
    return f"{label}\u2026"


def pdf_page(sheet: Byte, dpi: int = 150) -> bytes:
    """A sheet (h, w, 3) uint8 as a PDF of one page in the sheet's own size."""
    out = io.BytesIO()
    Image.fromarray(sheet).save(out, "PDF", resolution=dpi, quality=92)
    return out.getvalue()


def _shrunk(picture: Byte, side: int) -> Byte:
    image = Image.fromarray(picture)
    image.thumbnail((side, side), Image.Resampling.LANCZOS)
    return np.asarray(image).copy()
