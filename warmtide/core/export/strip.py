"""The way to a picture on paper: its steps side by side, each with what is said of it, and arrows between."""

from dataclasses import dataclass

import numpy as np

from ..maths.arrays import Byte
from .pages import FONT, SIZE, Entry, Laid, Spot

_MARGIN, _GAP, _LINE, _TITLE = 36.0, 26.0, 10.0, 24.0
_CELL, _ACROSS = 168.0, 6
# Lines below a picture; what is said beyond them is counted.
_MOST_LINES = 9


@dataclass(frozen=True)
class Shown:
    """One step: its picture (h, w, 3) uint8, what it is called, what makes it another than what came before; `follows` where it came of
    the step before it, and a branch begins otherwise."""

    picture: Byte
    title: str
    says: tuple[str, ...]
    follows: bool = True


def wrapped(text: str, width: float) -> list[str]:
    """A text in lines that are as wide as there is room, in points; a word that is wider stands alone."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    lines = [""]
    for word in text.split():
        longer = f"{lines[-1]} {word}".strip()
        if lines[-1] and stringWidth(longer, FONT, SIZE) > width:
            lines.append(word)
        else:
            lines[-1] = longer
    return lines


def _said(step: Shown, number: int) -> tuple[str, ...]:
    lines = [f"{number}  {step.title}"]
    for part in step.says:
        lines += wrapped(part, _CELL)
    if len(lines) > _MOST_LINES:
        lines = [*lines[: _MOST_LINES - 1], f"and {len(lines) - _MOST_LINES + 1} lines more"]
    return tuple(lines)


def strip_page(steps: list[Shown], title: str) -> Laid:
    """All steps on one page of their own size, six in a row.

    Parameters
    ----------
    steps : one at least. title : above them, "" for none.
    """
    entries = [Entry(np.ascontiguousarray(step.picture[..., :3]), _said(step, k + 1)) for k, step in enumerate(steps)]
    across = min(len(entries), _ACROSS)
    spots: list[Spot] = []
    arrows = []
    y = _MARGIN + (_TITLE if title else 0)
    for begin in range(0, len(entries), across):
        row = entries[begin : begin + across]
        high = max(_size(entry)[1] for entry in row)
        for k, entry in enumerate(row):
            wide, tall = _size(entry)
            x = _MARGIN + k * (_CELL + _GAP)
            # Lower edges stand in one line, so that what is said does.
            spots.append(Spot(entry, x + (_CELL - wide) / 2, y + high - tall, wide, tall))
            if begin + k + 1 < len(entries) and steps[begin + k + 1].follows:
                arrows.append((x + _CELL + 6, y + high / 2, _GAP - 12))
        y += high + _LINE * (max(len(entry.lines) for entry in row) + 1) + 12
    width = 2 * _MARGIN + across * _CELL + (across - 1) * _GAP
    return Laid(width, y + _MARGIN - 12, title, tuple(spots), tuple(arrows))


def _size(entry: Entry) -> tuple[float, float]:
    tall, wide = entry.picture.shape[:2]
    scale = _CELL / max(tall, wide)
    return wide * scale, tall * scale
