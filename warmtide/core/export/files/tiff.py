"""TIFF with 8 or 16 bits a channel, without loss."""

import io
from typing import Any

from ...pictures.inside import xmp_of
from ...pictures.profile import srgb_profile
from .kind import Format, Page

_XMP_TAG, _BYTE = 700, 1


def _tiff(page: Page) -> bytes:
    import tifffile

    out, wish = io.BytesIO(), page.wish
    more: list[tuple[Any, ...]] = []
    if page.inside is not None:
        packet = xmp_of(page.inside)
        more.append((_XMP_TAG, _BYTE, len(packet), packet, True))
    tifffile.imwrite(
        out, page.picture, photometric="rgb", compression="zlib", predictor=True, resolution=(wish.dpi, wish.dpi), resolutionunit="INCH",
        iccprofile=srgb_profile() if wish.profile else None, extratags=more, metadata=None, software="Warm Tide",
        extrasamples=["UNASSALPHA"] if page.picture.shape[2] == 4 else None,
    )  # fmt: skip
    return out.getvalue()


FORMAT = Format(
    "tiff",
    "TIFF",
    "for print: every pixel, 8 or 16 bits, its size on paper",
    "tif",
    "image/tiff",
    _tiff,
    deep=True,
    place=5,
)
