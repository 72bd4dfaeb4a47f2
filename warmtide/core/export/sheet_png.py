"""The sheet as a picture."""

from ..finish.sheet import contact_sheet
from ..pictures.image import png
from .kind import Exporter, Harvest


def _sheet(harvest: Harvest) -> bytes:
    return png(contact_sheet(harvest.source(), harvest.finished, harvest.columns, harvest.cell))


EXPORTER = Exporter("sheet-png", "Sheet as PNG", "labelled, source first", "png", "image/png", _sheet, place=1)
