"""JPEG."""

import io

from PIL import Image

from ...pictures.inside import xmp_of
from ...pictures.profile import srgb_profile
from .kind import Format, Page

# From this quality on colour is kept at every pixel.
_FULL_COLOUR = 90


def _jpeg(page: Page) -> bytes:
    out, wish = io.BytesIO(), page.wish
    Image.fromarray(page.eight).save(
        out, "JPEG", quality=wish.quality, dpi=(wish.dpi, wish.dpi), optimize=True,
        subsampling=0 if wish.quality >= _FULL_COLOUR else 2, icc_profile=srgb_profile() if wish.profile else None,
        xmp=b"" if page.inside is None else xmp_of(page.inside),
    )  # fmt: skip
    return out.getvalue()


FORMAT = Format("jpeg", "JPEG", "small, read everywhere", "jpg", "image/jpeg", _jpeg, alpha=False, lossy=True, place=2)
