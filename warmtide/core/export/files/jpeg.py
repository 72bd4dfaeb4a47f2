"""JPEG."""

import io
from typing import Any

from PIL import Image

from ...pictures.inside import xmp_of
from ...pictures.profile import srgb_profile
from .kind import Format, Page

# From this quality on colour is kept at every pixel.
_FULL_COLOUR = 90
# What one segment holds.
_ROOM = 65_500


def _packet(inside: dict[str, Any]) -> bytes:
    """What the file says of itself, without the pictures that were made by hand where they have no room in this format."""
    whole = xmp_of(inside)
    return whole if len(whole) <= _ROOM else xmp_of({name: value for name, value in inside.items() if name != "parts"})


def _jpeg(page: Page) -> bytes:
    out, wish = io.BytesIO(), page.wish
    Image.fromarray(page.eight).save(
        out, "JPEG", quality=wish.quality, dpi=(wish.dpi, wish.dpi), optimize=True,
        subsampling=0 if wish.quality >= _FULL_COLOUR else 2, icc_profile=srgb_profile() if wish.profile else None,
        xmp=b"" if page.inside is None else _packet(page.inside),
    )  # fmt: skip
    return out.getvalue()


FORMAT = Format("jpeg", "JPEG", "small, read everywhere", "jpg", "image/jpeg", _jpeg, alpha=False, lossy=True, place=2)
