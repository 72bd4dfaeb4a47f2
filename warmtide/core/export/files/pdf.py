"""PDF of one page, as large as the picture is on paper."""

import io

from PIL import Image

from .kind import Format, Page

_POINTS = 72


def _pdf(page: Page) -> bytes:
    from reportlab import rl_config
    from reportlab.lib.utils import ImageReader
    from reportlab.pdfgen.canvas import Canvas

    # Bytes as bytes: in letters they would take a quarter more.
    rl_config.useA85 = 0
    height, width = page.picture.shape[:2]
    wide, high = (side / page.wish.dpi * _POINTS for side in (width, height))
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(wide, high), pageCompression=1, invariant=1)
    canvas.setTitle(page.title or "Warm Tide")
    canvas.setCreator("Warm Tide")
    if page.inside is not None:
        canvas.setSubject(str(page.inside.get("key", "")))
    canvas.drawImage(ImageReader(Image.fromarray(page.eight)), 0, 0, wide, high, mask="auto")
    canvas.showPage()
    canvas.save()
    return out.getvalue()


FORMAT = Format(
    "pdf", "PDF", "one page in the picture's size on paper; every pixel", "pdf", "application/pdf", _pdf, place=6
)
