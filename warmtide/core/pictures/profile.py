"""The colour profile of sRGB, and resolution as the metadata of cameras tells it."""

import struct
from functools import cache

from PIL import ExifTags, Image, ImageCms

_PER_INCH = 2
# Where a profile's head says when it was made (six numbers of 16 bits), and what ours says.
_DATE = slice(24, 36)
_MADE = struct.pack(">6H", 2026, 1, 1, 0, 0, 0)


@cache
def srgb_profile() -> bytes:
    """The ICC profile of sRGB, the same bytes on every day."""
    made = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    return made[: _DATE.start] + _MADE + made[_DATE.stop :]


def resolution(dpi: int) -> bytes:
    """EXIF that says how many pixels an inch has, for formats without a place of their own for it."""
    exif = Image.Exif()
    exif[ExifTags.Base.XResolution] = float(dpi)
    exif[ExifTags.Base.YResolution] = float(dpi)
    exif[ExifTags.Base.ResolutionUnit] = _PER_INCH
    return exif.tobytes()
