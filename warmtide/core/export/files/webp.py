"""WebP."""

import io

from PIL import Image

from ...pictures.inside import xmp_of
from ...pictures.profile import resolution, srgb_profile
from .kind import Format, Page

# A quality of 100 keeps every pixel.
_LOSSLESS = 100


def _webp(page: Page) -> bytes:
    out, wish = io.BytesIO(), page.wish
    Image.fromarray(page.eight).save(
        out, "WEBP", quality=wish.quality, lossless=wish.quality >= _LOSSLESS, method=4, exif=resolution(wish.dpi),
        icc_profile=srgb_profile() if wish.profile else None, xmp=b"" if page.inside is None else xmp_of(page.inside),
    )  # fmt: skip
    return out.getvalue()


FORMAT = Format(
    "webp",
    "WebP",
    "smaller than JPEG, with transparency; 100 keeps every pixel",
    "webp",
    "image/webp",
    _webp,
    lossy=True,
    place=3,
)
