"""Reading picture files that may be hostile, and writing takes.

Pictures inside the program are 8 bit sRGB: (h, w, 3), or (h, w, 4) with straight alpha for a source as it
was brought in. Everything else (CMYK, 16 bit, ICC profiles, EXIF turns) is converted here, once.
"""

import io
import json
import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import ExifTags, Image, ImageCms, PngImagePlugin

from ..maths.arrays import Byte
from ..model.errors import BadInput
from .inside import RECIPE_KEYWORD
from .profile import srgb_profile
from .svg import drawn_svg, looks_like_svg

FILE_LIMIT = 64 * 1024 * 1024
SIDE_LIMIT = 16384
PIXEL_LIMIT = 100_000_000
SIDE_LEAST = 8
_FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "AVIF", "GIF", "BMP")
_ACCEPTED = "use PNG, JPEG, WebP, TIFF, AVIF or SVG"
# Above so many pixels a picture is made smaller while it is read, where less of it is enough.
_LARGE = 24_000_000
# What sets a picture upright, by what the camera noted.
_TURNS = {
    2: Image.Transpose.FLIP_LEFT_RIGHT, 3: Image.Transpose.ROTATE_180, 4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE, 6: Image.Transpose.ROTATE_270, 7: Image.Transpose.TRANSVERSE, 8: Image.Transpose.ROTATE_90,
}  # fmt: skip
# Rows that are converted at once.
_ROWS = 256
# Our own size checks say what is wrong in one sentence; the library's would be a warning or a trace.
Image.MAX_IMAGE_PIXELS = None
# What is wrong with a file is told by what comes of it.
warnings.filterwarnings("ignore", module="PIL")


@dataclass(frozen=True)
class Picture:
    """A decoded file.

    Attributes
    ----------
    rgba : (h, w, 4) uint8 sRGB, straight alpha. format : the file's. notes : what was converted, in words.
    whole : height and width of the picture in the file; larger than `rgba` where less was asked for.
    """

    rgba: Byte
    format: str
    notes: tuple[str, ...] = ()
    whole: tuple[int, int] = (0, 0)

    def __post_init__(self) -> None:
        if self.whole == (0, 0):
            object.__setattr__(self, "whole", self.rgba.shape[:2])

    @property
    def has_alpha(self) -> bool:
        return bool((self.rgba[..., 3] < 255).any())


def decode(data: bytes, side: int | None = None) -> Picture:
    """Decode a picture file, or raise `BadInput` with one sentence.

    Files over 64 MB, over 16,384 px a side or 100 megapixels are refused before their pixels are read.

    Parameters
    ----------
    side : the long side that is enough. A large JPEG is then read at a half, a quarter or an eighth, still with at
        least that many pixels (24 megapixels in .15 s instead of .6), an SVG is drawn at it, and of other files over 24
        megapixels a whole fraction is kept; smaller ones are read whole. None for all of it. 100 megapixels need 1 GB.
    """
    if not data:
        raise BadInput("The file is empty; choose a picture file.")
    if len(data) > FILE_LIMIT:
        raise BadInput(f"The file has {len(data) / 1e6:.0f} MB; at most {FILE_LIMIT // 1024**2} MB can be brought in.")
    if looks_like_svg(data):
        rgba, whole, said = drawn_svg(data, side)
        return Picture(rgba, "SVG", ("Drawn as large as each take needs it.", *said), whole)
    image = _opened(data)
    width, height = image.size
    if max(width, height) > SIDE_LIMIT or width * height > PIXEL_LIMIT:
        raise BadInput(
            f"The picture has {width} x {height} pixels; at most {SIDE_LIMIT} a side and "
            f"{PIXEL_LIMIT // 10**6} megapixels can be brought in."
        )
    if min(width, height) < SIDE_LEAST:
        raise BadInput(f"The picture has only {width} x {height} pixels; at least {SIDE_LEAST} a side are needed.")
    try:
        if side is not None and image.format == "JPEG":
            image.draft(image.mode, tuple(max(round(v * side / max(width, height)), 1) for v in (width, height)))  # type: ignore[arg-type]
        image.load()
        return _converted(image, (width, height), side)
    except MemoryError:
        raise BadInput(
            "The picture takes more memory to read than there is; save it smaller and bring it in."
        ) from None
    except Exception:
        # A damaged file makes the decoders of nine formats raise whatever they come upon; none of it says more than this.
        raise BadInput("The picture file is damaged or cut short; save it again and bring it in.") from None


def _opened(data: bytes) -> Image.Image:
    try:
        return Image.open(io.BytesIO(data), formats=_FORMATS)
    except Exception:
        raise BadInput(f"This is not a picture that can be read; {_ACCEPTED}.") from None


def _converted(image: Image.Image, whole: tuple[int, int], side: int | None) -> Picture:
    notes = []
    frames = getattr(image, "n_frames", 1)
    if frames > 1:
        notes.append(f"The first of {frames} frames is used.")
    format_name = image.format or ""
    profile = image.info.get("icc_profile")
    turn = image.getexif().get(ExifTags.Base.Orientation, 1)
    if image.mode in ("I;16", "I;16B", "I;16L", "I", "F"):
        image = _eight_bit(image)
        notes.append("Reduced from 16 to 8 bits a channel.")
    if side is not None:
        image = _smaller(image, side)
    if turn in _TURNS:
        image = image.transpose(_TURNS[turn])
        notes.append("Turned as the camera noted.")
        if turn >= 5:
            whole = (whole[1], whole[0])
    alpha = image.convert("RGBA").getchannel("A") if "A" in image.getbands() or "transparency" in image.info else None
    if image.mode == "P" or image.mode == "1":
        image = image.convert("RGB")
    if profile and profile != srgb_profile():
        converted = _to_srgb(image, profile)
        if converted is not None:
            image = converted
            notes.append("Converted from its colour profile to sRGB.")
    if image.mode == "CMYK":
        notes.append("Converted from CMYK to sRGB.")
    if image.mode != "RGB":
        image = image.convert("RGB")
    rgba = np.empty((image.height, image.width, 4), np.uint8)
    for top in range(0, image.height, _ROWS):
        rows = image.crop((0, top, image.width, min(top + _ROWS, image.height)))
        rgba[top : top + _ROWS, :, :3] = np.asarray(rows)
    rgba[..., 3] = 255 if alpha is None else np.asarray(alpha)
    return Picture(rgba, format_name, tuple(notes), (whole[1], whole[0]))


def _smaller(image: Image.Image, side: int) -> Image.Image:
    """A very large picture in whole fractions of its size, still with `side` pixels: what is whole only once is not copied."""
    times = max(image.size) // max(side, 1)
    if image.width * image.height <= _LARGE or times < 2:
        return image
    clear = "transparency" in image.info or "A" in image.getbands()
    mode = "RGBA" if clear else "CMYK" if image.mode == "CMYK" else "RGB"
    small = Image.new(mode, tuple(-(-side // times) for side in image.size))  # type: ignore[arg-type]
    # In strips: a copy of the whole in another form would take as much memory again.
    rows = times * max(_ROWS // times, 1)
    for top in range(0, image.height, rows):
        strip = image.crop((0, top, image.width, min(top + rows, image.height))).convert(mode)
        # Colours under clear pixels must not show in the mean.
        strip = strip.convert("RGBa").reduce(times).convert("RGBA") if clear else strip.reduce(times)
        small.paste(strip, (0, top // times))
    small.info = {name: value for name, value in image.info.items() if name != "transparency"}
    return small


def _eight_bit(image: Image.Image) -> Image.Image:
    """A grey picture of 16 bits, or of fractions, with 8."""
    top = 65535.0
    if image.mode == "F":
        top = 65535.0 if float(image.getextrema()[1]) > 1 else 1.0  # type: ignore[arg-type]
    small = np.empty((image.height, image.width), np.uint8)
    for row in range(0, image.height, _ROWS):
        values = np.asarray(image.crop((0, row, image.width, min(row + _ROWS, image.height)))).astype(np.float64)
        small[row : row + _ROWS] = np.clip(np.nan_to_num(values) / top * 255 + 0.5, 0, 255).astype(np.uint8)
    return Image.fromarray(small)


def _to_srgb(image: Image.Image, profile: bytes) -> Image.Image | None:
    try:
        given = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        base = image if image.mode in ("RGB", "CMYK", "L") else image.convert("RGB")
        return ImageCms.profileToProfile(base, given, ImageCms.createProfile("sRGB"), outputMode="RGB")
    except Exception:
        # A profile that can't be read is passed over, as browsers do.
        return None


def png(picture: Byte, recipe: dict[str, Any] | None = None) -> bytes:
    """PNG of an 8 bit picture tagged as sRGB, with a recipe inside (see docs/formats.md)."""
    info = PngImagePlugin.PngInfo()
    info.add(b"sRGB", b"\x00")
    if recipe is not None:
        info.add_itxt(RECIPE_KEYWORD, json.dumps(recipe, sort_keys=True, ensure_ascii=False))
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "PNG", pnginfo=info, compress_level=2)
    return out.getvalue()


def webp(picture: Byte, side: int, quality: int = 86) -> bytes:
    """A preview with a long side of at most `side` pixels."""
    image = Image.fromarray(picture)
    image.thumbnail((side, side), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    image.save(out, "WEBP", quality=quality, method=0)
    return out.getvalue()
