"""The colour profile of sRGB, and resolution as the metadata of cameras tells it."""

from functools import cache

from PIL import ExifTags, Image, ImageCms

_PER_INCH = 2


@cache
def srgb_profile() -> bytes:
    """The ICC profile of sRGB."""
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


def resolution(dpi: int) -> bytes:
    """EXIF that says how many pixels an inch has, for formats without a place of their own for it."""
    exif = Image.Exif()
    exif[ExifTags.Base.XResolution] = float(dpi)
    exif[ExifTags.Base.YResolution] = float(dpi)
    exif[ExifTags.Base.ResolutionUnit] = _PER_INCH
    return exif.tobytes()
