"""Pages to take away: a PDF, a PNG, or a ZIP of PNGs where there are several."""

import asyncio
import io
import zipfile
from typing import Literal

from fastapi import Response

from ..core.export.pages import Laid, as_pdf, as_picture
from ..core.pictures.image import png
from .downloads import as_file


async def on_paper(pages: list[Laid], form: Literal["pdf", "png"], stem: str) -> Response:
    """Pages as a file called by its stem."""
    if form == "pdf":
        return as_file(await asyncio.to_thread(as_pdf, pages), "application/pdf", f"{stem}.pdf")
    drawn = [await asyncio.to_thread(lambda page=page: png(as_picture(page))) for page in pages]  # type: ignore[misc]
    if len(drawn) == 1:
        return as_file(drawn[0], "image/png", f"{stem}.png")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as file:
        for number, data in enumerate(drawn, 1):
            file.writestr(f"{stem}-{number}.png", data)
    return as_file(out.getvalue(), "application/zip", f"{stem}.zip")
