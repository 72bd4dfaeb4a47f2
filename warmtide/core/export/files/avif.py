"""AVIF."""

import io

from PIL import Image

from ...pictures.inside import xmp_of
from ...pictures.profile import resolution, srgb_profile
from .kind import Format, Page

# How much care is taken, 0 (most) to 10.
_SPEED = 7


def _avif(page: Page) -> bytes:
    out, wish = io.BytesIO(), page.wish
    Image.fromarray(page.eight).save(
        out, "AVIF", quality=wish.quality, speed=_SPEED, subsampling="4:4:4", exif=resolution(wish.dpi),
        icc_profile=srgb_profile() if wish.profile else None, xmp=b"" if page.inside is None else xmp_of(page.inside),
    )  # fmt: skip
    return out.getvalue()


FORMAT = Format("avif", "AVIF", "the smallest, for the web", "avif", "image/avif", _avif, lossy=True, place=4)
