"""The sheet as a page."""

from ..finish.sheet import contact_sheet, pdf_page
from .kind import Exporter, Harvest


def _page(harvest: Harvest) -> bytes:
    return pdf_page(contact_sheet(harvest.source(), harvest.finished, harvest.columns, harvest.cell))


EXPORTER = Exporter("sheet-pdf", "Sheet as PDF", "one page", "pdf", "application/pdf", _page, place=2)
